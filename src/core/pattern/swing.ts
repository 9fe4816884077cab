import { MIN_STEP, SWING_LIMITS, type Hit, type Pattern } from '../model';
import { barTicks, swungBy, type Swing, type Ticks } from '../time';
import { allIds, mapHits, mapStrands } from './strands';

/** Swing in percent of a pair at which the second note falls where a triplet's third would. */
export const TRIPLET_SWING = 200 / 3;

/** The notes that can swing, the longest first. */
export const SWING_UNITS = [480, 240, 120] as const;
export type SwingUnit = (typeof SWING_UNITS)[number];

/** How many hits are the second of a pair of such notes: those that its swing makes late. */
export function secondsOf(pattern: Pattern, unit: Ticks): number {
  const bar = barTicks(pattern.meter);
  const isSecond = ({ at }: Hit) => Math.abs(((at % bar) % (2 * unit)) - unit) < 1e-6;
  return pattern.strands.reduce((sum, { hits }) => sum + hits.filter(isSecond).length, 0);
}

/** The notes that swing in a pattern: those it is set to, or else those of which most hits are seconds. */
export function swingUnitOf(pattern: Pattern): SwingUnit {
  const set = SWING_UNITS.find((unit) => unit === pattern.swing?.unit);
  if (set) return set;
  const usual = pattern.step >= 480 ? 480 : 240;
  return SWING_UNITS.reduce<SwingUnit>(
    (best, unit) => (secondsOf(pattern, unit) > secondsOf(pattern, best) ? unit : best),
    usual,
  );
}

/** What has to be known of a pattern to swing its steps. */
export type Swung = Pick<Pattern, 'swing' | 'meter'>;

/** How much later a step of a pattern sounds under its swing setting. */
export function swingOf(pattern: Swung, at: Ticks): Ticks {
  return swungBy(at, pattern.swing, barTicks(pattern.meter));
}

/** Where a hit is heard in its pattern, with its push and the pattern's swing. */
export function heardAt(pattern: Swung, hit: Hit): Ticks {
  return hit.at + hit.push + swingOf(pattern, hit.at);
}

/** A hit of one pattern on a step of another, pushed so that it sounds as it did. */
export function carried(hit: Hit, from: Swung, to: Swung, at = hit.at): Hit {
  const by = swingOf(from, hit.at) - swingOf(to, at);
  return by === 0 && at === hit.at ? hit : { ...hit, at, push: hit.push + by };
}

/** Sets the pattern's swing; 50 % takes the setting away. Hits stay on their steps. */
export function setSwing(pattern: Pattern, swing: Swing): Pattern {
  const [low, high] = SWING_LIMITS;
  const sound = swing.percent >= low && swing.percent <= high && swing.unit >= MIN_STEP;
  if (!sound) return pattern;
  const { percent, unit } = swing;
  if (percent !== 50) {
    const same = pattern.swing?.percent === percent && pattern.swing.unit === unit;
    return same ? pattern : { ...pattern, swing: { percent, unit } };
  }
  if (!pattern.swing) return pattern;
  const { swing: _, ...straight } = pattern;
  return straight;
}

/**
 * Plays the chosen hits with a swing that the pattern does not have: the second of each pair comes later,
 * what each was off its step stays.
 */
export function swingHits(pattern: Pattern, ids: ReadonlySet<string>, swing: Swing): Pattern {
  const bar = barTicks(pattern.meter);
  return mapHits(pattern, ids, (hit) => {
    const by = swungBy(hit.at, swing, bar);
    return by === 0 ? hit : { ...hit, push: hit.push + by };
  });
}

/** Writes the swing setting into the hits: the same sound, with a straight setting. */
export function writeSwing(pattern: Pattern): Pattern {
  const { swing } = pattern;
  if (!swing) return pattern;
  const written = mapHits(pattern, allIds(pattern), (hit) => {
    const by = swingOf(pattern, hit.at);
    return by === 0 ? hit : { ...hit, push: hit.push + by };
  });
  return setSwing(written, { ...swing, percent: 50 });
}

/**
 * The swing that is written into the hits, measured as the median of how late the second notes of
 * the pairs are; undefined when they are straight, early, or not there.
 */
export function playedSwing(pattern: Pattern, unit: Ticks): Swing | undefined {
  const bar = barTicks(pattern.meter);
  const late = pattern.strands
    .flatMap(({ hits }) => hits.filter((hit) => (hit.at % bar) % (2 * unit) === unit))
    .map((hit) => hit.push)
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
      const by = swingOf({ ...pattern, swing }, hit.at);
      // What is left of a rounding is no push.
      const push = Math.abs(hit.push - by) < 1e-4 ? 0 : hit.push - by;
      return by === 0 ? hit : { ...hit, push };
    }),
  );
  return { ...straight, swing };
}
