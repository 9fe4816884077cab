import type { Place, Song } from '../model';
import { barLinesOf } from './links';
import { laidPlaces, type LaidPlace } from './sections';
import { hitsByPlace, type TimedHit } from './timeline';

/** Bars that are the same to the note as bars before them. */
export interface SameRun {
  /** First bar of the song, counted from 0, and how many. */
  from: number;
  bars: number;
  /** The bar that the first of them is the same as. */
  as: number;
  /** They are so on purpose. */
  meant: boolean;
}

/** How much of a song is said twice. */
export interface SameAgain {
  /** The longest first; those that are meant behind all others. */
  runs: SameRun[];
  /** Bars in which anything sounds. */
  sounding: number;
  /** Those of them that are the same as earlier ones, and not on purpose. */
  same: number;
  /** `same` of `sounding`, 0 to 1. */
  share: number;
}

/**
 * Finds bars that are the same to the note as earlier ones: same strokes, same timing, same velocities.
 * From the start on, each bar takes the longest stretch before it that goes on alike. Linear in hits,
 * and in the pairs of bars that are the same.
 */
export function sameAgain(song: Song): SameAgain {
  const laid = laidPlaces(song);
  const blocks = hitsByPlace(song);
  const names = laid.flatMap((place, i) => namesOfBars(place, blocks[i]));
  const of = laid.flatMap(({ place, section }) => new Array<Place>(section.bars).fill(place));
  const { length, from } = longestBefore(names);
  const runs: SameRun[] = [];
  for (let bar = 0; bar < names.length;) {
    let bars = names[bar] === 0 ? 0 : length[bar];
    if (bars === 0) {
      bar++;
      continue;
    }
    // A run ends with its section: a drummer thinks in those.
    let same = 1;
    while (same < bars && of[bar + same] === of[bar] && names[bar + same] !== 0) same++;
    bars = same;
    runs.push({ from: bar, bars, as: from[bar], meant: of[bar].meant ?? false });
    bar += bars;
  }
  const sounding = names.filter((name) => name !== 0).length;
  const same = runs.reduce((sum, run) => sum + (run.meant ? 0 : run.bars), 0);
  runs.sort((a, b) => Number(a.meant) - Number(b.meant) || b.bars - a.bars || a.from - b.from);
  return { runs, sounding, same, share: sounding > 0 ? same / sounding : 0 };
}

/**
 * For each bar, how many bars from it on are the same as the best earlier stretch, and where that
 * begins: the later one of two that are as good. The two may overlap: a bar that comes four times is the
 * same as the one before it, three times. Silent bars are the same as none.
 */
function longestBefore(bars: readonly number[]): { length: Int32Array; from: Int32Array } {
  const count = bars.length;
  // The bar before each that is the same as it, or -1.
  const before = new Int32Array(count).fill(-1);
  const last = new Map<number, number>();
  bars.forEach((name, bar) => {
    if (name === 0) return;
    before[bar] = last.get(name) ?? -1;
    last.set(name, bar);
  });
  const length = new Int32Array(count);
  const from = new Int32Array(count);
  // run[j] is how long the stretches at i and j go on alike, for each j that is the same as i;
  // later[j] is the same for i + 1. Filled from the last bar to the first.
  let later = new Int32Array(count + 1);
  let run = new Int32Array(count + 1);
  for (let i = count - 1; i >= 0; i--) {
    const following = i + 1 < count ? bars[i + 1] : 0;
    for (let j = before[i]; j >= 0; j = before[j]) {
      const same = following !== 0 && bars[j + 1] === following ? later[j + 1] + 1 : 1;
      run[j] = same;
      if (same > length[i]) {
        length[i] = same;
        from[i] = j;
      }
    }
    [run, later] = [later, run];
  }
  return { length, from };
}

const known = new WeakMap<TimedHit[], number[]>();

/** A number for each bar of a place that is the same where it sounds the same; 0 is silence. */
function namesOfBars({ section, start }: LaidPlace, hits: TimedHit[]): number[] {
  const before = known.get(hits);
  if (before && before.length === section.bars) return before;
  const lines = barLinesOf(section);
  // Two sums of 32 bits for each bar: they do not tell in which order strokes came.
  const low = new Int32Array(section.bars);
  const high = new Int32Array(section.bars);
  const struck = new Uint8Array(section.bars);
  let bar = 0;
  // Hits are in the order they sound; one that is early may belong to a bar before.
  for (const hit of hits) {
    const home = hit.home - start;
    while (bar > 0 && home < lines[bar]) bar--;
    while (bar + 2 < lines.length && home >= lines[bar + 1]) bar++;
    const way = wayOf(hit.piece, hit.articulation);
    const at = Math.round((home - lines[bar]) * 64);
    const late = Math.round((hit.tick - hit.home) * 64);
    low[bar] += mixed(way, at, late, hit.velocity, 0x9e3779b1);
    high[bar] += mixed(way, at, late, hit.velocity, 0x7feb352d);
    struck[bar] = 1;
  }
  const names = Array.from(struck, (is, i) => {
    if (!is) return 0;
    const long = Math.round((lines[i + 1] - lines[i]) * 64);
    return nameOf(mixed(low[i], long, 1, 2, 0x9e3779b1), high[i]);
  });
  known.set(hits, names);
  return names;
}

/** One number of 53 bits, never 0. */
function nameOf(low: number, high: number): number {
  return (high & 0x1fffff) * 4294967296 + (low >>> 0) + 1;
}

const ways = new Map<string, Map<string, number>>();
let count = 0;

/** A number for a way of striking a piece. */
function wayOf(piece: string, articulation: string): number {
  let known = ways.get(piece);
  if (!known) ways.set(piece, (known = new Map()));
  let way = known.get(articulation);
  if (way === undefined) known.set(articulation, (way = ++count));
  return way;
}

/**
 * Four numbers mixed into one of 32 bits. Source: the finalising steps of MurmurHash3 by Austin Appleby,
 * public domain, once for each number.
 */
function mixed(a: number, b: number, c: number, d: number, seed: number): number {
  let h = Math.imul(a ^ seed, 0x85ebca6b);
  h = Math.imul((h ^ (h >>> 15) ^ b) | 0, 0xc2b2ae35);
  h = Math.imul((h ^ (h >>> 13) ^ c) | 0, 0x85ebca6b);
  h = Math.imul((h ^ (h >>> 16) ^ d) | 0, 0xc2b2ae35);
  return h ^ (h >>> 15);
}
