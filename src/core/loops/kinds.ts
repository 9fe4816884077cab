import FFT from 'fft.js';
import type { Hertz, Samples } from '../time';

/** What a slice of a loop seems to be. */
export const SLICE_KINDS = ['kick', 'snare', 'hat', 'other'] as const;
export type SliceKind = (typeof SLICE_KINDS)[number];

const FRAME = 4096;
/** Bands that strokes are compared by, in Hz. */
const EDGES: readonly Hertz[] = [0, 60, 130, 250, 500, 1000, 2000, 3500, 7000, 11_000, Infinity];
/** Strokes whose bands are this much alike are one stroke: the cosine of the angle between their square roots. */
const ALIKE = 0.9;

/**
 * Tells slices by where their energy lies: low is a kick, high a hat, both or the middle a snare. What rings on from
 * before a slice is not part of it, and a stroke that is like a louder one is what that is, wherever it stands.
 * @param starts where the slices begin, in order; each lasts until the next
 */
export function kindsOfSlices(
  samples: Float32Array,
  starts: readonly Samples[],
  rate: Hertz,
): SliceKind[] {
  const strokes = starts.map((from, n) => {
    const end = starts[n + 1] ?? samples.length;
    return strokeAt(samples, from, Math.min(end, from + FRAME), rate);
  });
  const order = [...strokes.keys()].sort((a, b) => sumOf(strokes[b]) - sumOf(strokes[a]));
  const known: { stroke: Float64Array; kind: SliceKind }[] = [];
  const kinds = new Array<SliceKind>(strokes.length);
  for (const n of order) {
    const stroke = strokes[n];
    const like = known.find((one) => likeness(one.stroke, stroke) >= ALIKE);
    kinds[n] = like?.kind ?? kindOf(stroke);
    if (!like) known.push({ stroke, kind: kinds[n] });
  }
  return kinds;
}

/** Energy that a stroke adds in each band, over what rings already. */
function strokeAt(samples: Float32Array, from: Samples, to: Samples, rate: Hertz): Float64Array {
  const length = Math.max(1, to - from);
  const after = bandsOf(samples.subarray(from, to), rate);
  const before = bandsOf(
    samples
      .subarray(Math.max(0, from - length), from)
      .slice()
      .reverse(),
    rate,
  );
  return after.map((energy, band) => Math.max(0, energy - before[band]));
}

/** Energies of bands of what begins loud: later samples weigh less. */
function bandsOf(samples: Float32Array, rate: Hertz): Float64Array {
  const fft = new FFT(FRAME);
  const frame = new Float64Array(FRAME);
  for (let i = 0; i < Math.min(FRAME, samples.length); i++) {
    frame[i] = samples[i] * (0.5 + 0.5 * Math.cos((Math.PI * i) / FRAME));
  }
  const out = fft.createComplexArray();
  fft.realTransform(out, frame);
  const bands = new Float64Array(EDGES.length - 1);
  for (let k = 1; k < FRAME / 2; k++) {
    const band = EDGES.findLastIndex((edge) => edge <= (k * rate) / FRAME);
    bands[band] += out[2 * k] ** 2 + out[2 * k + 1] ** 2;
  }
  return bands;
}

const sumOf = (bands: Float64Array) => bands.reduce((a, b) => a + b, 0);

function likeness(a: Float64Array, b: Float64Array): number {
  const both = a.reduce((sum, x, i) => sum + Math.sqrt(x * b[i]), 0);
  return both / (Math.sqrt(sumOf(a) * sumOf(b)) || 1);
}

function kindOf(stroke: Float64Array): SliceKind {
  const all = sumOf(stroke);
  const between = (low: Hertz, high: Hertz) =>
    stroke.reduce((sum, x, i) => sum + (EDGES[i] >= low && EDGES[i + 1] <= high ? x : 0), 0);
  if (all === 0) return 'other';
  if (between(0, 130) > 0.55 * all) return 'kick';
  if (between(3500, Infinity) > 0.6 * all) return 'hat';
  if (between(130, 3500) > 0.25 * all && between(3500, Infinity) > 0.02 * all) return 'snare';
  return 'other';
}
