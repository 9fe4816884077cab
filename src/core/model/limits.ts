/** Lowest and highest value, both allowed. */
export type Limits = readonly [low: number, high: number];

/** What a hit can be given. Used by `checkSong`, by commands and beside every field. */
export const HIT_LIMITS = {
  velocity: [1, 127],
  /** Milliseconds from the first grace stroke to the hit. */
  lead: [5, 120],
  /** Strokes of a burst. */
  burst: [2, 8],
  /** Passes of a cycle. */
  cycle: [2, 16],
  pan: [-1, 1],
  /** Cents. */
  tune: [-1200, 1200],
  /** Share sent to the room or the echo. */
  send: [0, 1],
} as const satisfies Record<string, Limits>;

/** Percent of a pair of notes at which the second one falls. */
export const SWING_LIMITS: Limits = [50, 75];

/** Ghost notes are below this velocity: written in brackets. */
export const GHOST_BELOW = 48;

/** Accents are at or above this velocity: written with the sign for "harder". */
export const ACCENT_FROM = 112;
