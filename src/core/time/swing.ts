import type { Ticks } from './units';

/** The second of each pair of equal notes comes late. Pairs are counted from each bar line. */
export interface Swing {
  /** Where in the pair the second note falls: 50 is straight, 66.7 a triplet, at most 75. */
  percent: number;
  /** Length of the notes that swing: 480 for eighths, 240 for sixteenths. */
  unit: Ticks;
}

/**
 * How much later a step sounds under swing. The first half of each pair is stretched and the second
 * one squeezed, so that what lies between the notes keeps its order. A last note of a bar that has no
 * partner, as in seven eighths, is straight: so every bar of a pattern swings alike.
 * @param bar length of a bar
 */
export function swungBy(at: Ticks, swing: Swing | undefined, bar: Ticks): Ticks {
  if (!swing || swing.percent === 50) return 0;
  const { unit, percent } = swing;
  const pair = 2 * unit;
  const inBar = at % bar;
  const inPair = inBar % pair;
  if (inBar - inPair + pair > bar + 1e-6) return 0;
  const second = (pair * percent) / 100;
  return inPair < unit
    ? inPair * (second / unit - 1)
    : second + (inPair - unit) * ((pair - second) / unit) - inPair;
}

/**
 * Where what sounds under swing stands without it: the inverse of `swungBy`. What sounds just before the bar, or behind
 * it, is read as if pairs went on.
 * @param bar length of a bar
 */
export function straightened(at: Ticks, swing: Swing | undefined, bar: Ticks): Ticks {
  if (!swing || swing.percent === 50) return at;
  const { unit, percent } = swing;
  const pair = 2 * unit;
  const begins = Math.floor(at / pair) * pair;
  if (at < bar && begins + pair > bar + 1e-6) return at;
  const inPair = at - begins;
  const second = (pair * percent) / 100;
  const straight =
    inPair < second
      ? (inPair * unit) / second
      : unit + ((inPair - second) * unit) / (pair - second);
  return begins + straight;
}
