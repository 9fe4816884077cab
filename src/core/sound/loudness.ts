import type { Hertz, Samples } from '../time';
import { Biquad, type Coefficients } from './biquad';

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

/** Loudness is measured in blocks of this length, in seconds, each three quarters over the one before. */
const BLOCK = 0.4;
const STEP = BLOCK / 4;
/** Blocks softer than this are silence, in LUFS; then those so far under the rest are left out, in LU. */
const SILENCE = -70;
const BELOW = 10;

const lufs = (power: number) => -0.691 + 10 * Math.log10(power);
const powerOf = (loudness: number) => 10 ** ((loudness + 0.691) / 10);

/**
 * Integrated loudness of two sides in LUFS, gated; -Infinity for silence. Source: Recommendation ITU-R
 * BS.1770-5, annex 1.
 */
export function integratedLoudness(left: Float32Array, right: Float32Array, rate: Hertz): number {
  const steps = [left, right].map((side) => powersOf(side, rate));
  const blocks: number[] = [];
  for (let i = 0; i + 3 < steps[0].length; i++) {
    let power = 0;
    for (const side of steps) for (let n = i; n < i + 4; n++) power += side[n] / 4;
    blocks.push(power);
  }
  const heard = blocks.filter((power) => power > powerOf(SILENCE));
  if (heard.length === 0) return -Infinity;
  const gate = powerOf(lufs(mean(heard)) - BELOW);
  return lufs(mean(heard.filter((power) => power > gate)));
}

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;

/** The weighted mean power of each step of a side. */
function powersOf(side: Float32Array, rate: Hertz): number[] {
  const weighted = side.slice();
  for (const filter of weighting(rate)) new Biquad(filter).process(weighted, 0, weighted.length);
  const step: Samples = Math.round(STEP * rate);
  const powers: number[] = [];
  for (let from = 0; from + step <= weighted.length; from += step) {
    let sum = 0;
    for (let i = from; i < from + step; i++) sum += weighted[i] * weighted[i];
    powers.push(sum / step);
  }
  return powers;
}
