import { TRIPLET_SWING } from '../pattern';
import {
  gridsOf,
  groupsOf,
  PPQ,
  straightened,
  type Bpm,
  type Grid,
  type Meter,
  type Swing,
  type Ticks,
} from '../time';
import type { Stretch } from './layout';

/** The steps that the notes of a stretch of bars belong to. */
export interface Steps {
  /** The step each note belongs to, in ticks from the start of the song. */
  homes: Float64Array;
  /** How the whole stretch swings; absent is straight. A note sounds this much after its step, and what it is off. */
  swing?: Swing;
}

/** How far hands are taken to stray from a step: a standard deviation, in milliseconds. */
const STRAYING_MS = 12;
/** Offsets no larger than this, in ticks, are what rounding leaves: the notes are on their steps. */
const EXACT: Ticks = 2;
/**
 * The cost of a tuplet, and of one behind a beat without. All costs are negative logarithms of likelihoods, as that
 * of an offset is.
 */
const BRACKET = 1;
const CHANGE = 1;
/** The cost of two strokes of one drum on one step. */
const MERGED = 6;
/** The cost of a heading that says that a stretch swings. */
const HEADING = 4;
/** Fewer late notes than these are no swing, nor are notes that come hardly late: in percent of their pair. */
const FEWEST_LATE = 4;
const LEAST_SWING = 53;

/** Notes in order of time. */
export interface PlayedNotes {
  /** Ticks of the song at which they are struck, and which drum each strikes. */
  ticks: Float64Array;
  notes: Uint8Array;
}

/**
 * Finds the steps that played notes belong to, beat by beat: of all the ways to divide a beat the one by which
 * the offsets of its notes and the symbols that write it cost least together, over all beats of the stretch. An
 * offset costs by its likelihood in a player who strays as hands do, a step by how many there are to choose
 * from, a tuplet its bracket, and one behind a straight beat a little more (a shortest path over the beats).
 * The same is tried with the second of each pair of eighths, or of sixteenths, as late as most of them are: a
 * stretch swings where that costs less.
 * @param range the first note in the stretch, and the first behind it
 * @param bpm the tempo, for what hands stray by
 */
export function stepsOf(
  notes: PlayedNotes,
  range: { from: number; to: number },
  stretch: Stretch,
  bpm: Bpm,
): Steps {
  const beats = beatsOf(notes, range, stretch);
  const sigma = Math.max(10, Math.min(36, (STRAYING_MS * bpm * PPQ) / 60_000));
  let best = readAs(beats, sigma);
  for (const swing of swingsIn(beats, stretch.meter)) {
    const swung = readAs(beats, sigma, swing);
    if (swung.cost + HEADING < best.cost) best = swung;
  }
  const homes = new Float64Array(range.to - range.from);
  for (const [i, beat] of beats.list.entries()) {
    for (let n = beat.from; n < beat.to; n++) {
      const home = homeOn(n, beat, best.grids[i], best);
      homes[n] = stretch.start + beat.start + home;
    }
  }
  return { homes, ...(best.swing && { swing: best.swing }) };
}

/** A group of beats that has notes. */
interface Beat {
  /** Ticks from the start of the stretch. */
  start: Ticks;
  length: Ticks;
  /** Its first note, and the first behind it. */
  from: number;
  to: number;
  /** Some drum is struck in it more than once. */
  twice: boolean;
}

interface Beats {
  list: readonly Beat[];
  /** Of each note of the stretch: ticks from the start of its beat, and what it strikes. */
  at: Float64Array;
  notes: Uint8Array;
  /** A machine wrote them: nearly all are on a step of some kind. */
  exact: boolean;
}

function beatsOf(
  { ticks, notes }: PlayedNotes,
  { from, to }: { from: number; to: number },
  stretch: Stretch,
): Beats {
  const groups = groupsOf(stretch.meter);
  const list: Beat[] = [];
  const at = new Float64Array(to - from);
  lastHome.fill(-1);
  let next = from;
  for (let start = 0, group = 0; next < to; start += groups[group++ % groups.length]) {
    const length = groups[group % groups.length];
    const begins = stretch.start + start;
    const first = next;
    let twice = false;
    for (; next < to && ticks[next] < begins + length; next++) {
      at[next - from] = ticks[next] - begins;
      twice ||= lastHome[notes[next]] === start;
      lastHome[notes[next]] = start;
    }
    if (next > first) list.push({ start, length, from: first - from, to: next - from, twice });
  }
  return { list, at, notes: notes.subarray(from, to), exact: isExact(at) };
}

