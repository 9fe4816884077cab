import {
  anchored,
  findPattern,
  findStrand,
  nextDye,
  spanOver,
  type Hit,
  type Pattern,
  type PieceId,
  type Song,
  type Span,
} from '../model';
import { sameMusic, withHits } from '../pattern';
import { barAt, barNumber, type Ticks } from '../time';
import { withPlace, withSection } from './arrange';
import { changedRegions, type Region } from './changes';
import { laidPlaces, placeName, stackOf, type LaidPlace } from './sections';
import { freeId, isPlayed, withoutPatterns } from './shelf';
import { wovenOf, type HitSource, type Stretch, type Whose } from './woven';

/** How far an edit goes. */
export const REACHES = ['place', 'section', 'everywhere'] as const;
export type Reach = (typeof REACHES)[number];

/** Where an edit is made: a stretch of a place. */
export interface Spot extends Stretch {
  place: string;
}

/**
 * Changes what a stretch of a place plays, as far as the reach goes.
 *
 * - `place` writes the bars and pieces that changed into the overlay of the place, and no more.
 * - `section` writes them on top of the section's stack, so that all its places play them; what is laid
 *   over single places stays on top.
 * - `everywhere` changes the patterns that the hits come from, wherever they are played.
 *
 * @param change gets what the stretch plays, written out as one pattern, and gives it back otherwise
 * @returns the very same song where nothing changes; the reason where the change is refused
 */
export function editAt(
  song: Song,
  spot: Spot,
  reach: Reach,
  change: (woven: Pattern) => Pattern | string,
): Song | string {
  const laid = laidPlaces(song).find(({ place }) => place.id === spot.place);
  if (!laid) return song;
  const stretch = boundTo(laid, spot);
  if (stretch.from >= stretch.to) return song;
  const woven = wovenOf(song, laid, stretch, reach === 'section' ? 'section' : 'place');
  const after = change(woven.pattern);
  if (typeof after === 'string') return after;
  if (after === woven.pattern) return song;
  if (after.length !== woven.pattern.length) return KEEPS_LENGTH;
  return reach === 'everywhere'
    ? changedEverywhere(song, laid, stretch, woven, after)
    : writeOver(song, laid, stretch, after, reach);
}

const KEEPS_LENGTH =
  'A stretch of the song keeps its length. To make the pattern longer or shorter, edit it everywhere.';

function boundTo(laid: LaidPlace, { from, to }: Stretch): Stretch {
  return { from: Math.max(0, from), to: Math.min(laid.end - laid.start, to) };
}

/**
 * Lets a place, or a section in all its places, play a stretch as a woven pattern has it: what that
 * changes is laid over the rest, as bars and pieces. What was written there before is written anew, so
 * that taking a change back leaves nothing.
 */
export function writeOver(
  song: Song,
  laid: LaidPlace,
  stretch: Stretch,
  after: Pattern,
  whose: Whose,
): Song {
  const plain = withoutOwn(song, laid, stretch, whose);
  const below = relaid(plain.song, laid);
  const length = laid.end - laid.start;
  const before = wovenOf(plain.song, below, stretch, whose).pattern;
  const regions = changedRegions(before, after, barLines(laid, stretch));
  if (regions.length === 0) return withoutPatterns(plain.song, plain.patterns);
  const owner = whose === 'place' ? placeName(song, laid) : laid.section.name;
  const known = plain.patterns.length > 0 ? findPattern(song, plain.patterns[0]) : undefined;
  const pattern: Pattern = {
    ...only(after, regions),
    id: known?.id ?? freeId(song, `${laid.place.id}-change`),
    name: known?.name ?? `${after.name}, ${owner}`,
    kind: 'groove',
    dye: known?.dye ?? nextDye(song),
    local: true,
  };
  const spans = regions.map(({ from, to, pieces }, i): Span =>
    spanOver(pattern.id, `${pattern.id}-${i + 1}`, {
      role: 'change',
      ...anchored(stretch.from + from, stretch.from + to, length),
      pieces,
      offset: from,
    }),
  );
  const left = withoutPatterns(plain.song, plain.patterns);
  const shelved: Song = { ...left, patterns: putBack(song, left.patterns, pattern) };
  return whose === 'place'
    ? withPlace(shelved, laid.place.id, (place) => ({
        ...place,
        overlay: [...place.overlay, ...spans],
      }))
    : withSection(shelved, laid.section.id, (section) => ({
        ...section,
        spans: [...section.spans, ...spans],
      }));
}

