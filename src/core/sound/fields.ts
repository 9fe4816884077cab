import FFT from 'fft.js';
import type { Hertz } from '../time';
import { between, type Random } from '../random';

/** Where the bands of a field meet, in hertz at any rate; the last one goes up to half the rate. */
const EDGES: readonly Hertz[] = [450, 900, 1700, 2900, 4600, 7000, 10_500];
export const BANDS = EDGES.length + 1;

/** The middle of each band: what its envelope is computed for. */
export const CENTRES: readonly Hertz[] = [
  EDGES[0] * 0.6,
  ...EDGES.slice(1).map((edge, i) => Math.sqrt(edge * EDGES[i])),
  EDGES.at(-1)! * 1.25,
];

/** Neighbouring bands share so much of their edge, in octaves to each side. */
const SHARED = 0.3;

/** Something that rings for ever, in bands that add up to it. Each is a loop: its end meets its start. */
export type Field = readonly Float32Array[];

/** A plate, as a listener hears it. */
export interface Plate {
  /** Modes a kilohertz: it is the same at all heights. */
  density: number;
  low: Hertz;
  high: Hertz;
}

/** The length of a field: long enough for a mode to be told from its neighbours. */
function sizeOf(sampleRate: Hertz): number {
  return 2 ** Math.round(Math.log2(sampleRate * 2.73));
}

/**
 * The modes of a plate that rings for ever. A thin plate has the same number of modes in each hertz:
 * n = S sqrt(3) / (c h) for an area S, a thickness h and the speed of sound c in it. Source: Fletcher and
 * Rossing, "The Physics of Musical Instruments", chapter 3. Each mode is one line of one inverse
 * transform, so that a thousand of them cost what one does.
 */
export function plateField(plate: Plate, sampleRate: Hertz, random: Random): Field {
  const size = sizeOf(sampleRate);
  const spacing = 1000 / plate.density;
  const lines: Line[] = [];
  const high = Math.min(plate.high, sampleRate * 0.46);
  for (let f = plate.low; f < high; f += spacing * between(random, 0.35, 1.65)) {
    // Where modes are excited anywhere on the plate, their strengths spread as Rayleigh's law says.
    const strength = Math.sqrt(-2 * Math.log(1 - 0.999 * random()));
    lines.push({
      bin: Math.round((f * size) / sampleRate),
      strength,
      phase: random() * 2 * Math.PI,
    });
  }
  return inBands(lines, size, sampleRate);
}

/** Noise as a field: a line in each bin. */
export function noiseField(sampleRate: Hertz, random: Random): Field {
  const size = sizeOf(sampleRate);
  const lines: Line[] = [];
  const last = Math.floor(size * 0.46);
  for (let bin = Math.ceil((150 * size) / sampleRate); bin < last; bin++) {
    const strength = Math.sqrt(-2 * Math.log(1 - 0.999 * random()));
    lines.push({ bin, strength, phase: random() * 2 * Math.PI });
  }
  return inBands(lines, size, sampleRate);
}

interface Line {
  bin: number;
  strength: number;
  phase: number;
}

/** The lines as loops of samples, one for each band, all bands together at an even level of 1 a line. */
function inBands(lines: readonly Line[], size: number, sampleRate: Hertz): Float32Array[] {
  const fft = new FFT(size);
  const bands: Float32Array[] = [];
  const spectrum = new Float64Array(2 * size);
  const samples = new Float64Array(2 * size);
  const level = (0.5 * size) / Math.sqrt(lines.length);
  // Two real fields are one complex transform: the second one is turned by a quarter.
  for (let band = 0; band < BANDS; band += 2) {
    spectrum.fill(0);
    for (const { bin, strength, phase } of lines) {
      const f = (bin * sampleRate) / size;
      const first = shareOf(f, band);
      const second = shareOf(f, band + 1);
      if (first === 0 && second === 0) continue;
      const x = level * strength * Math.cos(phase);
      const y = level * strength * Math.sin(phase);
      const mirror = size - bin;
      spectrum[2 * bin] += first * x - second * y;
      spectrum[2 * bin + 1] += first * y + second * x;
      spectrum[2 * mirror] += first * x + second * y;
      spectrum[2 * mirror + 1] += second * x - first * y;
    }
    fft.inverseTransform(samples, spectrum);
    const [real, imaginary] = [new Float32Array(size), new Float32Array(size)];
    for (let i = 0; i < size; i++) {
      real[i] = samples[2 * i];
      imaginary[i] = samples[2 * i + 1];
    }
    bands.push(real, imaginary);
  }
  return bands;
}

/** How much of a frequency is in a band, 0 to 1; over all bands it is 1. */
function shareOf(f: Hertz, band: number): number {
  const from = band === 0 ? 1 : crossed(f, EDGES[band - 1]);
  const to = band === BANDS - 1 ? 0 : crossed(f, EDGES[band]);
  return from - to;
}

/** Goes from 0 to 1 around an edge. */
function crossed(f: Hertz, edge: Hertz): number {
  const octaves = Math.log2(f / edge) / SHARED;
  return octaves <= -1 ? 0 : octaves >= 1 ? 1 : 0.5 + 0.5 * Math.sin((octaves * Math.PI) / 2);
}
