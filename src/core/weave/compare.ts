import {
  byStaffOrder,
  findPattern,
  findSection,
  nextDye,
  type Pattern,
  type PieceId,
  type Section,
  type Song,
  type Span,
} from '../model';
import { freeIds, placeHits, removeHits, sameMusic } from '../pattern';
import { changedRegions } from './changes';
import { barLinesOf } from './links';
import { laidPlaces, placeName, type LaidPlace } from './sections';
import { freeId } from './shelf';
import { editAt } from './reach';
import { wovenOf } from './woven';

/** A place in two songs: one of the two is missing where only one has it. */
export interface ComparedPlace {
  /** What it is called, in the song that has it. */
  name: string;
  here?: LaidPlace;
  there?: LaidPlace;
  /** Pieces that are played otherwise, and in how many bars. */
  pieces: { piece: PieceId; bars: number }[];
  /** Length, meter or tempo are others. */
  frame: boolean;
}

/** A pattern in two songs. */
export interface ComparedPattern {
  name: string;
  here?: Pattern;
  there?: Pattern;
}

/** What two songs have otherwise, in the order of the first and then of the second. */
export interface Compared {
  places: ComparedPlace[];
  patterns: ComparedPattern[];
  /** How many places are the same. */
  same: number;
  /** The order of the places is another. */
  order: boolean;
}

/**
 * Compares two songs, or two states of one: place by place and piece by piece, by what is heard. Places
 * belong together by their ids, or else by name, the first of a name with the first.
 */
export function compareSongs(here: Song, there: Song): Compared {
  const mine = laidPlaces(here);
  const theirs = laidPlaces(there);
  const pairs = paired(here, mine, there, theirs);
  const places = pairs.flatMap(([a, b]): ComparedPlace[] => {
    const name = a ? placeName(here, a) : placeName(there, b!);
    if (!a || !b)
      return [{ name, ...(a && { here: a }), ...(b && { there: b }), pieces: [], frame: true }];
    const frame =
      a.section.bars !== b.section.bars ||
      JSON.stringify([a.section.meters, a.tempos]) !== JSON.stringify([b.section.meters, b.tempos]);
    const pieces = differingPieces(here, a, there, b);
    return frame || pieces.length > 0 ? [{ name, here: a, there: b, pieces, frame }] : [];
  });
  const kept = (pair: (typeof pairs)[number]) => pair[0] && pair[1];
  const order = pairs.filter(kept).map(([, b]) => b!.index);
  return {
    places,
    patterns: comparedPatterns(here, there),
    same: pairs.filter(kept).length - places.filter(({ here: a, there: b }) => a && b).length,
    order: order.some((index, i) => i > 0 && index < order[i - 1]),
  };
}

function paired(
  here: Song,
  mine: readonly LaidPlace[],
  there: Song,
  theirs: readonly LaidPlace[],
): [LaidPlace | undefined, LaidPlace | undefined][] {
  const left = new Set(theirs);
  const byId = new Map(theirs.map((laid) => [laid.place.id, laid]));
  const found = mine.map((laid): [LaidPlace, LaidPlace | undefined] => {
    const other = byId.get(laid.place.id);
    if (other) left.delete(other);
    return [laid, other];
  });
  for (const pair of found) {
    if (pair[1]) continue;
    const other = [...left].find(
      (one) => placeName(there, one).toLowerCase() === placeName(here, pair[0]).toLowerCase(),
    );
    if (other) {
      pair[1] = other;
      left.delete(other);
    }
  }
  return [...found, ...[...left].map((one): [undefined, LaidPlace] => [undefined, one])];
}

function differingPieces(here: Song, a: LaidPlace, there: Song, b: LaidPlace) {
  const length = Math.max(a.end - a.start, b.end - b.start);
  const [one, other] = [
    wovenOf(here, a, { from: 0, to: length }, 'place').pattern,
    wovenOf(there, b, { from: 0, to: length }, 'place').pattern,
  ];
  const lines = barLinesOf(a.end - a.start >= b.end - b.start ? a.section : b.section);
  const bars = new Map<PieceId, number>();
  for (const { from, to, pieces } of changedRegions(one, other, lines)) {
    const count = lines.filter((line) => line >= from && line < to).length;
    for (const piece of pieces) bars.set(piece, (bars.get(piece) ?? 0) + count);
  }
  return [...bars].map(([piece, count]) => ({ piece, bars: count }));
}

function comparedPatterns(here: Song, there: Song): ComparedPattern[] {
  const theirs = new Map(there.patterns.map((pattern) => [pattern.id, pattern]));
  const shown = ({ local }: Pattern) => !local;
  const changed = here.patterns.filter(shown).flatMap((pattern): ComparedPattern[] => {
    const other = theirs.get(pattern.id);
    theirs.delete(pattern.id);
    if (!other) return [{ name: pattern.name, here: pattern }];
    return sameMusic(pattern, other) ? [] : [{ name: pattern.name, here: pattern, there: other }];
  });
  const only = [...theirs.values()].filter(shown);
  return [...changed, ...only.map((pattern) => ({ name: pattern.name, there: pattern }))];
}

/** The whole of another state of a song; which song it is, and what lies aside, stays. */
export function broughtBack(song: Song, other: Song): Song {
  return { ...other, id: song.id, name: song.name, offcuts: song.offcuts };
}

/**
 * Brings one place of another state back: its section with all it plays, and what is laid over the
 * place. A place that is gone comes back behind the one it stood behind, or first.
 */
