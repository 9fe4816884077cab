import { findPattern, type Pattern, type Song } from '../model';
import { allIds } from '../pattern';
import { found, id, list, type Bench, type Told, type Values } from './value';

/** Why nothing changed, as a sentence that says what to do. */
export type Refusal = string;

/** The menus of Shape, and what each is called. */
export const MENUS = {
  select: 'select',
  velocity: 'velocity',
  timing: 'timing',
  voice: 'voice',
  time: 'half, double, reverse',
  ornaments: 'ornaments',
  row: 'row',
  pattern: 'bars',
} as const;
export type Menu = keyof typeof MENUS;

/** How a command is offered to the user. */
export interface Offer {
  /** What it is called in its menu. */
  words: string;
  menu: Menu;
  /** The letter that runs it once its menu is open. */
  letter: string;
  /** Keys that run it without its menu. */
  keys?: readonly string[];
  /** What the user should know about the values as they are. */
  remark?(told: never, bench: Bench): string | undefined;
}

/**
 * One change that can be made to a song, defined once: what it takes, what it does, and how it is
 * offered. The type of all commands, menus, palette, lists of keys, panels, checks and the generators
 * of the tests follow from it.
 */
export interface Definition<V> {
  values: V;
  /** The song after it, or the reason why it stays as it is. */
  run(song: Song, told: Told<V>): Song | Refusal;
  offer?: Offer;
  /** The act of the interface that makes it, where it is not offered by itself. */
  through?: string;
  /** Changes what is locked, too. */
  ignoresLocks?: true;
  /** Works on chosen hits, and on nothing when none is chosen. */
  needsHits?: true;
}

/** What is said where nothing more can be said. */
export const NOTHING_CHANGED = 'That would change nothing.';
const SAME_HITS = 'That would leave the chosen hits as they are.';
const GONE = 'What this was to change is not there any more.';
export const SELECT_FIRST =
  'Nothing is selected. Select hits first: drag with Shift, or press R for a row.';

/** A change to the song around its patterns. */
export function onSong<const V extends object>(
  values: V,
  run: (song: Song, told: Told<V>) => Song | Refusal,
  by: Offer | string,
): Definition<V> {
  return {
    values,
    run: (song, told) => said(run(song, told), song, NOTHING_CHANGED),
    ...offeredBy(by),
  };
}

type PatternRun<V> = (pattern: Pattern, told: Told<V>, song: Song) => Pattern | Refusal;

const OF_PATTERN = { pattern: found(id('pattern'), (bench) => bench.pattern.id) };
const OF_HITS = { ...OF_PATTERN, ids: found(list(id('hit')), (bench) => bench.ids) };
type OfPattern = typeof OF_PATTERN;
type OfHits = typeof OF_HITS;

/** A change to the frame or the hits of one pattern. @param why it may leave it as it is */
export function onPattern<const V extends object>(
  values: V,
  run: PatternRun<V & OfPattern>,
  by: Offer | string,
  why: string = NOTHING_CHANGED,
): Definition<V & OfPattern> {
  return {
    values: { ...OF_PATTERN, ...values },
    run(song, told) {
      const { pattern } = told as Told<OfPattern>;
      const before = findPattern(song, pattern);
      if (!before) return GONE;
      return withPattern(song, before, said(run(before, told, song), before, why));
    },
    ...offeredBy(by),
  };
}

/** What is done to chosen hits of a pattern. */
export function onHits<const V extends object>(
  values: V,
  run: (
    pattern: Pattern,
    ids: ReadonlySet<string>,
    told: Told<V & OfHits>,
    song: Song,
  ) => Pattern | Refusal,
  by: Offer | string,
  why?: (pattern: Pattern, ids: ReadonlySet<string>, told: Told<V & OfHits>) => string | undefined,
): Definition<V & OfHits> {
  return {
    values: { ...OF_HITS, ...values },
    needsHits: true,
    run(song, told) {
      const { pattern, ids: wanted } = told as Told<OfHits>;
      const before = findPattern(song, pattern);
      if (!before) return GONE;
      const there = allIds(before);
      const ids = new Set(wanted.filter((one) => there.has(one)));
      if (ids.size === 0) return SELECT_FIRST;
      const after = run(before, ids, told, song);
      const reason = after === before ? (why?.(before, ids, told) ?? SAME_HITS) : '';
      return withPattern(song, before, said(after, before, reason));
    },
    ...offeredBy(by),
  };
}

function offeredBy(by: Offer | string): { offer: Offer } | { through: string } {
  return typeof by === 'string' ? { through: by } : { offer: by };
}

function said<T extends object>(after: T | Refusal, before: T, why: string): T | Refusal {
  return after === before ? why : after;
}

function withPattern(song: Song, before: Pattern, after: Pattern | Refusal): Song | Refusal {
  if (typeof after === 'string') return after;
  return { ...song, patterns: song.patterns.map((p) => (p === before ? after : p)) };
}

/** A definition whose values are not looked at more closely. */
export type AnyDefinition = Omit<Definition<Values>, 'values' | 'run'> & {
  values: Values;
  run(song: Song, told: never): Song | Refusal;
};
