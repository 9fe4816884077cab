import { PPQ, type Ticks } from '../time';

/** Lowest and highest value, both allowed. */
export type Limits = readonly [low: number, high: number];

/** Whether a value is a number within limits: no NaN, nothing infinite. */
export function within(value: unknown, [low, high]: Limits): value is number {
  return typeof value === 'number' && value >= low && value <= high;
}

/** What a hit can be given. Used by `checkSong`, by commands and beside every field. */
export const HIT_LIMITS = {
  velocity: [1, 127],
  /** Ticks off its step: four bars of 4/4 either way. */
  push: [-16 * PPQ, 16 * PPQ],
  /** Milliseconds from the first grace stroke to the hit. */
  lead: [5, 120],
  /** Strokes of a burst. */
  burst: [2, 8],
  /** Passes of a cycle. */
  cycle: [2, 16],
  pan: [-1, 1],
  /** Cents. */
  tune: [-1200, 1200],
  /** Ticks that a swell leads up to its stroke. */
  swell: [PPQ / 16, 16 * PPQ],
  /** Share sent to the room or the echo. */
  send: [0, 1],
} as const satisfies Record<string, Limits>;

/** Percent of a pair of notes at which the second one falls. */
export const SWING_LIMITS: Limits = [50, 75];

/** Ghost notes are below this velocity: written in brackets. */
export const GHOST_BELOW = 48;

/** Accents are at or above this velocity: written with the sign for "harder". */
export const ACCENT_FROM = 112;

/** The longest pattern that can be written: 64 bars of its meter. */
export const MAX_BARS = 64;

/** A pattern lasts at least a 64th note, and a step or a loop of its own at least a third of one. */
export const MIN_PATTERN: Ticks = PPQ / 16;
export const MIN_STEP: Ticks = PPQ / 48;

/** The longest section: as long as the longest piece of music anyone writes in one part. */
export const MAX_SECTION_BARS = 10_000;

/** No stretch of time in a song is longer: two hundred hours at a usual tempo. */
export const MAX_TICKS: Ticks = 64_000_000;

/** How much of anything a song holds: beyond these numbers nothing could be drawn or heard. */
export const MOST = {
  patterns: 5000,
  sections: 5000,
  places: 10_000,
  spans: 1000,
  hits: 200_000,
  /** Strokes of the whole song, repeats counted. */
  sounding: 2_000_000,
  list: 20_000,
  /** Letters of a name or note. */
  text: 20_000,
} as const;
