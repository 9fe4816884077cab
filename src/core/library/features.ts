import type { PieceId } from '../model';
import { barTicks, beatTicks, type Meter, PPQ, type Ticks } from '../time';
import { barsOfStrokes, GROUP_OF_PIECE, GROUPS, PIECES_BY_NUMBER, type Strokes } from './strokes';

/** What can be said of a groove without hearing it. */
export interface Features {
  bars: number;
  hits: number;
  pieces: PieceId[];
  /** Strokes a quarter note. */
  perBeat: number;
  /** How much is going on, 0 to 100: see `busynessOf`. */
  busyness: number;
  /** Where the second of two equal notes falls, in percent of the pair: 50 is straight. */
  swing: number;
  /** Milliseconds that the strokes of each piece come late on average; negative is early. */
  push: Partial<Record<PieceId, number>>;
}

export function featuresOf(strokes: Strokes): Features {
  const { count, length } = strokes;
  const swing = swingOf(strokes);
  return {
    bars: barsOfStrokes(strokes),
    hits: count,
    pieces: piecesOf(strokes),
    perBeat: Math.round((count / (length / PPQ)) * 100) / 100,
    busyness: busynessOf(strokes),
    swing: tenths(swing.percent),
    push: pushOf(strokes, swing),
  };
}

const tenths = (value: number) => Math.round(value * 10) / 10;

// Ten thousand files are measured in a row, most of them a few bars long. Making an array, and the
// `%` of numbers that need not be whole, each cost more than a bar's measuring: so room is used
// again, and remainders are taken with `Math.floor`.
const used = new Uint8Array(PIECES_BY_NUMBER.length);
const sums = new Float64Array(PIECES_BY_NUMBER.length);
const counts = new Uint32Array(PIECES_BY_NUMBER.length);
let struck = new Uint8Array(1024);

function piecesOf({ count, piece }: Strokes): PieceId[] {
  used.fill(0);
  for (let i = 0; i < count; i++) used[piece[i]] = 1;
  const pieces: PieceId[] = [];
  for (let number = 0; number < used.length; number++) {
    if (used[number] === 1) pieces.push(PIECES_BY_NUMBER[number]);
  }
  return pieces;
}

/**
 * How much a groove asks of the ear, 0 to 100: eight times its strokes a quarter note, ghosts
 * counting less than accents, and six times its syncopation a quarter note. A bar of quarter notes
 * on one piece has about 6; sixteenths on three pieces come near 100.
 *
 * Syncopation is that of kick and snare after Longuet-Higgins and Lee ("The rhythmic interpretation
 * of monophonic music", 1984): a stroke followed by silence on a stronger step is worth the
 * difference of the two steps' weights.
 */
export function busynessOf(strokes: Strokes): number {
  const { count, velocity, length } = strokes;
  const beats = length / PPQ;
  let density = 0;
  for (let i = 0; i < count; i++) density += 0.4 + (0.6 * velocity[i]) / 127;
  const value = (8 * density) / beats + (6 * syncopationOf(strokes)) / beats;
  return tenths(Math.min(100, value));
}

/** Sixteenths, where weights are looked up. */
const STEP: Ticks = PPQ / 4;

function syncopationOf({ count, at, piece, length, meter }: Strokes): number {
  const steps = Math.max(1, Math.round(length / STEP));
  if (struck.length < steps) struck = new Uint8Array(steps);
  else struck.fill(0, 0, steps);
  for (let i = 0; i < count; i++) {
    const group = GROUP_OF_PIECE[piece[i]];
    if (group === KICK || group === SNARE) {
      struck[(Math.round(at[i] / STEP) | 0) % steps] = 1;
    }
  }
  const bar = Math.round(barTicks(meter) / STEP);
  const beat = Math.round(beatTicks(meter) / STEP);
  let sum = 0;
  // From the end, twice around: what is silent after the last stroke goes on at the start.
  let strongest = -Infinity;
  for (let round = 1; round >= 0; round--) {
    for (let step = steps - 1; step >= 0; step--) {
      const weight = weightOf(step % bar, beat, bar);
      if (struck[step] === 0) strongest = Math.max(strongest, weight);
      else {
        if (round === 0) sum += Math.max(0, strongest - weight);
        strongest = -Infinity;
      }
    }
  }
  return sum;
}