/** A pattern goes where it was among the others, or to their end. */
function putBack(song: Song, patterns: readonly Pattern[], pattern: Pattern): Pattern[] {
  const index = song.patterns.findIndex(({ id }) => id === pattern.id);
  return index < 0
    ? [...patterns, pattern]
    : [...patterns.slice(0, index), pattern, ...patterns.slice(index)];
}

/** The song without what edits of this very stretch wrote there before, and what they wrote it into. */
function withoutOwn(
  song: Song,
  laid: LaidPlace,
  stretch: Stretch,
  whose: Whose,
): { song: Song; patterns: string[] } {
  const length = stretch.to - stretch.from;
  const own = new Set(
    stackOf(laid)
      .filter(({ span, overlay, from, offset }) => {
        const pattern = findPattern(song, span.pattern);
        return (
          overlay === (whose === 'place') &&
          pattern?.local === true &&
          from - offset === stretch.from &&
          pattern.length === length
        );
      })
      .map(({ span }) => span.pattern),
  );
  if (own.size === 0) return { song, patterns: [] };
  const others = (span: Span) => !own.has(span.pattern);
  const after =
    whose === 'place'
      ? withPlace(song, laid.place.id, (place) => ({
          ...place,
          overlay: place.overlay.filter(others),
        }))
      : withSection(song, laid.section.id, (section) => ({
          ...section,
          spans: section.spans.filter(others),
        }));
  // What another place plays too stays with it.
  return { song: after, patterns: [...own].filter((id) => !isPlayed(after, id)) };
}

/** The same place in a song that was changed but for its form. */
function relaid(song: Song, { place }: LaidPlace): LaidPlace {
  return laidPlaces(song).find((laid) => laid.place.id === place.id)!;
}

/** Where the bars of a stretch begin, counted from its start, and its end. */
function barLines({ section }: LaidPlace, { from, to }: Stretch): Ticks[] {
  const lines = [0];
  for (let { bar } = barAt(section.meters, from); ; bar++) {
    const { start } = barNumber(section.meters, bar + 1);
    if (start >= to) break;
    if (start > from) lines.push(start - from);
  }
  return [...lines, to - from];
}

/** The strokes of a pattern in some regions only. */
function only(pattern: Pattern, regions: readonly Region[]): Pattern {
  const strands = pattern.strands.flatMap((strand) => {
    const here = regions.filter(({ pieces }) => pieces.includes(strand.piece));
    if (here.length === 0) return [];
    const { from: _, ...rest } = strand;
    if (strand.loopTicks !== undefined) return [rest];
    return [
      {
        ...rest,
        hits: strand.hits.filter(({ at }) => here.some((r) => at >= r.from && at < r.to)),
      },
    ];
  });
  const { joined: _, groove: __, notes: ___, stars: ____, turns: _____, ...rest } = pattern;
  return { ...rest, strands };
}

