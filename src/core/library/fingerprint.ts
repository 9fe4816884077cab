import { barTicks } from '../time/meter';
import { GROUP_OF_PIECE, GROUPS, type Group, type Strokes } from './strokes';

/** Slots of a bar: they hold sixteenths and eighth triplets of 4/4 alike. */
export const SLOTS = 48;

/**
 * The look of a groove in one bar, for finding others like it: for each group of the kit how hard
 * each forty-eighth of a bar is struck, 0 to 255, all its bars laid over each other.
 */
export type Fingerprint = Uint8Array;

export const FINGERPRINT_SIZE = GROUPS.length * SLOTS;

export function fingerprintOf({ count, at, piece, velocity, length, meter }: Strokes): Fingerprint {
  const bar = barTicks(meter);
  const bars = Math.max(1, Math.round(length / bar));
  const sums = new Float64Array(FINGERPRINT_SIZE);
  for (let i = 0; i < count; i++) {
    const slot = Math.round(((((at[i] % bar) + bar) % bar) / bar) * SLOTS) % SLOTS;
    sums[GROUP_OF_PIECE[piece[i]] * SLOTS + slot] += velocity[i];
  }
  // Plain loops: `from` with a function costs more than all the rest of a file's features.
  const print = new Uint8Array(FINGERPRINT_SIZE);
  for (let i = 0; i < FINGERPRINT_SIZE; i++) {
    if (sums[i] > 0) print[i] = Math.min(255, Math.round((2 * sums[i]) / bars));
  }
  return print;
}

/**
 * How far two fingerprints are apart: a stroke a slot off counts half as much as one missing.
 * @param most what is further apart than this is given up and counts as infinitely far
 */
export function distance(
  a: Fingerprint,
  b: Fingerprint,
  groups: readonly number[],
  most = Infinity,
): number {
  let sum = 0;
  for (const group of groups) {
    const from = group * SLOTS;
    // What the two have had up to here is compared too: that is what makes "near" less than "other".
    let carried = 0;
    for (let i = from; i < from + SLOTS; i++) {
      const difference = a[i] - b[i];
      sum += difference < 0 ? -difference : difference;
      carried = (carried >> 1) + difference;
      sum += carried < 0 ? -carried : carried;
    }
    if (sum > most) return Infinity;
  }
  return sum;
}

/** The numbers of some groups; of all when none is named. */
export function groupNumbers(groups: readonly Group[] = []): number[] {
  const wanted = groups.length > 0 ? groups : GROUPS;
  return wanted.map((group) => GROUPS.indexOf(group));
}

/**
 * The fingerprints nearest to one, nearest first.
 * @param groups only these parts of the kit are compared; none is all
 * @returns indices into `prints`
 */
export function nearest(
  to: Fingerprint,
  prints: readonly Fingerprint[],
  groups: readonly Group[] = [],
  limit = prints.length,
): { index: number; distance: number }[] {
  const numbers = groupNumbers(groups);
  const best: { index: number; distance: number }[] = [];
  let most = Infinity;
  for (let index = 0; index < prints.length; index++) {
    const far = distance(to, prints[index], numbers, most);
    if (far > most || far === Infinity) continue;
    // Nearly all are given up early; those that are near are put in their place one by one.
    let at = best.length;
    while (at > 0 && best[at - 1].distance > far) at--;
    best.splice(at, 0, { index, distance: far });
    if (best.length > limit) best.pop();
    if (best.length === limit) most = best[limit - 1].distance;
  }
  return best;
}
