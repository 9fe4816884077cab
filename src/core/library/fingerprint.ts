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
  return Uint8Array.from(sums, (sum) => Math.min(255, Math.round((2 * sum) / bars)));
}

/** How far two fingerprints are apart: a stroke a slot off counts half as much as one missing. */
export function distance(a: Fingerprint, b: Fingerprint, groups: readonly number[]): number {
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
  const distances = Float64Array.from(prints, (print) => distance(to, print, numbers));
  const order = Uint32Array.from(distances, (_, i) => i);
  order.sort((a, b) => distances[a] - distances[b] || a - b);
  return Array.from(order.subarray(0, limit), (index) => ({ index, distance: distances[index] }));
}
