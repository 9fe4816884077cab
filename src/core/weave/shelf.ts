import { Latest } from '../memo';
import {
  findPattern,
  MOST,
  type Offcut,
  type Pattern,
  type Song,
  type Span,
  type Use,
} from '../model';
import { removePattern, withPlace, withSection } from './arrange';

/** Notes, stars and tags of a pattern; an empty one is taken away. */
export type Remark = Partial<Pick<Pattern, 'notes' | 'stars' | 'tags' | 'name'>>;

export function remarkPattern(song: Song, id: string, remark: Remark): Song {
  const before = findPattern(song, id);
  if (!before) return song;
  const { notes, stars, tags, ...rest } = { ...before, ...remark };
  const after: Pattern = {
    ...rest,
    ...(notes?.trim() && { notes: notes.trim() }),
    ...(stars && { stars: Math.max(1, Math.min(5, Math.round(stars))) }),
    ...(tags && tags.length > 0 && { tags }),
  };
  return { ...song, patterns: song.patterns.map((p) => (p === before ? after : p)) };
}

/** Moves a pattern to another place on the shelf. */
export function movePattern(song: Song, id: string, to: number): Song {
  const from = song.patterns.findIndex((pattern) => pattern.id === id);
  const target = Math.max(0, Math.min(song.patterns.length - 1, to));
  if (from < 0 || from === target) return song;
  const rest = song.patterns.filter((pattern) => pattern.id !== id);
  return {
    ...song,
    patterns: [...rest.slice(0, target), song.patterns[from], ...rest.slice(target)],
  };
}

/** Puts something among the offcuts; what is there already stays once. */
export function addOffcuts(song: Song, offcuts: readonly Offcut[]): Song {
  const there = new Set(song.offcuts.map(({ id }) => id));
  const fresh = offcuts.filter(({ id }) => !there.has(id) && there.add(id));
  return fresh.length === 0 ? song : { ...song, offcuts: [...song.offcuts, ...fresh] };
}

/** Takes a pattern off the shelf and out of the song, and keeps it among the offcuts. */
export function setAside(song: Song, patternId: string): Song {
  const pattern = findPattern(song, patternId);
  if (!pattern) return song;
  const uses = usesIn(song, patternId);
  return addOffcuts(removePattern(song, patternId), [
    { id: `removed-${pattern.id}`, why: 'removed', pattern, ...(uses.length > 0 && { uses }) },
  ]);
}

/** Where a pattern is played: each span with where in its stack it lies. */
function usesIn(song: Song, patternId: string): Use[] {
  const found = (of: Use['of'], id: string, spans: readonly Span[]) =>
    spans.flatMap((span, index) => (span.pattern === patternId ? [{ of, id, index, span }] : []));
  return [
    ...song.sections.flatMap(({ id, spans }) => found('section', id, spans)),
    ...song.places.flatMap(({ id, overlay }) => found('place', id, overlay)),
  ].slice(0, MOST.spans);
}

/**
 * Takes something out of the offcuts again: a removed pattern goes back onto the shelf, and is played
 * again where it was, as far as those sections and places are still there.
 */
export function recoverOffcut(song: Song, id: string): Song {
  const offcut = song.offcuts.find((other) => other.id === id);
  if (!offcut) return song;
  const offcuts = song.offcuts.filter((other) => other !== offcut);
  const { pattern } = offcut;
  if (!pattern || findPattern(song, pattern.id)) return { ...song, offcuts };
  const back = { ...song, offcuts, patterns: [...song.patterns, pattern] };
  return (offcut.uses ?? []).reduce(playedAgain, back);
}

function playedAgain(song: Song, { of, id, index, span }: Use): Song {
  const among = (spans: Span[]) =>
    spans.some((other) => other.id === span.id) || spans.length >= MOST.spans
      ? spans
      : [...spans.slice(0, index), span, ...spans.slice(index)];
  return of === 'section'
    ? withSection(song, id, (section) => ({ ...section, spans: among(section.spans) }))
    : withPlace(song, id, (place) => ({ ...place, overlay: among(place.overlay) }));
}

export function emptyOffcuts(song: Song): Song {
  return song.offcuts.length > 0 ? { ...song, offcuts: [] } : song;
}

/** The patterns on the shelf: all but those that hold a change of one place or section. */
export function shelfOf({ patterns }: Pick<Song, 'patterns'>): Pattern[] {
  if (!patterns.some(({ local }) => local)) return patterns;
  return shelves.of(
    '',
    (known) => known === patterns,
    patterns,
    () => patterns.filter(({ local }) => !local),
  );
}

const shelves = new Latest<Pattern[], Pattern[]>(4, 1);

/** A name that nothing in the song has yet, made from another one. */
export function freeId(song: Song, base: string): string {
  return freeIdsIn(song)(base);
}

/** Makes names that nothing in the song has, and none of those made before. */
export function freeIdsIn(song: Song): (base: string) => string {
  const taken = new Set<string>();
  for (const list of [song.patterns, song.sections, song.places]) {
    for (const { id } of list) taken.add(id);
  }
  for (const { overlay } of song.places) for (const { id } of overlay) taken.add(id);
  for (const { spans } of song.sections) for (const { id } of spans) taken.add(id);
  const numbers = new Map<string, number>();
  return (base) => {
    const short = base.slice(0, 120);
    let id = short;
    let n = numbers.get(short) ?? 2;
    for (; taken.has(id); n++) id = `${short}-${n}`;
    numbers.set(short, n);
    taken.add(id);
    return id;
  };
}

/** Whether anything in the song plays a pattern. */
export function isPlayed(song: Song, patternId: string): boolean {
  const plays = ({ pattern }: Span) => pattern === patternId;
  return (
    song.sections.some(({ spans }) => spans.some(plays)) ||
    song.places.some(({ overlay }) => overlay.some(plays))
  );
}

export function withoutPatterns(song: Song, ids: readonly string[]): Song {
  if (ids.length === 0) return song;
  return { ...song, patterns: song.patterns.filter(({ id }) => !ids.includes(id)) };
}

/**
 * The song without changes of single places that nothing plays any more. They go to the offcuts, as
 * everything does that is taken out by hand.
 */
export function swept(song: Song): Song {
  const idle = song.patterns.filter(({ id, local }) => local && !isPlayed(song, id));
  if (idle.length === 0) return song;
  return addOffcuts(
    withoutPatterns(
      song,
      idle.map(({ id }) => id),
    ),
    idle.map((pattern) => ({ id: `removed-${pattern.id}`, why: 'removed' as const, pattern })),
  );
}
