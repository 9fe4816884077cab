import FFT from 'fft.js';
import type { Hertz, Samples } from '../time';

/** Frames of this length, this far apart, in samples at 48 kHz. */
const FRAME = 1024;
const HOP = 256;
/** The threshold follows the median of so many frames to each side. */
const AROUND = 12;
/** No two onsets are nearer than this, in seconds. */
const APART = 0.035;
/** Magnitudes are taken as logarithms of 1 and so many times their size: soft strokes count too. */
const COMPRESSION = 100;

/**
 * Where strokes begin: peaks of the spectral flux above a threshold that follows its median. Source: Dixon,
 * "Onset detection revisited", DAFx 2006; log magnitudes as in Böck, Krebs and Schedl, ISMIR 2012.
 * @param threshold 0 finds the softest, 1 the loudest only
 * @returns sample numbers in order, each just before the rise
 */
export function onsetsOf(samples: Float32Array, rate: Hertz, threshold = 0.3): Samples[] {
  const flux = fluxOf(samples);
  const top = flux.reduce((a, b) => Math.max(a, b), 0);
  if (top === 0) return [];
  const apart = Math.max(1, Math.round((APART * rate) / HOP));
  const found: Samples[] = [];
  let last = -Infinity;
  for (let n = 0; n < flux.length; n++) {
    const from = Math.max(0, n - AROUND);
    const around = flux.slice(from, n + AROUND + 1);
    const median = [...around].sort((a, b) => a - b)[around.length >> 1];
    const near = flux.slice(Math.max(0, n - 3), n + 4);
    const isPeak = flux[n] >= Math.max(...near);
    if (!isPeak || flux[n] < median * 1.3 + top * (0.03 + 0.6 * threshold) || n - last < apart)
      continue;
    last = n;
    found.push(riseNear(samples, n * HOP, rate));
  }
  return [...new Set(found)].sort((a, b) => a - b);
}

const WINDOW = Float64Array.from(
  { length: FRAME },
  (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / FRAME),
);

/** How much each frame has more than the one before it, in all its bins. */
function fluxOf(samples: Float32Array): Float64Array {
  const fft = new FFT(FRAME);
  const frame = new Float64Array(FRAME);
  const out = fft.createComplexArray();
  const count = Math.ceil(samples.length / HOP);
  const flux = new Float64Array(count);
  let before = new Float64Array(FRAME / 2);
  for (let n = 0; n < count; n++) {
    const middle = n * HOP;
    for (let i = 0; i < FRAME; i++) {
      const at = middle - FRAME / 2 + i;
      frame[i] = at < 0 || at >= samples.length ? 0 : samples[at] * WINDOW[i];
    }
    fft.realTransform(out, frame);
    const now = new Float64Array(FRAME / 2);
    for (let k = 0; k < FRAME / 2; k++) {
      const size = Math.sqrt(out[2 * k] * out[2 * k] + out[2 * k + 1] * out[2 * k + 1]);
      now[k] = Math.log(1 + COMPRESSION * size);
      if (now[k] > before[k]) flux[n] += now[k] - before[k];
    }
    before = now;
  }
  return flux;
}

/** The last quiet moment before the steepest rise around a frame, to the sample. */
function riseNear(samples: Float32Array, middle: Samples, rate: Hertz): Samples {
  const step = Math.max(8, Math.round(rate / 2000));
  const from = Math.max(0, middle - FRAME);
  const to = Math.min(samples.length - step, middle + FRAME / 2);
  const power = (at: number) => {
    let sum = 0;
    for (let i = at; i < at + step; i++) sum += samples[i] * samples[i];
    return sum;
  };
  let steepest = from;
  let most = 0;
  let before = power(from);
  for (let at = from + step; at < to; at += step) {
    const now = power(at);
    const rise = now - before;
    if (rise > most) {
      most = rise;
      steepest = at;
    }
    before = now;
  }
  // Back to where it is softer than a twentieth of what follows.
  let at = steepest;
  const loud = power(steepest);
  while (at - step >= from && power(at - step) > loud / 20) at -= step;
  return Math.max(0, at);
}
