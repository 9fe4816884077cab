import FFT from 'fft.js';
import type { Hertz } from '../time';

/** What a slice of a loop seems to be. */
export const SLICE_KINDS = ['kick', 'snare', 'hat', 'other'] as const;
export type SliceKind = (typeof SLICE_KINDS)[number];

const FRAME = 4096;

/** Tells a slice by where its energy lies: low is a kick, high a hat, both or the middle a snare. */
export function kindOfSlice(samples: Float32Array, rate: Hertz): SliceKind {
  const fft = new FFT(FRAME);
  const frame = new Float64Array(FRAME);
  for (let i = 0; i < Math.min(FRAME, samples.length); i++) {
    frame[i] = samples[i] * (0.5 + 0.5 * Math.cos((Math.PI * i) / FRAME));
  }
  const out = fft.createComplexArray();
  fft.realTransform(out, frame);
  const share = { low: 0, middle: 0, high: 0 };
  for (let k = 1; k < FRAME / 2; k++) {
    const frequency = (k * rate) / FRAME;
    const power = out[2 * k] ** 2 + out[2 * k + 1] ** 2;
    share[frequency < 130 ? 'low' : frequency < 3500 ? 'middle' : 'high'] += power;
  }
  const all = share.low + share.middle + share.high;
  if (all === 0) return 'other';
  if (share.low > 0.55 * all) return 'kick';
  if (share.high > 0.6 * all) return 'hat';
  if (share.middle > 0.25 * all && share.high > 0.02 * all) return 'snare';
  return 'other';
}
