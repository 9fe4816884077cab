import FFT from 'fft.js';
import type { Hertz, Samples } from '../time';

/** Frames of this length, this far apart, in samples at 48 kHz. */
const FRAME = 1024;
const HOP = 256;
/** Edges of the bands, in Hz: kick, shells, snares, and cymbals from low to high. */
const EDGES: readonly Hertz[] = [0, 120, 250, 500, 1000, 2000, 4000, 8000, Infinity];
/** Frames that a band is compared with (85 ms), but for the last ones, in which a stroke may have begun. */
const PAST = 16;
const LAG = 2;
/** Standard deviations over the mean of its past that a band must exceed. */
const OUT = 2;
/** A band that is this much softer than the loudest is noise. */
const FAINT = 0.05;
/** Bands whose mean is taken: one alone may be the flutter of something that rings. */
const BANDS = 3;
/** Least novelty of a stroke at the thresholds 0 and 1, as a share of the strongest. */
const SOFTEST = 0.012;
const LOUDEST = 0.6;
/** No two onsets are nearer than this, in seconds. */
const APART = 0.035;
/** Half milliseconds before and after a moment whose mean powers are compared. */
const BEFORE = 10;
const AFTER = 4;
/** So far around the middle of a frame a rise is looked for, in samples. */
const EARLIEST = 640;
const LATEST = 256;
/** Magnitudes are taken as logarithms of 1 and so many times their size: soft strokes count too. */
const COMPRESSION = 100;

/**
 * Where strokes begin: peaks of the spectral flux, band by band against the band's own past, so that a stroke is found
 * under what still rings. Source: Dixon, "Onset detection revisited", DAFx 2006; log magnitudes, and flux against the
 * largest of neighbouring bins, as in Böck and Widmer, "Maximum filter vibrato suppression for onset detection",
 * DAFx 2013.
 * @param threshold 0 finds the softest, 1 the loudest only
 * @returns sample numbers in order, each just before the rise
 */
export function onsetsOf(samples: Float32Array, rate: Hertz, threshold = 0.2): Samples[] {
  const novelty = noveltyOf(fluxByBand(samples, rate));
  const least = SOFTEST * (LOUDEST / SOFTEST) ** threshold;
  const apart = Math.max(1, Math.round((APART * rate) / HOP));
  const isPeak = (n: number) =>
    novelty[n] >= least && !novelty.subarray(Math.max(0, n - 3), n + 4).some((x) => x > novelty[n]);
  const peaks = [...novelty.keys()].filter(isPeak).sort((x, y) => novelty[y] - novelty[x]);
  // The stronger of two that are too near stays: so a lower threshold finds all that a higher one does.
  const near = new Uint8Array(novelty.length);
  const found: Samples[] = [];
  for (const n of peaks) {
    if (near[n]) continue;
    near.fill(1, Math.max(0, n - apart + 1), n + apart);
    found.push(riseNear(samples, n * HOP, rate));
  }
  return [...new Set(found)].sort((a, b) => a - b);
}

/** How far each frame stands out of what came before it, 1 at most: the mean of the bands in which it does most. */
function noveltyOf(bands: readonly Float64Array[]): Float64Array {
  const out = bands.map(standingOut);
  const tops = out.map((band) => band.reduce((a, b) => Math.max(a, b), 0));
  const loudest = Math.max(...tops);
  const heard = out.flatMap((band, n) =>
    tops[n] > FAINT * loudest ? [band.map((value) => value / tops[n])] : [],
  );
  const length = bands[0]?.length ?? 0;
  return new Float64Array(length).map((_, n) => {
    const most = heard.map((band) => band[n]).sort((a, b) => b - a);
    return most.slice(0, BANDS).reduce((a, b) => a + b, 0) / BANDS;
  });
}

/** How far each frame exceeds what the frames before it let expect. */
function standingOut(band: Float64Array): Float64Array {
  return band.map((value, n) => {
    const past = band.subarray(Math.max(0, n - PAST), Math.max(0, n - LAG));
    const count = Math.max(1, past.length);
    const mean = past.reduce((a, b) => a + b, 0) / count;
    const square = past.reduce((a, b) => a + b * b, 0) / count;
    const deviation = Math.sqrt(Math.max(0, square - mean * mean));
    return Math.max(0, value - mean - OUT * deviation);
  });
}

