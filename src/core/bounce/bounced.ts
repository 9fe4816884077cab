import {
  BOUNCED,
  emptyPattern,
  findPattern,
  freeSounds,
  isBounce,
  layoutOf,
  MAX_BARS,
  MOST_LAYERS,
  nextDye,
  spanOver,
  trackOfHit,
  type Hit,
  type KitPiece,
  type Pattern,
  type PieceId,
  type SampleHash,
  type SampleLayer,
  type Song,
  type StripSetting,
} from '../model';
import { stretchLayer } from '../loops';
import { placeHits } from '../pattern';
import { barNumber, barTicks, type Hertz, type Samples, type Ticks } from '../time';
import { heardBy, setStrip, stripsOf, withoutPiece, withPieces } from '../tracks';
import {
  laidPlaces,
  placeName,
  sectionTicks,
  tempoOfSong,
  timeline,
  type LaidPlace,
  type TimedHit,
} from '../weave';
import { turnedRound, type Stretch } from './stretches';

/** The rate of everything that is kept and played. */
const RATE: Hertz = 48_000;

/** What was rendered of a place, as it is taken back into the song. */
export interface Bounce {
  /** The id of the new pattern, its piece and its span. */
  id: string;
  place: string;
  /** What was on this track of the layout in use; absent is all. */
  track?: string;
  hash: SampleHash;
  frames: Samples;
  /** So long before its place the sound begins: what is played early does. */
  lead: Ticks;
}

/** The hits of a place that are on a track, or all; and the pieces that play them. */
export function bouncedHits(song: Song, { place, track }: Pick<Bounce, 'place' | 'track'>) {
  const layout = layoutOf(song);
  const here = timeline(song).filter((hit) => hit.place === place);
  const isOwn = (hit: TimedHit) =>
    track === undefined || trackOfHit(layout, song.kit, hit) === track;
  const hits = here.filter(isOwn);
  const pieces = new Set(hits.map(({ piece }) => piece));
  /** A piece of which other ways of striking it are on another track. */
  const divided = here.find((hit) => pieces.has(hit.piece) && !isOwn(hit))?.piece;
  return { hits, pieces, divided };
}

/** What a bounced place, or track of it, is called. */
export function bouncedName(song: Song, { place, track }: Pick<Bounce, 'place' | 'track'>): string {
  const laid = laidPlaces(song).find((one) => one.place.id === place);
  const where = laid ? placeName(song, laid) : '';
  const called = layoutOf(song).tracks.find(({ id }) => id === track)?.name;
  return called === undefined ? `${where}, bounced` : `${called}, ${where}, bounced`;
}

/** Why a place, or a track in it, cannot become a sound. */
export function whyNotBounced(song: Song, of: Pick<Bounce, 'place' | 'track'>): string | undefined {
  const laid = laidPlaces(song).find(({ place }) => place.id === of.place);
  if (!laid) return 'Choose a section first: press its header.';
  if (barsFor(laid) > MAX_BARS) {
    return `A pattern has ${MAX_BARS} bars at most: split the section first, and bounce its parts.`;
  }
  const { hits, divided } = bouncedHits(song, of);
  if (hits.length === 0) return 'Nothing is struck there: there is nothing to bounce.';
  if (divided !== undefined) {
    const name = song.kit.pieces.find(({ id }) => id === divided)?.name ?? divided;
    return `Other strokes of the same piece (${name}) are on another track: choose a layout in Balance that keeps it together, and bounce it then.`;
  }
  const past = stripsIn(song, of).find(({ dry = 0 }) => dry > 0);
  if (past) {
    const name = layoutOf(song).tracks.find(({ id }) => id === past.track)?.name ?? past.track;
    return `Some of ${name} goes dry beside the drum bus, and its room does not: a sound goes one way. Set its “parallel, dry” to 0 % in Balance, and bounce it then.`;
  }
  if (freeSounds(song.kit, 1) === undefined) return 'The kit has no room for one more sound.';
  return undefined;
}

/** The strips of what is bounced. */
function stripsIn(song: Song, { place, track }: Pick<Bounce, 'place' | 'track'>): StripSetting[] {
  const inIt = new Set(
    track === undefined
      ? bouncedHits(song, { place }).hits.map((hit) => trackOfHit(layoutOf(song), song.kit, hit))
      : [track],
  );
  return stripsOf(song).filter((strip) => inIt.has(strip.track));
}

