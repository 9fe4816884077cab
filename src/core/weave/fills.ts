import {
  emptyPattern,
  findPattern,
  findPlace,
  findSection,
  pieceOf,
  placeOfSpan,
  spanOver,
  type Pattern,
  type PieceId,
  type Place,
  type Song,
  type Span,
} from '../model';
import { placeHits } from '../pattern';
import { PPQ, type Ticks } from '../time';
import { addOverlay, addSpan, withPlace, withSection } from './arrange';
import { laidPlaces, sectionTicks, stackOf, type LaidPlace } from './sections';
import { freeId, swept } from './shelf';
import type { Whose } from './woven';

/** What becomes of the pieces that a fill does not play. */
export const OTHERS = ['silent', 'time goes on', 'all go on'] as const;
export type Others = (typeof OTHERS)[number];

export interface Filling {
  place: string;
  pattern: string;
  /** Over this place only, or in its section. */
  whose: Whose;
  others: Others;
  /** Ticks from the start of the place where it begins; absent is so that it ends with the place. */
  from?: Ticks;
  /** How much of it is played: its last part where it ends with the place. Absent is all of it. */
  length?: Ticks;
  /** Hands a crash to the downbeat of what comes next. */
  crash: boolean;
}

/** Families that keep time. */
const TIMEKEEPING: readonly string[] = ['cymbals', 'hats'];

/** Lays a fill over a place or a section. @param spanId a name that no span has */
export function fillIn(song: Song, filling: Filling, spanId: string): Song {
  const laid = laidPlaces(song).find(({ place }) => place.id === filling.place);
  const pattern = findPattern(song, filling.pattern);
  if (!laid || !pattern) return song;
  const whole = laid.end - laid.start;
  const length = Math.min(filling.length ?? pattern.length, whole);
  const atEnd = filling.from === undefined || filling.from + length >= whole;
  const from = Math.max(0, atEnd ? whole - length : filling.from!);
  const span = spanOver(pattern.id, spanId, {
    role: 'fill',
    ...(atEnd
      ? { anchor: 'end', from: from - whole, to: 0 }
      : { anchor: 'start', from, to: from + length }),
    pieces: piecesOfFill(song, laid, pattern, filling.others),
    // Of a fill that is cut, the end is heard: it leads to what comes next.
    offset: length < pattern.length && atEnd ? pattern.length - length : 0,
  });
  const next =
    filling.whose === 'place'
      ? addOverlay(song, laid.place.id, span)
      : addSpan(song, laid.section.id, span);
  return filling.crash ? withCrashAfter(next, laid, filling.whose) : next;
}

function piecesOfFill(
  song: Song,
  laid: LaidPlace,
  pattern: Pattern,
  others: Others,
): Span['pieces'] {
  if (others === 'silent') return 'all';
  const own = pattern.strands.filter(({ hits }) => hits.length > 0).map(({ piece }) => piece);
  if (others === 'all go on') return own;
  const there = stackOf(laid).flatMap(({ span }) =>
    (findPattern(song, span.pattern)?.strands ?? []).map(({ piece }) => piece),
  );
  const silent = there.filter((piece) => !TIMEKEEPING.includes(pieceOf(piece, song.kit).family));
  return [...new Set([...own, ...silent])];
}

/** The crash of the kit; undefined where it has none. */
function crashOf(song: Song): PieceId | undefined {
  const cymbals = song.kit.pieces.filter(({ family }) => family === 'cymbals');
  return (cymbals.find(({ id }) => id.startsWith('crash')) ?? cymbals[0])?.id;
}

