import {
  anchored,
  articulationOf,
  emptyPattern,
  findPattern,
  findPiece,
  findSection,
  MOST,
  nextDye,
  spanOver,
  type Pattern,
  type PieceId,
  type Place,
  type Section,
  type Song,
  type Span,
} from '../model';
import { placeHits } from '../pattern';
import type { Ticks } from '../time';
import { beginningOf } from './cutting';
import { guideStart } from './guideStart';
import { sectionTicks } from './sections';
import { freeId } from './shelf';

/** One thing that was done while a song was performed; ticks from where it began. */
export type Performed =
  | { at: Ticks; does: 'section'; section: string }
  /** A pattern, or some pieces of it, over what plays: until it is taken off. */
  | { at: Ticks; does: 'lay'; pattern: string; pieces?: readonly PieceId[] }
  | { at: Ticks; does: 'take off'; pattern: string }
  | { at: Ticks; does: 'mute' | 'unmute'; piece: PieceId }
  /** Strokes at one speed, from here until it is let go. */
  | { at: Ticks; does: 'roll'; piece: PieceId; every: Ticks; until?: Ticks };

/** A stretch in which something is laid over what plays. */
interface Over {
  from: Ticks;
  to: Ticks;
  pieces: Span['pieces'];
  pattern: string;
  /** Where in the pattern it begins. */
  offset: Ticks;
  /** What was done later lies on top, however long it lasts. */
  order: number;
}

/** No roll is faster than this. */
const FASTEST: Ticks = 60;

/** Whether a list says what was performed on a song, in the order it was done. */
export function isPerformance(value: unknown, song: Song): value is Performed[] {
  return (
    Array.isArray(value) &&
    value.length <= MOST.places &&
    value.every((one, i) => isPerformed(one, song) && (i === 0 || one.at >= value[i - 1].at))
  );
}

function isPerformed(value: unknown, song: Song): value is Performed {
  if (typeof value !== 'object' || value === null) return false;
  const { at, does, section, pattern, pieces, piece, every, until } = value as Record<
    string,
    unknown
  >;
  const isTick = (tick: unknown) => typeof tick === 'number' && tick >= 0 && tick <= 1e8;
  const isPiece = (id: unknown) => typeof id === 'string' && findPiece(id, song.kit) !== undefined;
  if (!isTick(at)) return false;
  switch (does) {
    case 'section':
      return typeof section === 'string';
    case 'lay':
      return (
        typeof pattern === 'string' &&
        (pieces === undefined || (Array.isArray(pieces) && pieces.every(isPiece)))
      );
    case 'take off':
      return typeof pattern === 'string';
    case 'mute':
    case 'unmute':
      return isPiece(piece);
    case 'roll':
      return (
        isPiece(piece) &&
        typeof every === 'number' &&
        every >= FASTEST &&
        every <= 3840 &&
        (until === undefined || isTick(until))
      );
    default:
      return false;
  }
}

/**
 * The song as it was performed, up to a tick: sections follow each other as they were called, each from
 * its start and over and over until the next; where one is left within a bar, that bar is a short one.
 * Patterns, rolls and silence are laid over the places they were played over.
 */
export function performedSong(song: Song, done: readonly Performed[], end: Ticks): Song {
  const laid = placesOf(song, done, end);
  if (laid.places.length === 0) return { ...song, places: [], sections: [], guides: [] };
  const { overs, patterns } = oversOf(song, done, end);
  const places = laid.places.map(({ place, from, to }): Place => {
    const overlay = overs.flatMap((over, i): Span[] => {
      const [first, last] = [Math.max(over.from, from), Math.min(over.to, to)];
      if (first >= last) return [];
      return [
        spanOver(over.pattern, `over-${i + 1}`, {
          role: 'change',
          ...anchored(first - from, last - from, to - from),
          pieces: over.pieces,
          offset: over.offset + (first - over.from),
        }),
      ];
    });
    return { ...place, overlay };
  });
  const guides = song.guides.map((guide) => {
    const { place: _, ...rest } = guide;
    return { ...rest, at: guideStart(song, guide) };
  });
  const played = new Set(places.map(({ section }) => section));
  return {
    ...song,
    guides,
    patterns: [...song.patterns, ...patterns],
    sections: laid.sections.filter(({ id }) => played.has(id)),
    places,
  };
}

interface LaidPart {
  place: Place;
  from: Ticks;
  to: Ticks;
}

