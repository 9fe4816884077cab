import {
  gridsOf,
  groupsOf,
  PPQ,
  valueOf,
  type Grid,
  type Meter,
  type NoteValue,
  type Ticks,
  type Tuplet,
} from '../time';

/** A place in a bar where something is struck or rests, and for how long it is written. */
export interface Written<T> extends NoteValue {
  /** Ticks from the start of the bar. */
  at: Ticks;
  ticks: Ticks;
  /** What is struck; empty is a rest. */
  struck: readonly T[];
  /** Set within a tuplet; of those of one group the same object. */
  tuplet?: Tuplet;
  /** Which of the groups of the bar it is in: notes of one group share a beam. */
  group: number;
  /** The step that its group is divided in. */
  step: Ticks;
}

/** What a way to divide costs the reader, in ticks that a note may be off for a plainer one. */
const costOf = ({ slots, tuplet }: Grid) => Math.log2(slots) * 6 + (tuplet ? 8 : 0);

/** Off by less than this is on. */
const ON: Ticks = 2;

/** The ways to divide a group of this length, the cheapest first. */
const byCost = (group: Ticks): Grid[] => [...gridsOf(group)].sort((a, b) => costOf(a) - costOf(b));

/** The plainest way to divide a group on which all homes lie, or the one they are nearest to. */
function gridFor(homes: readonly Ticks[], group: Ticks): Grid {
  let best: { grid: Grid; cost: number } | undefined;
  for (const grid of byCost(group)) {
    const slot = group / grid.slots;
    let off = 0;
    let most = 0;
    const taken = new Set<number>();
    for (const home of homes) {
      const to = Math.round(home / slot);
      const by = Math.abs(home - to * slot);
      off += by;
      most = Math.max(most, by);
      taken.add(to);
    }
    // Different places in one slot would be read as one stroke.
    const merged = new Set(homes.map(Math.round)).size - taken.size;
    if (most <= ON && merged <= 0) return grid;
    const cost = off / homes.length + costOf(grid) + 60 * Math.max(0, merged);
    if (!best || cost < best.cost) best = { grid, cost };
  }
  return best!.grid;
}

/** Something that is struck, and the place in the bar that it belongs to. */
export interface Onset<T> {
  home: Ticks;
  struck: T;
}

/** Two quarters that are played in three are one group: three quarters of a triplet. */
const HALF: Ticks = 2 * PPQ;
const THIRDS: Grid = { slots: 3, tuplet: { actual: 3, normal: 2 } };

/** The groups of a bar, with those pairs of quarters as one that are played in three. */
function withThirds(groups: readonly Ticks[], onsets: readonly Onset<unknown>[]): Ticks[] {
  const out: Ticks[] = [];
  let start = 0;
  for (let i = 0; i < groups.length; i++) {
    const isPair = i % 2 === 0 && groups[i] === PPQ && groups[i + 1] === PPQ;
    if (isPair && isInThirds(onsets, start)) {
      out.push(HALF);
      i++;
    } else out.push(groups[i]);
    start += out.at(-1)!;
  }
  return out;
}

/** Whether what is struck in two quarters lies on their thirds, and on both that are on no quarter. */
function isInThirds(onsets: readonly Onset<unknown>[], start: Ticks): boolean {
  const third = HALF / 3;
  const on = new Set<number>();
  for (const { home } of onsets) {
    const within = home - start;
    if (within < -ON || within >= HALF - ON) continue;
    const place = Math.round(within / third);
    if (Math.abs(within - place * third) > ON) return false;
    on.add(place);
  }
  return on.has(1) && on.has(2);
}

/**
 * Writes what is struck in one bar by one voice as notes and rests: each group of beats is divided in the
 * plainest way that says it, a note lasts to the next within its group, and rests fill the bar.
 * @param onsets from the start of the bar, in order; what lies so late that it is the next bar's first is in it
 * @param meter decides how beats are grouped
 * @returns all places of the bar in order, together as long as the bar
 */