/** Lines of 64ths and of their triplets, and of quintuplets, are this far apart. */
const FINEST: Ticks = 20;
const FIFTH: Ticks = 192;
/** A machine wrote the notes where at least this share of them is on such lines: of others it is a fourth. */
const WRITTEN = 0.9;

function isExact(at: Float64Array): boolean {
  let on = 0;
  for (let n = 0; n < at.length; n++) {
    const tick = at[n];
    if (
      Math.abs(tick - Math.round(tick / FINEST) * FINEST) <= EXACT ||
      Math.abs(tick - Math.round(tick / FIFTH) * FIFTH) <= EXACT
    ) {
      on++;
    }
  }
  return on >= WRITTEN * at.length;
}

/** Notes as they stand under a swing, or straight. */
interface Under {
  swing?: Swing | undefined;
  /** Of each note: ticks from the start of its beat, as it is played and without the swing. */
  at: Float64Array;
  straight: Float64Array;
}

interface Reading extends Under {
  cost: number;
  /** For each beat. */
  grids: Grid[];
}

/** The cheapest divisions of all beats. */
function readAs(beats: Beats, sigma: Ticks, swing?: Swing): Reading {
  const { list, at } = beats;
  const under: Under = {
    swing,
    at,
    straight: swing ? at.map((tick) => straightened(tick, swing, PPQ)) : at,
  };
  /** For each beat its cheapest straight division and its cheapest tuplet, and whether the path to each comes from a tuplet. */
  const straights = new Int8Array(list.length);
  const tuplets = new Int8Array(list.length);
  const toStraight = new Uint8Array(list.length);
  const toTuplet = new Uint8Array(list.length);
  const costs = new Float64Array(MOST_GRIDS);
  let straight = 0;
  let tuplet = 0;
  let likely = 0;
  for (let i = 0; i < list.length; i++) {
    const grids = gridsOf(list[i].length);
    likely = costsOf(list[i], beats, { sigma, under, costs, likely });
    let plain = Infinity;
    let bracketed = Infinity;
    for (let g = 0; g < grids.length; g++) {
      const cost = costs[g];
      if (cost === Infinity) continue;
      if (grids[g].tuplet) {
        if (cost < bracketed) {
          bracketed = cost;
          tuplets[i] = g;
        }
      } else if (cost < plain) {
        plain = cost;
        straights[i] = g;
      }
    }
    const changed = straight + (i > 0 ? CHANGE : 0);
    toStraight[i] = tuplet < straight ? 1 : 0;
    toTuplet[i] = tuplet < changed ? 1 : 0;
    plain += Math.min(straight, tuplet);
    tuplet = bracketed + Math.min(changed, tuplet);
    straight = plain;
  }
  let inTuplet = tuplet < straight;
  const grids = new Array<Grid>(list.length);
  for (let i = list.length - 1; i >= 0; i--) {
    grids[i] = gridsOf(list[i].length)[inTuplet ? tuplets[i] : straights[i]];
    inTuplet = (inTuplet ? toTuplet : toStraight)[i] === 1;
  }
  return { ...under, cost: Math.min(straight, tuplet), grids };
}

/** At least as many as there are ways to divide a group. */
const MOST_GRIDS = 12;

/** Whether notes of a beat swing: a tuplet, and a roll finer than what swings, are played as they are written. */
const swings = ({ slots, tuplet }: Grid, length: Ticks, { unit }: Swing) =>
  !tuplet && length / slots >= unit - 1e-6;

/** The step of a note of a beat, in ticks from its start. */
function homeOn(note: number, { length }: Beat, grid: Grid, { swing, at, straight }: Under): Ticks {
  const slot = length / grid.slots;
  const tick = swing && swings(grid, length, swing) ? straight[note] : at[note];
  return Math.round(tick / slot) * slot + 0;
}

/** Where each drum was struck last, by its note: the beat, or the step in it. */
const lastHome = new Float64Array(128);

interface Costing {
  sigma: Ticks;
  under: Under;
  /** Is filled with the cost of each way to divide the beat. */
  costs: Float64Array;
  /** The way that is tried first: that of the beat before. */
  likely: number;
}

/**
 * Finds the cost of each way to divide a beat; it is infinite for one that cannot be the best, as another costs
 * less by more than a change of kind. Where a machine wrote the notes, only ways on which all of them lie are left.
 * @returns the index of the cheapest way
 */