export function broughtPlace(song: Song, other: Song, placeId: string): Song {
  const theirs = laidPlaces(other).find(({ place }) => place.id === placeId);
  if (!theirs) return song;
  const { song: ready, idOf } = withPatternsOf(song, other, [
    ...theirs.section.spans,
    ...theirs.place.overlay,
  ]);
  const named = (spans: readonly Span[]) =>
    spans.map((span) => ({ ...span, pattern: idOf(span.pattern) }));
  const there = song.places.find(({ id }) => id === placeId);
  const { locked: _, ...section } = theirs.section;
  // Other places of the section keep what they play now: the one that comes back has it alone.
  const shared =
    there !== undefined &&
    song.places.some((place) => place !== there && place.section === there.section) &&
    !sameSection(findSection(song, there.section), section, idOf);
  const target = !there || shared ? freeId(ready, section.id) : there.section;
  const back: Section = { ...section, id: target, spans: named(section.spans) };
  const sections = findSection(ready, target)
    ? ready.sections.map((one) => (one.id === target ? back : one))
    : [...ready.sections, back];
  const place = { ...theirs.place, section: target, overlay: named(theirs.place.overlay) };
  if (there) {
    const places = ready.places.map((one) => (one === there ? place : one));
    return swept({ ...ready, sections, places });
  }
  const before = other.places[theirs.index - 1]?.id;
  const index = ready.places.findIndex(({ id }) => id === before) + 1;
  return {
    ...ready,
    sections,
    places: [...ready.places.slice(0, index), place, ...ready.places.slice(index)],
  };
}

function sameSection(
  a: Section | undefined,
  b: Omit<Section, 'locked'>,
  idOf: (id: string) => string,
): boolean {
  if (!a) return false;
  const spans = b.spans.map((span) => ({ ...span, pattern: idOf(span.pattern) }));
  const parts = ({ bars, meters, tempos }: Pick<Section, 'bars' | 'meters' | 'tempos'>) => [
    bars,
    meters,
    tempos,
  ];
  return JSON.stringify([...parts(a), a.spans]) === JSON.stringify([...parts(b), spans]);
}

/** Sections that no place plays go. */
function swept(song: Song): Song {
  const played = new Set(song.places.map(({ section }) => section));
  return song.sections.every(({ id }) => played.has(id))
    ? song
    : { ...song, sections: song.sections.filter(({ id }) => played.has(id)) };
}

/** The song with the patterns that some spans of another one play; those that differ come beside. */
function withPatternsOf(song: Song, other: Song, spans: readonly Span[]) {
  let next = song;
  const names = new Map<string, string>();
  for (const { pattern: id } of spans) {
    const theirs = findPattern(other, id);
    if (!theirs || names.has(id)) continue;
    const mine = findPattern(next, id);
    if (mine && sameMusic(mine, theirs)) {
      names.set(id, id);
      continue;
    }
    const alike = next.patterns.find((one) => sameMusic(one, theirs) && one.local === theirs.local);
    if (alike) {
      names.set(id, alike.id);
      continue;
    }
    const { locked: _, ...rest } = theirs;
    const newId = mine ? freeId(next, id) : id;
    const name = mine ? `${theirs.name}, as it was` : theirs.name;
    names.set(id, newId);
    const value: Pattern = { ...rest, id: newId, name, dye: mine ? nextDye(next) : rest.dye };
    next = { ...next, patterns: [...next.patterns, value] };
  }
  return { song: next, idOf: (id: string) => names.get(id) ?? id };
}

/** Brings one piece of one place back as it was in another state: at this place, and nothing else. */
export function broughtPiece(
  song: Song,
  other: Song,
  placeId: string,
  piece: PieceId,
): Song | string {
  const [mine, theirs] = [song, other].map((one) =>
    laidPlaces(one).find(({ place }) => place.id === placeId),
  );
  if (!mine || !theirs) return song;
  const length = mine.end - mine.start;
  if (length !== theirs.end - theirs.start) {
    return 'The place had another length then: bring back all of it.';
  }
  const stretch = { from: 0, to: length };
  const was = wovenOf(other, theirs, stretch, 'place').pattern;
  const hits = was.strands.find((strand) => strand.piece === piece)?.hits ?? [];
  return editAt(song, { place: placeId, ...stretch }, 'place', (woven) => {
    const before = woven.strands.find((strand) => strand.piece === piece)?.hits ?? [];
    const cleared = removeHits(woven, new Set(before.map(({ id }) => id)));
    const ids = freeIds(cleared);
    const back = hits.map((hit) => ({ piece, hit: { ...hit, id: ids('back') } }));
    return back.length > 0 ? placeHits(cleared, back, song.kit) : cleared;
  });
}

/** Brings one pattern of another state back, or only one strand of it. */
export function broughtPattern(song: Song, other: Song, id: string, piece?: PieceId): Song {
  const theirs = findPattern(other, id);
  const mine = findPattern(song, id);
  if (!theirs) return song;
  if (!mine) return { ...song, patterns: [...song.patterns, theirs] };
  if (piece === undefined) {
    if (sameMusic(mine, theirs)) return song;
    return { ...song, patterns: song.patterns.map((one) => (one === mine ? theirs : one)) };
  }
  const strand = theirs.strands.find((one) => one.piece === piece);
  if (!strand || mine.length !== theirs.length) return song;
  const others = mine.strands.filter((one) => one.piece !== piece);
  const strands = [...others, strand].sort((a, b) => byStaffOrder(a.piece, b.piece, song.kit));
  const after = { ...mine, strands };
  return sameMusic(after, mine)
    ? song
    : { ...song, patterns: song.patterns.map((one) => (one === mine ? after : one)) };
}