/** The bars of a pattern, in the first meter of a section, that lasts as long as it. */
function barsFor({ section }: LaidPlace): number {
  return Math.ceil(sectionTicks(section) / barTicks(barNumber(section.meters, 0).meter));
}

/**
 * Puts what was rendered of a place into it: a piece that has the sound, a pattern that strikes it once, and over
 * the place a span that plays it instead of what is in it. That stays below: it is heard again when the span is
 * taken away.
 */
export function layBounce(song: Song, bounce: Bounce): Song | string {
  const { id, place, track, hash, frames, lead } = bounce;
  const why = whyNotBounced(song, bounce);
  if (why !== undefined) return why;
  const taken =
    findPattern(song, id) !== undefined || song.kit.pieces.some((piece) => piece.id === id);
  if (taken || frames < 1) return song;
  const laid = laidPlaces(song).find((one) => one.place.id === place)!;
  const { pieces } = bouncedHits(song, bounce);
  const name = bouncedName(song, bounce);
  const piece = pieceOf(song, { id, name, hash }, [{ from: 0, to: frames }]);
  const after = onTrackOfItsOwn(withPieces(song, [piece]), bounce, song);
  const { meter } = barNumber(laid.section.meters, 0);
  const empty = emptyPattern({ id, name, bars: barsFor(laid), meter, dye: nextDye(song) });
  const pattern = struckIn(empty, after, laid, piece, lead);
  const span = spanOver(id, id, {
    role: 'change',
    pieces: track === undefined ? 'all' : [...pieces, id],
  });
  return {
    ...after,
    patterns: [...after.patterns, pattern],
    places: after.places.map((one) =>
      one.id === place ? { ...one, overlay: [...one.overlay, span] } : one,
    ),
  };
}

/**
 * The strip of a bounce: all is in its sound but whether it is heard at all, and the output, where everything in
 * it has the same.
 */
function onTrackOfItsOwn(song: Song, { id, place, track }: Bounce, before: Song): Song {
  const strips = stripsOf(before);
  const outputs = new Set(stripsIn(before, { place, track }).map(({ output }) => output));
  const heard = heardBy(song);
  const here = bouncedHits(song, { place, track }).hits;
  const mute = track !== undefined && heard !== undefined && !here.some(heard);
  const after = setStrip(song, id, {
    ...(outputs.size === 1 && { output: [...outputs][0] }),
    solo: strips.some(({ solo }) => solo) && !mute,
    mute,
  });
  return typeof after === 'string' ? song : after;
}

/** The piece that sounds as the stretches of a file, one after another. */
function pieceOf(
  song: Song,
  { id, name, hash }: { id: PieceId; name: string; hash: SampleHash },
  stretches: readonly Stretch[],
  first = freeSounds(song.kit, stretches.length)!,
): KitPiece {
  const ways = stretches.map((_, n) => `${BOUNCED}-${n + 1}`);
  return {
    id,
    name,
    family: 'other',
    articulations: ways.map((way, n) => ({
      id: way,
      name: stretches.length === 1 ? 'all' : `part ${n + 1}`,
      note: 39,
      head: 'triangle',
      sound: first + n,
    })),
    level: 1,
    pan: 0,
    filters: [],
    room: 0,
    design: {
      bare: true,
      layers: stretches.map(({ from, to, reverse }, n): SampleLayer => ({
        ...stretchLayer(ways[n], { hash, name }, { from, to, velocity: 127 }, name),
        ...(reverse && { reverse }),
      })),
    },
  };
}

/** The pattern with a stroke where each stretch of the sound begins, to the sample. */
function struckIn(
  pattern: Pattern,
  song: Song,
  { start }: LaidPlace,
  piece: KitPiece,
  lead: Ticks,
): Pattern {
  const tempo = tempoOfSong(song);
  const begins = Math.round(tempo.secondsAt(start - lead) * RATE);
  const step = pattern.step;
  let at = 0;
  const hits = layersOf(piece).map((layer, n): { piece: PieceId; hit: Hit } => {
    const tick = tempo.tickAt((begins + at) / RATE) - start;
    at += layer.end! - layer.start;
    const home = Math.max(0, Math.min(Math.round(tick / step) * step, pattern.length - step));
    const push = n === 0 ? -lead : tick - home;
    const articulation = piece.articulations[n].id;
    return {
      piece: piece.id,
      hit: { id: `${pattern.id}-${n + 1}`, at: home, push, velocity: 127, articulation },
    };
  });
  return placeHits({ ...pattern, strands: [] }, hits, song.kit);
}