/** A crash on the downbeat of what comes behind a place, or behind every place of its section. */
function withCrashAfter(song: Song, { place, section }: LaidPlace, whose: Whose): Song {
  const crash = crashOf(song);
  if (!crash) return song;
  const behind = song.places.filter((_, i) => {
    const before = song.places[i - 1];
    return before && (whose === 'place' ? before.id === place.id : before.section === section.id);
  });
  const bare = behind.filter(({ id }) => !hasOnDownbeat(song, id, crash));
  if (bare.length === 0) return song;
  const known = song.patterns.find(
    ({ local, strands, length }) =>
      local && length === PPQ && strands.length === 1 && strands[0].piece === crash,
  );
  const made = known ?? crashPattern(song, crash);
  const there = known ? song : { ...song, patterns: [...song.patterns, made] };
  return bare.reduce(
    (now, { id }) =>
      addOverlay(
        now,
        id,
        spanOver(made.id, freeId(now, `${id}-crash`), {
          role: 'change',
          anchor: 'start',
          from: 0,
          to: PPQ,
          pieces: [crash],
          mode: 'add',
        }),
      ),
    there,
  );
}

function hasOnDownbeat(song: Song, placeId: string, piece: PieceId): boolean {
  const laid = laidPlaces(song).find(({ place }) => place.id === placeId);
  return (
    laid !== undefined &&
    stackOf(laid).some(({ span, from, offset }) => {
      if (from > 0 || (span.pieces !== 'all' && !span.pieces.includes(piece))) return false;
      const pattern = findPattern(song, span.pattern);
      const strand = pattern?.strands.find((one) => one.piece === piece);
      return strand?.hits.some(({ at }) => at === offset % pattern!.length) ?? false;
    })
  );
}

function crashPattern(song: Song, crash: PieceId): Pattern {
  const id = freeId(song, 'crash-on-one');
  const empty = {
    ...emptyPattern({ id, name: 'Crash on one', dye: 11 }),
    length: PPQ,
    strands: [],
    local: true as const,
  };
  const [{ id: articulation }] = pieceOf(crash, song.kit).articulations;
  const hit = { id: `${id}-1`, at: 0, push: 0, velocity: 112, articulation };
  return placeHits(empty, [{ piece: crash, hit }], song.kit);
}

/** Whose stack a span lies in, and which one it is. */
export interface SpanAddress {
  of: 'section' | 'place';
  id: string;
  span: string;
}

/** The span with an address, and how long what it lies in is. */
export function findSpan(
  song: Song,
  { of, id, span }: SpanAddress,
): { span: Span; length: Ticks } | undefined {
  const place = of === 'place' ? findPlace(song, id) : undefined;
  const section = findSection(song, place ? place.section : id);
  const list = of === 'place' ? place?.overlay : section?.spans;
  const found = list?.find((one) => one.id === span);
  return found && section ? { span: found, length: sectionTicks(section) } : undefined;
}

/**
 * Slides a span, or moves one of its ends. What holds on to the end keeps doing so, and keeps its
 * distance from there. When its beginning moves alone, less or more of its pattern's beginning is heard.
 * @param from ticks from the start of the section; bounded to it, and at least an eighth of a beat long
 */
export function reshapeSpan(song: Song, address: SpanAddress, from: Ticks, to: Ticks): Song {
  const found = findSpan(song, address);
  const lies = found && placeOfSpan(found.span, found.length);
  const pattern = found && findPattern(song, found.span.pattern);
  if (!found || !lies || !pattern) return song;
  const { span, length } = found;
  const first = Math.max(0, Math.min(from, length - SHORTEST));
  const last = Math.min(length, Math.max(to, first + SHORTEST));
  if (first === lies.from && last === lies.to) return song;
  const onlyBegins = last === lies.to && first !== lies.from;
  const offset = onlyBegins ? lies.offset + (first - lies.from) : lies.offset;
  const held =
    span.anchor === 'end' || (span.anchor === 'whole' && first > 0)
      ? { anchor: 'end' as const, from: first - length, to: last - length }
      : first <= 0 && last >= length
        ? { anchor: 'whole' as const, from: 0, to: 0 }
        : { anchor: 'start' as const, from: first, to: last };
  const period = pattern.length;
  const after: Span = { ...span, ...held, offset: ((offset % period) + period) % period };
  return withSpan(song, address, after);
}