/** Carries what changed of a stretch to the patterns its hits come from. */
function changedEverywhere(
  song: Song,
  laid: LaidPlace,
  stretch: Stretch,
  { pattern: before, sources }: { pattern: Pattern; sources: ReadonlyMap<string, HitSource> },
  after: Pattern,
): Song {
  const changed = new Map<string, Pattern>();
  const now = (id: string) => changed.get(id) ?? findPattern(song, id);
  const put = (pattern: Pattern) => changed.set(pattern.id, pattern);
  const hitsOf = (pattern: Pattern) =>
    new Map(
      pattern.strands.flatMap(({ piece, hits }) => hits.map((hit) => [hit.id, { piece, hit }])),
    );
  const [old, fresh] = [hitsOf(before), hitsOf(after)];
  for (const [id, next] of changesOfSources(song, old, fresh, sources))
    put(replaced(now(id)!, next, song));
  for (const [id, { piece, hit }] of fresh) {
    if (old.has(id)) continue;
    const home = ownerAt(song, laid, stretch.from + hit.at, piece);
    const pattern = home && now(home.pattern);
    if (!home || !pattern) continue;
    const strand = findStrand(pattern, piece)?.hits ?? [];
    const at = home.at % pattern.length;
    if (strand.some((other) => other.at === at)) continue;
    const taken = new Set(pattern.strands.flatMap(({ hits }) => hits.map((one) => one.id)));
    let n = 1;
    while (taken.has(`${piece}-${n}`)) n++;
    const hits = [...strand, { ...hit, id: `${piece}-${n}`, at }].sort((a, b) => a.at - b.at);
    put(withHits(pattern, piece, hits, song.kit));
  }
  const next = song.patterns.map((pattern) => {
    const other = changed.get(pattern.id);
    return other && !sameMusic(other, pattern) ? other : pattern;
  });
  return next.every((pattern, i) => pattern === song.patterns[i])
    ? song
    : { ...song, patterns: next };
}

/** A hit in its strand. */
interface Struck {
  piece: PieceId;
  hit: Hit;
}

/** The changed hits of a pattern by their ids, each as it is now; a removed hit is undefined. */
type Changes = Map<string, { from: PieceId; to: Struck | undefined }>;

/**
 * The changes of the hits that the copies in a stretch come from, by pattern. A pattern that goes round
 * several times in the stretch has several copies of a hit: the first that changed says what becomes of
 * it, so that nothing is done to it twice.
 */
function changesOfSources(
  song: Song,
  old: ReadonlyMap<string, Struck>,
  fresh: ReadonlyMap<string, Struck>,
  sources: ReadonlyMap<string, HitSource>,
): Map<string, Changes> {
  const byPattern = new Map<string, Changes>();
  for (const [id, { piece, hit }] of old) {
    const source = sources.get(id);
    const pattern = source && findPattern(song, source.pattern);
    if (!source || !pattern) continue;
    const next = fresh.get(id);
    if (next && next.piece === piece && next.hit === hit) continue;
    const changes: Changes = byPattern.get(pattern.id) ?? new Map();
    byPattern.set(pattern.id, changes);
    if (changes.has(source.hit)) continue;
    const to = next && movedLike(pattern, source.hit, piece, hit, next);
    changes.set(source.hit, { from: piece, to });
  }
  return byPattern;
}

/** A hit of a pattern, changed as its copy in the stretch was. */
function movedLike(
  pattern: Pattern,
  id: string,
  piece: PieceId,
  before: Hit,
  { piece: onto, hit }: Struck,
): Struck | undefined {
  const own = findStrand(pattern, piece)?.hits.find((one) => one.id === id);
  if (!own) return undefined;
  const at = (((own.at + hit.at - before.at) % pattern.length) + pattern.length) % pattern.length;
  const push = own.push + hit.push - before.push;
  return { piece: onto, hit: { ...hit, id, at, push, ...(own.cycle && { cycle: own.cycle }) } };
}

/**
 * A pattern with what became of its hits. They are all taken out before any is put where it goes, so that
 * one which moves does not take the step of another that moves on. One that comes where a hit stays takes
 * its place.
 */
function replaced(pattern: Pattern, changes: Changes, song: Song): Pattern {
  const pieces = new Set<PieceId>();
  for (const { from, to } of changes.values()) {
    pieces.add(from);
    if (to) pieces.add(to.piece);
  }
  return [...pieces].reduce((now, piece) => {
    const coming = [...changes.values()].flatMap(({ to }) => (to?.piece === piece ? [to.hit] : []));
    const taken = new Set(coming.map(({ at }) => at));
    const staying = (findStrand(now, piece)?.hits ?? []).filter(
      (hit) => !changes.has(hit.id) && !taken.has(hit.at),
    );
    const once = coming.filter((hit, i) => coming.findIndex(({ at }) => at === hit.at) === i);
    const hits = [...staying, ...once].sort((a, b) => a.at - b.at);
    return withHits(now, piece, hits, song.kit);
  }, pattern);
}

