import { beatTicks, type Meter } from './meter';
import { PPQ, type Ticks } from './units';

/** A note value: 1 is a whole note, 4 a quarter note, with a dot or without. */
export interface NoteValue {
  base: 1 | 2 | 4 | 8 | 16 | 32 | 64;
  dots: 0 | 1;
}

/** Several notes in the time of another number of them. */
export interface Tuplet {
  actual: number;
  normal: number;
}

const WHOLE = 4 * PPQ;
const BASES = [1, 2, 4, 8, 16, 32, 64] as const;

/** The value that lasts so long; undefined when no one note does. */
export function valueOf(ticks: Ticks): NoteValue | undefined {
  for (const base of BASES) {
    if (Math.abs(WHOLE / base - ticks) < 1e-6) return { base, dots: 0 };
    if (Math.abs((WHOLE / base) * 1.5 - ticks) < 1e-6) return { base, dots: 1 };
  }
  return undefined;
}

/**
 * How the beats of a bar are grouped for beams: quarters by themselves, eighths of 6/8 in threes, of 7/8 in
 * two, two and three. Each group lasts as long as one note, with a dot or without.
 * @returns the length of each group in ticks
 */
export function groupsOf(meter: Meter): Ticks[] {
  const beat = beatTicks(meter);
  if (meter.unit <= 4) {
    return Array<Ticks>((meter.beats * beat) / PPQ).fill(PPQ);
  }
  if (meter.beats % 3 === 0) return Array<Ticks>(meter.beats / 3).fill(3 * beat);
  const full = PPQ / beat;
  const groups: Ticks[] = [];
  let left = meter.beats;
  const push = (beats: number) => {
    groups.push(beats * beat);
    left -= beats;
  };
  while (left > 0) {
    if (left === full + 1) push(full === 2 ? 3 : (full * 3) / 4);
    else if (left >= full) push(full);
    else if (left === 3) push(3);
    else push(2 ** Math.floor(Math.log2(left)));
  }
  return groups;
}

/** A way to divide a group evenly. */
export interface Grid {
  slots: number;
  tuplet?: Tuplet;
}

const known = new Map<Ticks, readonly Grid[]>();

/**
 * The ways to divide a group of beats evenly that notes can say, down to 64ths: straight ones, then those that take
 * a tuplet.
 * @param group how long it is, as `groupsOf` gives it
 */
export function gridsOf(group: Ticks): readonly Grid[] {
  const before = known.get(group);
  if (before) return before;
  const grids = dividing(group);
  known.set(group, grids);
  return grids;
}

function dividing(group: Ticks): Grid[] {
  const threefold = valueOf(group)?.dots === 1;
  const plain = threefold ? [1, 3, 6, 12, 24] : [1, 2, 4, 8, 16];
  const tuplets: Grid[] = threefold
    ? [
        { slots: 2, tuplet: { actual: 2, normal: 3 } },
        { slots: 4, tuplet: { actual: 4, normal: 3 } },
      ]
    : [
        { slots: 3, tuplet: { actual: 3, normal: 2 } },
        { slots: 6, tuplet: { actual: 6, normal: 4 } },
        { slots: 5, tuplet: { actual: 5, normal: 4 } },
        { slots: 12, tuplet: { actual: 12, normal: 8 } },
      ];
  const smallest = WHOLE / 64;
  return [...plain.map((slots): Grid => ({ slots })), ...tuplets].filter(({ slots, tuplet }) => {
    const nominal = (group / slots) * (tuplet ? tuplet.actual / tuplet.normal : 1);
    return nominal >= smallest && valueOf(nominal) !== undefined;
  });
}