/** The sections in the order they were called, cut where the next one came. */
function placesOf(
  song: Song,
  done: readonly Performed[],
  end: Ticks,
): { places: LaidPart[]; sections: Section[] } {
  const calls = done.filter(
    (one): one is Extract<Performed, { does: 'section' }> =>
      one.does === 'section' && findSection(song, one.section) !== undefined,
  );
  const places: LaidPart[] = [];
  const sections = [...song.sections];
  const cuts = new Map<string, string>();
  const start = calls[0]?.at ?? 0;
  calls.forEach((call, i) => {
    const section = findSection(song, call.section)!;
    const length = sectionTicks(section);
    const to = Math.min(calls[i + 1]?.at ?? end, end);
    for (let from = call.at; from < to && places.length < MOST.places; from += length) {
      const long = Math.min(length, to - from);
      let id = section.id;
      if (long < length) {
        const key = `${section.id} ${long}`;
        id = cuts.get(key) ?? freeId({ ...song, sections }, `${section.id}-cut`);
        if (!cuts.has(key)) {
          cuts.set(key, id);
          sections.push(beginningOf(section, long, id));
        }
      }
      places.push({
        place: { id: `performed-${places.length + 1}`, section: id, overlay: [] },
        from: from - start,
        to: from - start + long,
      });
    }
  });
  return { places, sections };
}

/** What was laid over the sections: patterns, rolls, and silence. */
function oversOf(song: Song, done: readonly Performed[], end: Ticks) {
  const overs: Over[] = [];
  const patterns: Pattern[] = [];
  const start = done.find(({ does }) => does === 'section')?.at ?? 0;
  const open = new Map<string, { from: Ticks; pieces: Span['pieces']; order: number }>();
  const muted = new Map<PieceId, { from: Ticks; order: number }>();
  let silence: Pattern | undefined;
  const rolls = new Map<string, Pattern>();
  const named = (base: string) =>
    freeId({ ...song, patterns: [...song.patterns, ...patterns] }, base);
  const close = (pattern: string, to: Ticks) => {
    const over = open.get(pattern);
    if (!over) return;
    open.delete(pattern);
    if (over.from < to) overs.push({ ...over, to, pattern, offset: 0 });
  };
  const unmute = (piece: PieceId, to: Ticks) => {
    const mute = muted.get(piece);
    muted.delete(piece);
    if (mute === undefined || mute.from >= to) return;
    if (!silence) {
      silence = {
        ...emptyPattern({ id: named('silence'), name: 'Silence', dye: 8 }),
        strands: [],
        local: true,
      };
      patterns.push(silence);
    }
    overs.push({ ...mute, to, pieces: [piece], pattern: silence.id, offset: 0 });
  };
  for (const [order, one] of done.entries()) {
    const at = one.at - start;
    if (one.does === 'lay' && findPattern(song, one.pattern)) {
      close(one.pattern, at);
      open.set(one.pattern, { from: at, pieces: one.pieces ? [...one.pieces] : 'all', order });
    } else if (one.does === 'take off') close(one.pattern, at);
    else if (one.does === 'mute' && !muted.has(one.piece))
      muted.set(one.piece, { from: at, order });
    else if (one.does === 'unmute') unmute(one.piece, at);
    else if (one.does === 'roll') {
      const to = Math.min(end - start, (one.until ?? Infinity) - start);
      if (to <= at) continue;
      const key = `${one.piece} ${one.every}`;
      let roll = rolls.get(key);
      if (!roll) {
        roll = rollOf(song, one.piece, one.every, named(`roll-${one.piece}`));
        rolls.set(key, roll);
        patterns.push(roll);
      }
      overs.push({ from: at, to, pieces: [one.piece], pattern: roll.id, offset: 0, order });
    }
  }
  for (const pattern of [...open.keys()]) close(pattern, end - start);
  for (const piece of [...muted.keys()]) unmute(piece, end - start);
  overs.sort((a, b) => a.order - b.order);
  return { overs, patterns };
}

/** A beat of even strokes, every other one a little softer, as two hands play them. */
function rollOf(song: Song, piece: PieceId, every: Ticks, id: string): Pattern {
  const beat = 960;
  const length = every > beat ? every : Math.round(beat / every) * every;
  const { id: articulation } = articulationOf(piece, '', song.kit);
  const empty: Pattern = {
    ...emptyPattern({ id, name: 'Roll', dye: nextDye(song) }),
    length,
    strands: [],
    local: true,
  };
  const strokes = Array.from({ length: Math.max(1, Math.round(length / every)) }, (_, i) => ({
    piece,
    hit: {
      id: `${id}-${i}`,
      at: i * every,
      push: 0,
      velocity: i % 2 === 0 ? 96 : 82,
      articulation,
    },
  }));
  return placeHits(empty, strokes, song.kit);
}
