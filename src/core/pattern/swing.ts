import type { Pattern, Swing } from '../model/song';
import { SWING_LIMITS } from '../model/limits';
import type { Ticks } from '../time/units';
import { mapHits, allIds, mapStrands } from './strands';

/** Swing in percent of a pair at which the second note falls where a triplet's third would. */
export const TRIPLET_SWING = 200 / 3;

/**
 * How much later a step sounds under swing. The first half of each pair is stretched and the second
 * one squeezed, so that what lies between the notes keeps its order.
 */
export function swungBy(at: Ticks, swing: Swing | undefined): Ticks {
  if (!swing || swing.percent === 50) return 0;
  const { unit, percent } = swing;
  const second = (2 * unit * percent) / 100;
  const inPair = at % (2 * unit);
  return inPair < unit
    ? inPair * (second / unit - 1)
    : second + (inPair - unit) * ((2 * unit - second) / unit) - inPair;
}

/** Sets the pattern's swing; 50 % takes the setting away. Hits stay on their steps. */
export function setSwing(pattern: Pattern, swing: Swing): Pattern {
  const [low, high] = SWING_LIMITS;
  if (!(swing.percent >= low && swing.percent <= high) || !(swing.unit > 0)) return pattern;
  if (swing.percent !== 50) return { ...pattern, swing };
  if (!pattern.swing) return pattern;
  const { swing: _, ...straight } = pattern;
  return straight;
}

/** Writes the swing setting into the hits: the same sound, with a straight setting. */
export function writeSwing(pattern: Pattern): Pattern {
  const { swing } = pattern;
  if (!swing) return pattern;
  const written = mapHits(pattern, allIds(pattern), (hit) => {
    const by = swungBy(hit.at, swing);
    return by === 0 ? hit : { ...hit, push: hit.push + by };
  });
  return setSwing(written, { ...swing, percent: 50 });
}

/**
 * The swing that is written into the hits, measured as the median of how late the second notes of
 * the pairs are; undefined when they are straight, early, or not there.
 */
export function playedSwing(pattern: Pattern, unit: Ticks): Swing | undefined {
  const late = pattern.strands
    .flatMap(({ hits }) => hits.filter((hit) => hit.at % (2 * unit) === unit).map((h) => h.push))
    .sort((a, b) => a - b);
  if (late.length === 0) return undefined;
  const percent = 50 + (50 * late[late.length >> 1]) / unit;
  const rounded = Math.round(percent * 1e6) / 1e6;
  return rounded > 50 && rounded <= SWING_LIMITS[1] ? { unit, percent: rounded } : undefined;
}

/** Takes the played swing out of the hits and makes it the setting: the inverse of `writeSwing`. */
export function takeOutSwing(pattern: Pattern, unit: Ticks): Pattern {
  const swing = pattern.swing ? undefined : playedSwing(pattern, unit);
  if (!swing) return pattern;
  const straight = mapStrands(pattern, ({ hits }) =>
    hits.map((hit) => {
      const by = swungBy(hit.at, swing);
      // What is left of a rounding is no push.
      const push = Math.abs(hit.push - by) < 1e-4 ? 0 : hit.push - by;
      return by === 0 ? hit : { ...hit, push };
    }),
  );
  return { ...straight, swing };
}