const SHORTEST: Ticks = PPQ / 8;

/** Puts a changed span in the place of the one with its address. */
export function withSpan(song: Song, { of, id, span }: SpanAddress, after: Span): Song {
  const put = (list: Span[]) => list.map((one) => (one.id === span ? after : one));
  return of === 'place'
    ? withPlace(song, id, (place) => ({ ...place, overlay: put(place.overlay) }))
    : withSection(song, id, (section) => ({ ...section, spans: put(section.spans) }));
}

/** What else a span can be given: which pieces it takes over, and whether others below go on. */
export type SpanChange = Partial<Pick<Span, 'pieces' | 'mode'>>;

export function changeSpan(song: Song, address: SpanAddress, change: SpanChange): Song {
  const found = findSpan(song, address);
  if (!found) return song;
  const { pieces = found.span.pieces, mode = found.span.mode } = change;
  const same =
    mode === found.span.mode && JSON.stringify(pieces) === JSON.stringify(found.span.pieces);
  return same ? song : withSpan(song, address, { ...found.span, pieces, mode });
}

/** The name of the pattern that is silence: it takes pieces over and strikes none. */
const SILENCE = 'silence';

/**
 * Silences pieces in a stretch of a place or section: what lies below is there again once the silence
 * is taken out.
 */
export function silence(
  song: Song,
  {
    place,
    from,
    to,
    pieces,
    whose,
  }: { place: string; from: Ticks; to: Ticks; pieces: Span['pieces']; whose: Whose },
  spanId: string,
): Song {
  const laid = laidPlaces(song).find((one) => one.place.id === place);
  if (!laid) return song;
  const length = laid.end - laid.start;
  const [first, last] = [Math.max(0, from), Math.min(length, to)];
  if (first >= last || (pieces !== 'all' && pieces.length === 0)) return song;
  const known = song.patterns.find(
    ({ local, drafted, strands }) =>
      local && !drafted && strands.every(({ hits }) => hits.length === 0),
  );
  const made: Pattern = known ?? {
    ...emptyPattern({ id: freeId(song, SILENCE), name: 'Silence', dye: 8 }),
    strands: [],
    local: true,
  };
  const there = known ? song : { ...song, patterns: [...song.patterns, made] };
  const span = spanOver(made.id, spanId, {
    role: 'change',
    ...(last < length
      ? { anchor: 'start', from: first, to: last }
      : first > 0
        ? { anchor: 'end', from: first - length, to: 0 }
        : { anchor: 'whole', from: 0, to: 0 }),
    pieces,
  });
  const after =
    whose === 'place' ? addOverlay(there, place, span) : addSpan(there, laid.section.id, span);
  return after === there ? song : after;
}

/** Takes a span out; a change that nothing else plays goes to the offcuts. */
export function takeOut(song: Song, { of, id, span }: SpanAddress): Song {
  const without = (list: Span[]) => list.filter((one) => one.id !== span);
  if (!findSpan(song, { of, id, span })) return song;
  return swept(
    of === 'place'
      ? withPlace(song, id, (place) => ({ ...place, overlay: without(place.overlay) }))
      : withSection(song, id, (section) => ({ ...section, spans: without(section.spans) })),
  );
}

/**
 * Takes all that a section plays out of it and its places; changes that nothing else plays go to the offcuts,
 * patterns stay on the shelf. What is locked stays where it is.
 */
export function emptySection(song: Song, id: string): Song {
  const section = findSection(song, id);
  const isFull = (place: Place) =>
    place.section === id && !place.locked && place.overlay.length > 0;
  if (!section || section.locked) return song;
  if (section.spans.length === 0 && !song.places.some(isFull)) return song;
  return swept({
    ...withSection(song, id, (one) => ({ ...one, spans: [] })),
    places: song.places.map((place) => {
      if (!isFull(place)) return place;
      const { drafted: _, ...rest } = place;
      return { ...rest, overlay: [] };
    }),
  });
}