export function writtenBar<T>(onsets: readonly Onset<T>[], meter: Meter): Written<T>[] {
  const groups = withThirds(groupsOf(meter), onsets);
  const out: Written<T>[] = [];
  let start = 0;
  let next = 0;
  /** What is so late in a group that it is on the first beat of the next. */
  let carried: T[] = [];
  groups.forEach((group, index) => {
    const inside: Onset<T>[] = [];
    while (next < onsets.length && onsets[next].home < start + group) inside.push(onsets[next++]);
    const last = index === groups.length - 1;
    if (last) while (next < onsets.length) inside.push(onsets[next++]);
    const homes = inside.map(({ home }) => home - start);
    const grid: Grid =
      homes.length === 0 ? { slots: 1 } : group === HALF ? THIRDS : gridFor(homes, group);
    const bySlot = new Map<number, T[]>();
    if (carried.length > 0) bySlot.set(0, carried);
    carried = [];
    inside.forEach(({ struck }, i) => {
      let slot = Math.round((homes[i] * grid.slots) / group);
      if (slot >= grid.slots && !last) {
        carried.push(struck);
        return;
      }
      slot = Math.max(0, Math.min(grid.slots - 1, slot));
      const there = bySlot.get(slot);
      if (there) there.push(struck);
      else bySlot.set(slot, [struck]);
    });
    out.push(...writtenGroup(bySlot, grid, { start, group, index }));
    start += group;
  });
  return restsJoined(out, meter);
}

/** Notes and rests of a group. */
function writtenGroup<T>(
  bySlot: ReadonlyMap<number, T[]>,
  grid: Grid,
  { start, group, index }: { start: Ticks; group: Ticks; index: number },
): Written<T>[] {
  const out: Written<T>[] = [];
  const slot = group / grid.slots;
  // A group with one note on its beat needs no tuplet to say so.
  const onBeat = bySlot.size === 1 && bySlot.has(0);
  const tuplet = onBeat ? undefined : grid.tuplet && { ...grid.tuplet };
  const nominal = tuplet ? tuplet.actual / tuplet.normal : 1;
  const slots = onBeat ? 1 : grid.slots;
  const length = group / slots;
  const push = (at: number, count: number, struck: readonly T[]) => {
    const value = valueOf(count * length * nominal)!;
    out.push({
      ...value,
      at: start + at * length,
      ticks: count * length,
      struck,
      group: index,
      step: length,
      ...(tuplet && { tuplet }),
    });
  };
  if (bySlot.size === 0) {
    push(0, slots, []);
    return out;
  }
  const starts = [...bySlot.keys()].sort((a, b) => a - b);
  const rest = (from: number, to: number) => {
    for (let at = from; at < to;) {
      let count = 2 ** Math.floor(Math.log2(to - at));
      while (at % count !== 0) count /= 2;
      while (!valueOf(count * slot * nominal)) count /= 2;
      push(at, count, []);
      at += count;
    }
  };
  rest(0, starts[0]);
  starts.forEach((at, i) => {
    const to = starts[i + 1] ?? slots;
    let count = to - at;
    while (!valueOf(count * length * nominal)) count--;
    push(at, count, bySlot.get(at)!);
    rest(at + count, to);
  });
  return out;
}

/** Rests of neighbouring groups as one, where that begins on a strong beat; a silent bar is one rest. */
function restsJoined<T>(written: readonly Written<T>[], meter: Meter): Written<T>[] {
  if (meter.unit > 4 || meter.beats % 2 !== 0) return [...written];
  const out: Written<T>[] = [];
  const half = PPQ * 2;
  for (const one of written) {
    const before = out.at(-1);
    const both = before && before.struck.length === 0 && one.struck.length === 0;
    if (both && before.ticks === PPQ && one.ticks === PPQ && before.at % half === 0) {
      out[out.length - 1] = { ...before, base: 2, dots: 0, ticks: half };
    } else out.push(one);
  }
  return out;
}