/** The pattern that a new stroke of a piece belongs to at a tick of a place, and where in it. */
function ownerAt(
  song: Song,
  laid: LaidPlace,
  tick: Ticks,
  piece: PieceId,
): { pattern: string; at: Ticks } | undefined {
  const here = stackOf(laid).filter(({ from, to }) => tick >= from && tick < to);
  const lies =
    here.findLast(({ span }) => span.pieces !== 'all' && span.pieces.includes(piece)) ??
    here.findLast(({ span }) => span.pieces === 'all');
  if (!lies || !findPattern(song, lies.span.pattern)) return undefined;
  return { pattern: lies.span.pattern, at: tick - lies.from + lies.offset };
}

/**
 * Makes a pattern the section's own before it is changed there: where other sections or places of other
 * sections play it too, the section gets a copy under another name.
 * @returns the song, and the pattern that is to be changed in it
 */
export function ownOfSection(
  song: Song,
  sectionId: string,
  patternId: string,
): { song: Song; pattern: string } {
  const pattern = findPattern(song, patternId);
  const section = song.sections.find(({ id }) => id === sectionId);
  const plays = ({ pattern: id }: Span) => id === patternId;
  const elsewhere =
    song.sections.some(({ id, spans }) => id !== sectionId && spans.some(plays)) ||
    song.places.some((place) => place.section !== sectionId && place.overlay.some(plays));
  if (!pattern || !section || !elsewhere) return { song, pattern: patternId };
  const copy: Pattern = {
    ...pattern,
    id: freeId(song, `${patternId}-${sectionId}`),
    name: `${pattern.name}, ${section.name}`,
    dye: nextDye(song),
  };
  const moved = (spans: Span[]) =>
    spans.some(plays) ? spans.map((s) => (plays(s) ? { ...s, pattern: copy.id } : s)) : spans;
  const index = song.patterns.indexOf(pattern) + 1;
  return {
    pattern: copy.id,
    song: {
      ...song,
      patterns: [...song.patterns.slice(0, index), copy, ...song.patterns.slice(index)],
      sections: song.sections.map((one) =>
        one === section && section.spans.some(plays) ? { ...one, spans: moved(one.spans) } : one,
      ),
      places: song.places.map((place) =>
        place.section === sectionId && place.overlay.some(plays)
          ? { ...place, overlay: moved(place.overlay) }
          : place,
      ),
    },
  };
}

/** The places that an edit would change, in the order of the song. */
export function placesReached(
  song: Song,
  spot: Pick<Spot, 'place'> & { pattern?: string },
  reach: Reach,
): string[] {
  const here = song.places.find(({ id }) => id === spot.place);
  if (!here) return [];
  if (reach === 'place') return [here.id];
  if (reach === 'section') {
    return song.places.filter(({ section }) => section === here.section).map(({ id }) => id);
  }
  const section = song.sections.find(({ id }) => id === here.section);
  const wanted = spot.pattern
    ? new Set([spot.pattern])
    : new Set([...(section?.spans ?? []), ...here.overlay].map(({ pattern }) => pattern));
  const plays = ({ pattern }: Span) => wanted.has(pattern);
  const playing = new Set(
    song.sections.filter(({ spans }) => spans.some(plays)).map(({ id }) => id),
  );
  return song.places
    .filter(({ section: id, overlay }) => playing.has(id) || overlay.some(plays))
    .map(({ id }) => id);
}

/** The name of each reach. */
export const REACH_NAMES: Readonly<Record<Reach, string>> = {
  place: 'here only',
  section: 'all linked',
  everywhere: 'everywhere',
};