function costsOf(beat: Beat, beats: Beats, { sigma, under, costs, likely }: Costing): number {
  const grids = gridsOf(beat.length);
  const count = beat.to - beat.from;
  const unit = 2 * sigma * sigma;
  let best = Math.min(likely, grids.length - 1);
  for (let g = 0; g < grids.length; g++) costs[g] = Infinity;
  for (let turn = -1; turn < grids.length; turn++) {
    const g = turn < 0 ? best : turn;
    if (costs[g] < Infinity) continue;
    const grid = grids[g];
    const symbols = count * LN[grid.slots] + (grid.tuplet ? BRACKET : 0);
    if (!beats.exact && symbols > costs[best] + CHANGE) continue;
    const { squares, off, merged } = offsetsOf(beat, beats, grid, under);
    costs[g] = squares / unit + symbols + merged * MERGED;
    if (beats.exact && (off > EXACT || merged > 0)) costs[g] += FAR;
    if (costs[g] < costs[best]) best = g;
    // The division of the beat before fits: no other one would give these notes other steps.
    const near = beats.exact ? EXACT : NEAR * sigma;
    if (turn < 0 && off <= near && merged === 0 && beat.length / grid.slots >= 4 * near) break;
  }
  return best;
}

/** A note is near its step at no more than this many standard deviations. */
const NEAR = 2;

/** Added to the cost of a division that a machine has not used. */
const FAR = 1e6;

/** The natural logarithm of each number of steps. */
const LN = Array.from({ length: 65 }, (_, slots) => Math.log(slots));

const offsets = { squares: 0, off: 0, merged: 0 };

/** The offsets that a way to divide a beat leaves: their squares, the largest, and how many strokes are merged. Good until it is asked again. */
function offsetsOf(beat: Beat, { notes }: Beats, grid: Grid, under: Under): typeof offsets {
  const { from, to, length, twice } = beat;
  const { at, swing } = under;
  const swung = swing !== undefined && swings(grid, length, swing);
  const ticks = swung ? under.straight : at;
  const late = swung ? lateBy(swing) : 0;
  const slot = length / grid.slots;
  // Loops over every note of a file: plain variables, as destructured ones take much longer.
  let squares = 0;
  let most = 0;
  let merged = 0;
  if (twice) for (let n = from; n < to; n++) lastHome[notes[n]] = -1;
  for (let n = from; n < to; n++) {
    const home = Math.round(ticks[n] / slot) * slot;
    let off = at[n] - home;
    if (swung && Math.round(home / swing.unit) & 1) off -= late;
    squares += off * off;
    if (off > most) most = off;
    else if (-off > most) most = -off;
    if (twice) {
      if (lastHome[notes[n]] === home) merged++;
      lastHome[notes[n]] = home;
    }
  }
  offsets.squares = squares;
  offsets.off = most;
  offsets.merged = merged;
  return offsets;
}

/** How much later than its step the second of a pair sounds. */
const lateBy = ({ unit, percent }: Swing): Ticks => (2 * unit * percent) / 100 - unit;

/**
 * The swings that a stretch may have: of eighths, and of sixteenths, as late as most of their seconds are behind
 * what most of the firsts are.
 */
function swingsIn({ at }: Beats, { unit: of }: Meter): Swing[] {
  // In compound meters, as 12/8, the triplet is the beat's own.
  if (of > 4) return [];
  const every = Math.ceil(at.length / ASKED);
  return [480, 240].flatMap((unit): Swing[] => {
    const pair = 2 * unit;
    const firsts: number[] = [];
    const seconds: number[] = [];
    for (let n = 0; n < at.length; n += 1 + ((n * 7919) % (2 * every - 1))) {
      const share = (at[n] < pair ? at[n] : at[n] - pair) / pair;
      if (share < 0.2) firsts.push(share);
      else if (share > 0.9) firsts.push(share - 1);
      else if (share > 0.4 && share < 0.8) seconds.push(share);
    }
    if (seconds.length < FEWEST_LATE) return [];
    const percent = Math.round(1000 * (median(seconds) - median(firsts))) / 10;
    if (percent < LEAST_SWING) return [];
    const near = Math.abs(percent - TRIPLET_SWING) < 0.7;
    return [{ unit, percent: Math.min(75, near ? TRIPLET_SWING : percent) }];
  });
}

/** Of a long stretch about this many notes are asked how late they are, not at even distances: they might be all of one kind. */
const ASKED = 997;

const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1] ?? 0;