const KICK = GROUPS.indexOf('kick');
const SNARE = GROUPS.indexOf('snare');

/** 0 for the first step of a bar, -1 for its middle, -2 for a beat, then -1 less for each halving. */
function weightOf(step: number, beat: number, bar: number): number {
  if (step === 0) return 0;
  if (step * 2 === bar) return -1;
  if (beat >= 1 && step % beat === 0) return -2;
  return step % 2 === 0 ? -3 : -4;
}

interface SwingFound {
  percent: number;
  /** Length of the notes that swing. */
  unit: Ticks;
}

/**
 * Swing as it is played: where the strokes lie that come second in a pair of eighths, or else of
 * sixteenths. A pair counts where its second stroke is nearer to its middle than to its ends.
 */
function swingOf({ count, at }: Strokes): SwingFound {
  for (let unit = PPQ / 2; unit >= PPQ / 4; unit /= 2) {
    let sum = 0;
    let found = 0;
    let others = 0;
    for (let i = 0; i < count; i++) {
      const pairs = at[i] / (2 * unit);
      const share = pairs - Math.floor(pairs);
      if (share > 0.43 && share < 0.71) {
        sum += share;
        found++;
      } else if (share > 0.2 && share < 0.8) others++;
    }
    const percent = found > 0 ? (sum / found) * 100 : 50;
    // Sixteenths within the pairs say that its eighths are straight.
    if (found >= 2 && percent > 53 && others <= found / 3) return { percent, unit };
  }
  return { percent: 50, unit: PPQ / 4 };
}

function pushOf(
  { count, at, piece, bpm }: Strokes,
  { percent, unit }: SwingFound,
): Features['push'] {
  sums.fill(0);
  counts.fill(0);
  const pair = 2 * unit;
  const swung = (percent / 50) * unit;
  const triplet = percent > 62;
  for (let i = 0; i < count; i++) {
    const inPair = at[i] - Math.floor(at[i] / pair) * pair;
    let off = inPair;
    if (Math.abs(inPair - swung) < Math.abs(off)) off = inPair - swung;
    if (Math.abs(inPair - pair) < Math.abs(off)) off = inPair - pair;
    const third = inPair - pair / 3;
    if (triplet && Math.abs(third) < Math.abs(off)) off = third;
    // Finer notes between the lines say nothing about push.
    if (Math.abs(off) > unit * 0.3) continue;
    sums[piece[i]] += off;
    counts[piece[i]]++;
  }
  const push: Features['push'] = {};
  const msPerTick = 60_000 / bpm / PPQ;
  for (let number = 0; number < sums.length; number++) {
    if (counts[number] === 0) continue;
    push[PIECES_BY_NUMBER[number]] = tenths((sums[number] / counts[number]) * msPerTick);
  }
  return push;
}

/** A guess from the name first, then from the shape: a fill is short, or mostly drums that change. */
export function guessKind(
  name: string,
  { bars, pieces, hits }: Features,
  meter: Meter,
): 'groove' | 'fill' | 'intro' | 'ending' {
  const lower = name.toLowerCase();
  if (/\bfills?\b|turnaround/.test(lower)) return 'fill';
  if (/\bintro\b|count.?in/.test(lower)) return 'intro';
  if (/\bending\b|\boutro\b|\bend\b/.test(lower)) return 'ending';
  if (/groove|beat|verse|chorus|bridge|loop/.test(lower)) return 'groove';
  const toms = pieces.filter((piece) => piece.startsWith('tom-')).length;
  const ticks = bars * barTicks(meter);
  if (ticks < PPQ * 2.5 || (bars <= 1 && toms >= 2 && hits / (ticks / PPQ) >= 2)) return 'fill';
  return 'groove';
}
