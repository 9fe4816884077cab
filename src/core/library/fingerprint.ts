import { barTicks } from '../time';
import { GROUP_OF_PIECE, GROUPS, type Group, type Strokes } from './strokes';

/** Slots of a bar: they hold sixteenths and eighth triplets of 4/4 alike. */
export const SLOTS = 48;

/** The slots are compared in pairs. */
const PAIRS = SLOTS / 2;

/** Where, in a fingerprint, the pairs begin. */
const FROM = GROUPS.length * SLOTS;

export const FINGERPRINT_SIZE = FROM + GROUPS.length * PAIRS;

/**
 * The look of a groove in one bar, for finding others like it and for a small picture: all its bars
 * laid over each other. First, for each group of the kit, how hard each forty-eighth of the bar is
 * struck, 0 to 255. Then, for each group, the same in twenty-fourths and blurred, for comparing: a
 * stroke reaches four slots to either side, less the further, so that strokes a slot apart share three
 * quarters of what they are, and strokes a sixteenth apart three eighths.
 */
export type Fingerprint = Uint8Array;

/** Room for one fingerprint in the making, used again for each. */
const sums = new Int32Array(FINGERPRINT_SIZE);
const struck = new Uint8Array(GROUPS.length);

export function fingerprintOf({ count, at, piece, velocity, length, meter }: Strokes): Fingerprint {
  const bar = barTicks(meter);
  const bars = Math.max(1, Math.round(length / bar));
  sums.fill(0);
  struck.fill(0);
  const perTick = SLOTS / bar;
  for (let i = 0; i < count; i++) {
    // What lies a little before the start belongs to the end of the bar.
    const slot = ((at[i] * perTick + SLOTS + 0.5) | 0) % SLOTS;
    const group = GROUP_OF_PIECE[piece[i]];
    struck[group] = 1;
    sums[group * SLOTS + slot] += velocity[i] * 2;
    const pairs = FROM + group * PAIRS;
    const pair = slot >> 1;
    const before = pairs + (pair === 0 ? PAIRS - 1 : pair - 1);
    const after = pairs + ((pair + 1) % PAIRS);
    if ((slot & 1) === 0) {
      sums[before] += velocity[i] * 2;
      sums[pairs + pair] += velocity[i] * 4;
      sums[after] += velocity[i] * 2;
    } else {
      sums[before] += velocity[i];
      sums[pairs + pair] += velocity[i] * 3;
      sums[after] += velocity[i] * 3;
      sums[pairs + ((pair + 2) % PAIRS)] += velocity[i];
    }
  }
  const print = new Uint8Array(FINGERPRINT_SIZE);
  for (let group = 0; group < GROUPS.length; group++) {
    if (struck[group] === 0) continue;
    shareOut(print, group * SLOTS, SLOTS, 1 / bars);
    shareOut(print, FROM + group * PAIRS, PAIRS, 1 / (4 * bars));
  }
  return print;
}

/** Puts some of the sums into a fingerprint. Plain loops: anything else costs more than all the rest. */
function shareOut(print: Fingerprint, from: number, size: number, share: number): void {
  for (let i = from; i < from + size; i++) {
    const value = (sums[i] * share + 0.5) | 0;
    print[i] = value > 255 ? 255 : value;
  }
}

/** Further than two fingerprints can be apart. */
const FAR = 2 ** 30;

/**
 * How far two fingerprints are apart: the sum of the differences of what is blurred.
 * @param most what is further apart than this is given up and counts as `FAR`
 */
function distance(a: Fingerprint, b: Fingerprint, groups: readonly number[], most: number): number {
  let sum = 0;
  for (const group of groups) {
    const from = FROM + group * PAIRS;
    // `| 0` keeps the sum a whole number of the machine; without a branch this is twice as fast.
    for (let i = from; i < from + PAIRS; i++) sum = (sum + Math.abs((a[i] - b[i]) | 0)) | 0;
    if (sum > most) return FAR;
  }
  return sum;
}

/** The numbers of some groups; of all when none is named. */
function groupNumbers(groups: readonly Group[]): number[] {
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
  let most = FAR;
  for (let index = 0; index < prints.length; index++) {
    const far = distance(to, prints[index], numbers, most);
    if (far > most || far === FAR) continue;
    // Nearly all are given up early; those that are near are put in their place one by one.
    let at = best.length;
    while (at > 0 && best[at - 1].distance > far) at--;
    best.splice(at, 0, { index, distance: far });
    if (best.length > limit) best.pop();
    if (best.length === limit) most = best[limit - 1].distance;
  }
  return best;
}