const WINDOW = Float64Array.from(
  { length: FRAME },
  (_, i) => 0.5 - 0.5 * Math.cos((2 * Math.PI * i) / FRAME),
);

/** By bands: how much each frame has more than the one two before it, a bin and its neighbours together. */
function fluxByBand(samples: Float32Array, rate: Hertz): Float64Array[] {
  const fft = new FFT(FRAME);
  const frame = new Float64Array(FRAME);
  const out = fft.createComplexArray();
  const bins = FRAME / 2;
  const bandOf = Array.from({ length: bins }, (_, k) =>
    EDGES.findLastIndex((edge) => edge <= (k * rate) / FRAME),
  );
  const count = Math.ceil(samples.length / HOP);
  const flux = EDGES.slice(1).map(() => new Float64Array(count));
  let [before, last] = [new Float64Array(bins), new Float64Array(bins)];
  for (let n = 0; n < count; n++) {
    for (let i = 0; i < FRAME; i++) {
      const at = n * HOP - FRAME / 2 + i;
      frame[i] = at < 0 || at >= samples.length ? 0 : samples[at] * WINDOW[i];
    }
    fft.realTransform(out, frame);
    const now = new Float64Array(bins);
    for (let k = 0; k < bins; k++) {
      const size = Math.sqrt(out[2 * k] * out[2 * k] + out[2 * k + 1] * out[2 * k + 1]);
      now[k] = Math.log(1 + COMPRESSION * size);
      const largest = Math.max(before[k], before[k - 1] ?? 0, before[k + 1] ?? 0);
      if (now[k] > largest) flux[bandOf[k]][n] += now[k] - largest;
    }
    [before, last] = [last, now];
  }
  return flux;
}

/**
 * The last quiet moment before the steepest rise around a frame, to the sample. What rings on is no rise: each moment
 * is held against the ones right before it, in the samples and in their differences, in which soft cymbals stand out
 * of loud drums.
 */
function riseNear(samples: Float32Array, middle: Samples, rate: Hertz): Samples {
  const step = Math.max(8, Math.round(rate / 2000));
  // The flux is largest where the rise lies in the middle of the frames it is between.
  const first = middle - EARLIEST;
  const from = first - BEFORE * step;
  const power = (at: number, differences: boolean) => {
    let sum = 0;
    for (let i = Math.max(0, at); i < Math.min(samples.length, at + step); i++) {
      const x = differences ? samples[i] - (samples[i - 1] ?? 0) : samples[i];
      sum += x * x;
    }
    return sum;
  };
  const steps = BEFORE + Math.ceil((EARLIEST + LATEST) / step) + AFTER;
  let best = { rise: 0, at: BEFORE, quiet: 0, powers: [] as number[] };
  for (const differences of [false, true]) {
    const powers = Array.from({ length: steps }, (_, i) => power(from + i * step, differences));
    const floor = 1e-9 + powers.reduce((a, b) => Math.max(a, b), 0) / 1000;
    for (let i = BEFORE; i < steps - AFTER; i++) {
      const before = powers.slice(i - BEFORE, i);
      const mean = before.reduce((a, b) => a + b, 0) / before.length;
      const after = powers.slice(i, i + AFTER);
      const now = after.reduce((a, b) => a + b, 0) / after.length;
      const rise = now / (mean + floor);
      if (rise > best.rise) best = { rise, at: i, quiet: mean, powers };
    }
  }
  // Where a twentieth of the rise is done.
  const { powers, quiet } = best;
  const most = Math.max(0, ...powers.slice(best.at, best.at + AFTER));
  const begun = quiet + (most - quiet) / 20;
  let { at } = best;
  while (at < best.at + AFTER && powers[at] < begun) at++;
  while (at > best.at - AFTER && powers[at - 1] > begun) at--;
  return Math.max(0, Math.min(samples.length - 1, from + at * step));
}