const layersOf = (piece: KitPiece): SampleLayer[] =>
  (piece.design?.layers ?? []).filter((layer): layer is SampleLayer => layer.from === 'files');

/** A sound that was bounced in a place, with what plays it. */
export interface BouncedHere {
  pattern: Pattern;
  piece: KitPiece;
  laid: LaidPlace;
}

/** What was bounced in a place, the newest last. */
export function bouncesIn(song: Song, place: string): BouncedHere[] {
  const laid = laidPlaces(song).find((one) => one.place.id === place);
  return (laid?.place.overlay ?? []).flatMap(({ pattern: id }) => {
    const pattern = findPattern(song, id);
    const piece = song.kit.pieces.find((one) => one.id === id);
    return pattern && piece && isBounce(piece) ? [{ pattern, piece, laid: laid! }] : [];
  });
}

/**
 * Takes a bounced sound out of a place: what is in it is heard again. Where nothing else plays it, its pattern and
 * its piece go too.
 */
export function takeBounceBack(song: Song, place: string, id: string): Song | string {
  if (!bouncesIn(song, place).some(({ pattern }) => pattern.id === id)) {
    return 'This sound is not in this section any more.';
  }
  const places = song.places.map((one) =>
    one.id === place
      ? { ...one, overlay: one.overlay.filter(({ pattern }) => pattern !== id) }
      : one,
  );
  const after: Song = { ...song, places };
  const used =
    places.some(({ overlay }) => overlay.some(({ pattern }) => pattern === id)) ||
    song.sections.some(({ spans }) => spans.some(({ pattern }) => pattern === id)) ||
    song.patterns.some(
      (pattern) => pattern.id !== id && pattern.strands.some(({ piece }) => piece === id),
    );
  if (used) return after;
  const patterns = song.patterns.filter((pattern) => pattern.id !== id);
  return withoutPiece({ ...after, patterns }, id);
}

/**
 * Has some bars of a bounced sound heard backwards; the same bars once more are forwards again.
 * @param from the first bar of the place, counted from 0
 * @param to the bar after the last
 */
export function reverseBounced(
  song: Song,
  { place, pattern: id, from, to }: { place: string; pattern: string; from: number; to: number },
): Song | string {
  const found = bouncesIn(song, place).find(({ pattern }) => pattern.id === id);
  if (!found) return 'This sound is not in this section any more.';
  const { laid, piece, pattern } = found;
  const { section, start } = laid;
  if (from >= to || to > section.bars) return 'Choose bars of this section.';
  const lead = -(pattern.strands[0]?.hits[0]?.push ?? 0);
  const tempo = tempoOfSong(song);
  const begins = Math.round(tempo.secondsAt(start - lead) * RATE);
  const sampleOf = (bar: number) => {
    const at = bar < section.bars ? barNumber(section.meters, bar).start : sectionTicks(section);
    return Math.round(tempo.secondsAt(start + at) * RATE) - begins;
  };
  const layers = layersOf(piece);
  const before = layers.map(({ start: a, end, reverse }): Stretch => ({
    from: a,
    to: end!,
    ...(reverse && { reverse }),
  }));
  const after = turnedRound(before, from === 0 ? 0 : sampleOf(from), sampleOf(to));
  if (after.length > MOST_LAYERS) return 'It is cut into too many parts already.';
  const first = piece.articulations[0].sound!;
  const hasRoom = after.length <= before.length || freeSounds(song.kit, after.length) !== undefined;
  if (!hasRoom) return 'The kit has no room for so many more sounds.';
  const [{ hash }] = layers[0].files;
  const cut = pieceOf(
    song,
    { id, name: piece.name, hash },
    after,
    after.length <= before.length ? first : undefined,
  );
  const kit = {
    ...song.kit,
    pieces: song.kit.pieces.map((one) => (one.id === id ? { ...one, ...cut } : one)),
  };
  const next: Song = { ...song, kit };
  const struck = struckIn({ ...pattern, strands: [] }, next, laid, cut, lead);
  return {
    ...withPieces(next, []),
    patterns: song.patterns.map((one) => (one.id === id ? struck : one)),
  };
}
