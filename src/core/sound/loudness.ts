import type { Hertz, Samples } from '../time';
import type { Coefficients } from './biquad';

/**
 * The two filters of K-weighting at any rate. Source: Recommendation ITU-R BS.1770-5, annex 1, which
 * gives them at 48 kHz; their corner frequencies, gain and quality as found from those by De Man,
 * "Evaluation of Implementations of the EBU R128 Loudness Measurement", AES 145, 2018.
 */
export function weighting(rate: Hertz): [shelf: Coefficients, highpass: Coefficients] {
  const turn = (f: Hertz) => Math.tan((Math.PI * f) / rate);
  const shelf = (): Coefficients => {
    const k = turn(1681.974450955533);
    const q = 0.7071752369554196;
    const high = 10 ** (3.999843853973347 / 20);
    const middle = high ** 0.4996667741545416;
    const a0 = 1 + k / q + k * k;
    return [
      (high + (middle * k) / q + k * k) / a0,
      (2 * (k * k - high)) / a0,
      (high - (middle * k) / q + k * k) / a0,
      (2 * (k * k - 1)) / a0,
      (1 - k / q + k * k) / a0,
    ];
  };
  const highpass = (): Coefficients => {
    const k = turn(38.13547087602444);
    const q = 0.5003270373238773;
    const a0 = 1 + k / q + k * k;
    return [1, -2, 1, (2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0];
  };
  return [shelf(), highpass()];
}

/** Power is summed in steps of this length, in seconds; blocks are four of them, short-term ones thirty. */
const STEP = 0.1;
const BLOCK = 4;
const SHORT = 30;
/** Blocks softer than this are silence, in LUFS; then those so far under the rest are left out, in LU. */
const SILENCE = -70;
const BELOW = 10;

const lufs = (power: number) => (power > 0 ? -0.691 + 10 * Math.log10(power) : -Infinity);
const powerOf = (loudness: number) => 10 ** ((loudness + 0.691) / 10);
const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;

/**
 * Measures the loudness of two sides as they go by. Source: Recommendation ITU-R BS.1770-5, annex 1;
 * short-term after EBU Tech 3341.
 */
export class LoudnessMeter {
  private readonly filters: readonly [Coefficients, Coefficients];
  /** Of both filters, for each side. */
  private readonly memory = new Float64Array(8);
  private readonly step: Samples;
  /** The mean power of the last steps, newest last, and of all blocks that are not silence. */
  private steps: number[] = [];
  private blocks: number[] = [];
  private sum = 0;
  private filled: Samples = 0;

  constructor(rate: Hertz) {
    this.filters = weighting(rate);
    this.step = Math.round(STEP * rate);
  }

  process(left: Float32Array, right: Float32Array, frames: Samples): void {
    for (let from = 0; from < frames;) {
      const to = Math.min(frames, from + this.step - this.filled);
      this.sum += this.power(0, left, from, to) + this.power(1, right, from, to);
      this.passed(to - from);
      from = to;
    }
  }

  /** Both filters in one pass: the second works on a sample while the first is at the next. */
  private power(side: number, samples: Float32Array, from: Samples, to: Samples): number {
    const { memory } = this;
    const [[b0, b1, b2, a1, a2], [c0, c1, c2, d1, d2]] = this.filters;
    const at = side * 4;
    let [z1, z2, w1, w2] = [memory[at], memory[at + 1], memory[at + 2], memory[at + 3]];
    let sum = 0;
    for (let i = from; i < to; i++) {
      const x = samples[i];
      const y = b0 * x + z1;
      z1 = b1 * x - a1 * y + z2;
      z2 = b2 * x - a2 * y;
      const out = c0 * y + w1;
      w1 = c1 * y - d1 * out + w2;
      w2 = c2 * y - d2 * out;
      sum += out * out;
    }
    memory[at] = z1;
    memory[at + 1] = z2;
    memory[at + 2] = w1;
    memory[at + 3] = w2;
    return sum;
  }

  /** Lets frames of silence pass. */
  pass(frames: Samples): void {
    for (let left = frames; left > 0;) {
      const now = Math.min(left, this.step - this.filled);
      this.passed(now);
      left -= now;
    }
  }

  private passed(frames: Samples): void {
    this.filled += frames;
    if (this.filled < this.step) return;
    this.steps.push(this.sum / this.step);
    if (this.steps.length > SHORT) this.steps.shift();
    this.sum = 0;
    this.filled = 0;
    if (this.steps.length < BLOCK) return;
    const power = mean(this.steps.slice(-BLOCK));
    if (power > powerOf(SILENCE)) this.blocks.push(power);
  }

  /** Loudness of the last three seconds, or of less at the start, in LUFS; -Infinity for silence. */
  get shortTerm(): number {
    return this.steps.length > 0 ? lufs(mean(this.steps)) : -Infinity;
  }

  /** Loudness of all since it began, gated, in LUFS; -Infinity for silence. */
  get integrated(): number {
    if (this.blocks.length === 0) return -Infinity;
    const gate = powerOf(lufs(mean(this.blocks)) - BELOW);
    return lufs(mean(this.blocks.filter((power) => power > gate)));
  }

  /** Begins anew. */
  reset(): void {
    this.memory.fill(0);
    this.steps = [];
    this.blocks = [];
    this.sum = 0;
    this.filled = 0;
  }
}

/** Integrated loudness of two sides in LUFS, gated; -Infinity for silence. */
export function integratedLoudness(left: Float32Array, right: Float32Array, rate: Hertz): number {
  const meter = new LoudnessMeter(rate);
  meter.process(left, right, left.length);
  return meter.integrated;
}
