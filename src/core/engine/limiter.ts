import type { Hertz, Samples, Seconds } from '../time';
import { BETWEEN, MOST_OVER, REACH, TAPS } from './truePeak';

/** How far ahead it looks: what it puts out comes so much later. */
const AHEAD: Seconds = 0.0015;
/** Until 63 % of what it held back is let go. */
const RELEASE: Seconds = 0.06;
/** Held back less than this share is not held back. */
const NOTHING = 1e-7;

/** Delay of the interpolation filter: the peak after a sample is known this much later. */
const KNOWN: Samples = REACH;

/** How much later a limiter puts out what it is given. */
export function limiterDelay(sampleRate: Hertz): Samples {
  return Math.round(AHEAD * sampleRate);
}

/**
 * Lets no true peak pass its ceiling, neither a sample nor what a converter makes between two: the smallest
 * factor that anything of the next `AHEAD` seconds needs is held, let go slowly, and averaged over that time,
 * so that it is reached without a step when the peak comes.
 */
export class Limiter {
  readonly delay: Samples;
  private readonly lines: readonly [Float32Array, Float32Array];
  /** The last samples of each side, twice one after another, so that `TAPS` of them lie in a row. */
  private readonly last: readonly [Float64Array, Float64Array];
  private tap = 0;
  /** The last factors, for their average: as many as there are until what is known late must be reached. */
  private readonly factors: Float64Array;
  private sum: number;
  private at = 0;
  private turn = 0;
  /** A queue of factors that are needed, smallest first, and when they were. */
  private readonly needed: Float64Array;
  private readonly since: Float64Array;
  private first = 0;
  private count = 0;
  private now = 0;
  private held = 1;
  private ceiling = 1;
  /** So many samples ago something had to be held back last. */
  private quiet = Infinity;
  private readonly release: number;

  constructor(sampleRate: Hertz) {
    this.delay = limiterDelay(sampleRate);
    this.lines = [new Float32Array(this.delay), new Float32Array(this.delay)];
    this.last = [new Float64Array(2 * TAPS), new Float64Array(2 * TAPS)];
    this.factors = new Float64Array(this.delay - KNOWN).fill(1);
    this.sum = this.factors.length;
    this.needed = new Float64Array(this.delay + TAPS + 2);
    this.since = new Float64Array(this.delay + TAPS + 2);
    this.release = Math.exp(-1 / (RELEASE * sampleRate));
  }

  /** @param decibels what nothing passes */
  take(decibels: number): void {
    const ceiling = 10 ** (decibels / 20);
    // What is on its way may be louder than what is let pass now.
    if (ceiling < this.ceiling) this.quiet = 0;
    this.ceiling = ceiling;
  }

  /** Works in place. @returns the smallest factor, 1 where nothing was held back */
  process(left: Float32Array, right: Float32Array, frames: number): number {
    const { ceiling } = this;
    let peak = 0;
    for (let i = 0; i < frames; i++) {
      const l = left[i] < 0 ? -left[i] : left[i];
      const r = right[i] < 0 ? -right[i] : right[i];
      if (l > peak) peak = l;
      if (r > peak) peak = r;
    }
    if (peak * MOST_OVER <= ceiling && this.held === 1 && this.quiet > 2 * this.delay) {
      this.pass(left, right, frames);
      return 1;
    }
    let least = 1;
    const { lines, factors, delay } = this;
    const [lineLeft, lineRight] = lines;
    // Small errors of what is added and taken away do not gather: they begin anew with each block.
    this.sum = factors.reduce((a, b) => a + b, 0);
    for (let i = 0; i < frames; i++) {
      const l = left[i];
      const r = right[i];
      const size = this.truePeak(l, r);
      const need = this.need(size > ceiling ? ceiling / size : 1);
      this.held = need < this.held ? need : need + (this.held - need) * this.release;
      if (1 - this.held < NOTHING) this.held = 1;
      this.quiet = this.held < 1 ? 0 : this.quiet + 1;
      const { at, turn } = this;
      this.sum += this.held - factors[turn];
      factors[turn] = this.held;
      this.turn = turn + 1 === factors.length ? 0 : turn + 1;
      const factor = this.sum / factors.length;
      if (factor < least) least = factor;
      left[i] = within(lineLeft[at] * factor, ceiling);
      right[i] = within(lineRight[at] * factor, ceiling);
      lineLeft[at] = l;
      lineRight[at] = r;
      this.at = at + 1 === delay ? 0 : at + 1;
    }
    return least;
  }

  /** Nothing is loud: all comes out as it went in, only later. */
  private pass(left: Float32Array, right: Float32Array, frames: number): void {
    const { delay } = this;
    this.count = 0;
    this.sum = this.factors.length;
    this.remember(left, right, frames);
    let { at } = this;
    [left, right].forEach((side, n) => {
      const line = this.lines[n];
      ({ at } = this);
      for (let i = 0; i < frames; i++) {
        const sample = side[i];
        side[i] = line[at];
        line[at] = sample;
        if (++at === delay) at = 0;
      }
    });
    this.at = at;
  }

  /** Keeps the end of a block, for what lies between its samples and the next. */
  private remember(left: Float32Array, right: Float32Array, frames: number): void {
    for (let i = Math.max(0, frames - TAPS); i < frames; i++) this.push(left[i], right[i]);
  }

  private push(left: number, right: number): void {
    const { tap } = this;
    const [lastLeft, lastRight] = this.last;
    lastLeft[tap] = lastLeft[tap + TAPS] = left;
    lastRight[tap] = lastRight[tap + TAPS] = right;
    this.tap = tap + 1 === TAPS ? 0 : tap + 1;
  }

  /** Takes a sample of each side. @returns the larger of it and of what lies between the two samples in the middle */
  private truePeak(left: number, right: number): number {
    this.push(left, right);
    let most = Math.max(Math.abs(left), Math.abs(right));
    const { tap, ceiling } = this;
    for (const last of this.last) {
      // Between two soft samples among soft ones nothing is loud.
      let around = 0;
      for (let i = tap; i < tap + TAPS; i++) around = Math.max(around, Math.abs(last[i]));
      if (around * MOST_OVER <= ceiling) continue;
      for (const weights of BETWEEN) {
        let value = 0;
        for (let i = 0; i < TAPS; i++) value += weights[i] * last[tap + i];
        if (value > most) most = value;
        else if (-value > most) most = -value;
      }
    }
    return most;
  }

  /** The smallest factor of those of the last samples and of this one. */
  private need(factor: number): number {
    const { needed, since } = this;
    const size = needed.length;
    this.now++;
    if (this.count > 0 && since[this.first] < this.now - this.delay - TAPS) {
      this.first = (this.first + 1) % size;
      this.count--;
    }
    while (this.count > 0 && needed[(this.first + this.count - 1) % size] >= factor) this.count--;
    const to = (this.first + this.count++) % size;
    needed[to] = factor;
    since[to] = this.now;
    return needed[this.first];
  }

  /** Whether something that was put in has not come out yet. */
  get isSounding(): boolean {
    const heard = (line: Float32Array) => line.some((sample) => sample !== 0);
    return this.lines.some(heard);
  }
}

/** What rounding leaves over the ceiling is cut. */
function within(sample: number, ceiling: number): number {
  return sample > ceiling ? ceiling : sample < -ceiling ? -ceiling : sample;
}
