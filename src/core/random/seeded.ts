/** A source of numbers in [0, 1) that repeats for the same seed. */
export type Random = () => number;

/**
 * A small seeded generator.
 * Source: Mulberry32 by Tommy Ettinger, public domain; 32 bits of state, period 2^32.
 */
export function seeded(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
}

/** A number between `low` and `high`. */
export function between(random: Random, low: number, high: number): number {
  return low + random() * (high - low);
}
