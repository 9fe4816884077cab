import { DYNAMICS_LIMITS, type Dynamics } from '../model';

/** How wide the bend of the curve is around its threshold, in decibels. */
export const KNEE = 6;

/**
 * How much dynamics take off a steady level, before what all of it is raised by. Source: Giannoulis,
 * Massberg and Reiss, "Digital dynamic range compressor design", J. Audio Eng. Soc. 60, 2012, eq. 4.
 * @param over decibels over the threshold
 * @returns decibels, 0 and more
 */
export function reductionAt(over: number, ratio: number): number {
  const slope = 1 - 1 / ratio;
  if (2 * over <= -KNEE) return 0;
  if (2 * over < KNEE) return (slope * (over + KNEE / 2) ** 2) / (2 * KNEE);
  return slope * over;
}

/** The level that comes out of dynamics for a steady level that goes in, both in decibels. */
export function levelAfter({ threshold, ratio, gain }: Dynamics, level: number): number {
  return level - reductionAt(level - threshold, ratio) + gain;
}

/** The ratio that has full level come out at this one, in decibels; the highest where it lies under the threshold. */
export function ratioReaching(level: number, { threshold, gain }: Dynamics): number {
  const over = level - gain - threshold;
  return over <= 0 ? DYNAMICS_LIMITS.ratio[1] : -threshold / over;
}
