import FFT from 'fft.js';
import type { Hertz, Seconds } from '../time';
import { filtered } from '../sound';

/** What can be measured of a sound that was computed or rendered. */

const power = (samples: Float32Array) => samples.reduce((sum, x) => sum + x * x, 0);
const decibels = (ratio: number) => 10 * Math.log10(Math.max(1e-15, ratio));

/** A stretch of a sound; what is beyond its end is silence. */
export function stretch(samples: Float32Array, rate: Hertz, from: Seconds, to: Seconds) {
  const out = new Float32Array(Math.round((to - from) * rate));
  out.set(samples.subarray(Math.round(from * rate), Math.round(to * rate)));
  return out;
}

/** Mean power of a stretch, in dB. */
export function level(samples: Float32Array, rate: Hertz, from: Seconds, to: Seconds): number {
  const part = stretch(samples, rate, from, to);
  return decibels(power(part) / part.length);
}

/** The power of a stretch in each bin, and how wide a bin is. */
export function spectrum(samples: Float32Array, rate: Hertz, from: Seconds, to: Seconds, pad = 1) {
  const part = stretch(samples, rate, from, to);
  const size = 2 ** Math.ceil(Math.log2(part.length * pad));
  const windowed = new Float64Array(size);
  // Strokes begin at once: only the end of a short stretch is faded.
  part.forEach((x, i) => {
    const share = (i + 0.5) / part.length;
    windowed[i] =
      x * (from > 0 ? Math.sin(Math.PI * share) ** 2 : Math.cos((Math.PI / 2) * share) ** 2);
  });
  const fft = new FFT(size);
  const out = new Float64Array(2 * size);
  fft.realTransform(out, windowed);
  const bins = Float64Array.from(
    { length: size / 2 },
    (_, i) => out[2 * i] ** 2 + out[2 * i + 1] ** 2,
  );
  return { bins, hertz: rate / size };
}

/** The share of a stretch's power that lies between two frequencies, in dB. */
export function share(
  samples: Float32Array,
  rate: Hertz,
  [low, high]: readonly [Hertz, Hertz],
  from: Seconds,
  to: Seconds,
): number {
  const { bins, hertz } = spectrum(samples, rate, from, to);
  const within = bins.subarray(Math.round(low / hertz), Math.round(high / hertz));
  return decibels(within.reduce((a, b) => a + b, 0) / bins.reduce((a, b) => a + b, 0));
}

/** The power between two frequencies in a stretch, in dB. */
export function bandLevel(
  samples: Float32Array,
  rate: Hertz,
  [low, high]: readonly [Hertz, Hertz],
  from: Seconds,
  to: Seconds,
): number {
  const out = [
    { kind: 'highpass', frequency: low, q: 0.707 },
    { kind: 'lowpass', frequency: high, q: 0.707 },
  ] as const;
  const through = out.reduce<Float32Array>(
    (s, setting) => filtered(s, setting, rate),
    samples.slice(),
  );
  return level(through, rate, from, to);
}

/** The middle of a stretch's spectrum, weighted by amplitude. */
export function centroid(samples: Float32Array, rate: Hertz, from: Seconds, to: Seconds): Hertz {
  const { bins, hertz } = spectrum(samples, rate, from, to);
  let sum = 0;
  let all = 0;
  bins.forEach((p, i) => {
    const amplitude = Math.sqrt(p);
    sum += amplitude * i * hertz;
    all += amplitude;
  });
  return sum / all;
}

/**
 * How long a band of a sound takes to fall by 60 dB: a line through its backward integrated energy
 * from 5 to 25 dB below its loudest. Source: Schroeder, "New Method of Measuring Reverberation Time",
 * 1965.
 */
export function t60(samples: Float32Array, rate: Hertz, centre: Hertz): Seconds {
  const setting = { kind: 'bandpass', frequency: centre, q: 2 } as const;
  const band = filtered(filtered(samples.slice(), setting, rate), setting, rate);
  const left = new Float64Array(band.length);
  let sum = 0;
  for (let i = band.length - 1; i >= 0; i--) left[i] = sum += band[i] ** 2;
  const below = (db: number) => left.findIndex((x) => decibels(x / left[0]) <= -db);
  const [five, twentyFive] = [below(5), below(25)];
  return (3 * (twentyFive - five)) / rate;
}

/** Partials that stand 6 dB out of what is around them, a kilohertz. */
export function peaksPerKilohertz(samples: Float32Array, rate: Hertz): number {
  const { bins, hertz } = spectrum(samples, rate, 0.1, 0.6, 2);
  const [low, high] = [1000, 5000].map((f) => Math.round(f / hertz));
  const reach = Math.round(60 / hertz);
  let count = 0;
  for (let i = low; i < high; i++) {
    if (bins[i] <= bins[i - 1] || bins[i] < bins[i + 1]) continue;
    const around = [...bins.subarray(i - reach, i + reach + 1)].sort((a, b) => a - b);
    if (decibels(bins[i] / around[around.length >> 1]) > 6) count++;
  }
  return count / 4;
}

/** How alike the fine spectra of two stretches are, -1 to 1. */
export function alike(
  samples: Float32Array,
  rate: Hertz,
  [low, high]: readonly [Hertz, Hertz],
): number {
  const [a, b] = [
    [0.1, 0.4],
    [0.4, 0.7],
  ].map(([from, to]) => {
    const { bins, hertz } = spectrum(samples, rate, from, to);
    return [...bins.subarray(Math.round(low / hertz), Math.round(high / hertz))].map(Math.sqrt);
  });
  const mean = (xs: number[]) => xs.reduce((sum, x) => sum + x, 0) / xs.length;
  const [ma, mb] = [mean(a), mean(b)];
  const both = a.reduce((sum, x, i) => sum + (x - ma) * (b[i] - mb), 0);
  const spread = (xs: number[], m: number) => xs.reduce((sum, x) => sum + (x - m) ** 2, 0);
  return both / Math.sqrt(spread(a, ma) * spread(b, mb));
}

/** The levels of a sound's first half second in thirds of an octave, in dB. */
export function thirds(samples: Float32Array, rate: Hertz): number[] {
  const { bins, hertz } = spectrum(samples, rate, 0, 0.5);
  const levels: number[] = [];
  for (let f = 100; f < Math.min(14_000, rate * 0.4); f *= 2 ** (1 / 3)) {
    const within = bins.subarray(
      Math.round((f * 2 ** (-1 / 6)) / hertz),
      Math.round((f * 2 ** (1 / 6)) / hertz) + 1,
    );
    levels.push(decibels(within.reduce((a, b) => a + b, 0) / within.length));
  }
  return levels;
}
