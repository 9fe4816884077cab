import type { Hertz, Seconds } from '../time';
import { between, type Random } from '../random';
import type { FilterSetting } from '../model';
import { filtered } from './biquad';
import { BANDS, CENTRES, type Field } from './fields';

/** What is at hand while one stroke is computed. */
export interface Bench {
  sampleRate: Hertz;
  random: Random;
}

/** How strong something is in the softest strokes and in the hardest. */
export interface Strength {
  soft: number;
  hard: number;
}

/** A time in which something falls by 60 dB. */
export type T60 = Seconds;

/** How long what strikes stays on what is struck, in the softest strokes and in the hardest. */
export interface Contact {
  soft: Seconds;
  hard: Seconds;
}

/** How a band of a field comes and goes. */
export interface BandShape {
  /** Level, as an amplitude. */
  level: number;
  /** How long it takes to come up: the energy of a plate climbs from low modes to high ones. */
  rise?: { soft: Seconds; hard: Seconds };
  slow: T60;
  /** What falls at once beside what stays: how much of it, as a share of what stays. */
  fast?: { share: number; t60: T60 };
}

/** Per second, for an amplitude that falls by 60 dB in a time. */
const fallOf = (t60: T60) => Math.log(1000) / Math.max(1e-4, t60);

/**
 * The force of a stroke at a frequency, as a share of what it is at the lowest ones. Source: the spectrum
 * of a pulse that lasts as long as the contact, smoothed; the contact of two bodies shortens with the
 * fifth root of their speed (Hertz, 1881).
 */
export function forceAt(frequency: Hertz, contact: Seconds): number {
  return 1 / (1 + (2 * frequency * contact) ** 2);
}

/**
 * Adds up a stroke, soft and hard at once: each part is computed once and is in both, so that their
 * phases agree and nothing cancels where the two are mixed.
 */
export class Struck {
  readonly soft: Float32Array;
  readonly hard: Float32Array;

  constructor(
    readonly bench: Bench,
    length: Seconds,
  ) {
    const frames = Math.ceil(length * bench.sampleRate);
    this.soft = new Float32Array(frames);
    this.hard = new Float32Array(frames);
  }

  /** A sine that dies away; with `bend`, its pitch falls by that share of itself as it does. */
  mode(options: {
    frequency: Hertz;
    strength: Strength;
    t60: T60;
    rise?: Seconds;
    bend?: { by: number; time: Seconds };
    phase?: number;
  }): this {
    const { frequency, strength, t60, rise = 0, bend, phase = 0 } = options;
    const { sampleRate, random } = this.bench;
    // No two strokes excite a mode alike.
    const strayed = between(random, 0.84, 1.16);
    const { soft, hard } = this;
    const turn = (2 * Math.PI * frequency) / sampleRate;
    const fall = Math.exp(-fallOf(t60) / sampleRate);
    const frames = Math.min(soft.length, Math.ceil(t60 * 1.2 * sampleRate));
    let x = Math.cos(phase) * strayed;
    let y = Math.sin(phase) * strayed;
    let re = 0;
    let im = 0;
    for (let i = 0; i < frames; i++) {
      // The pitch moves slowly: a step every sixteen samples is as smooth as one every sample.
      if ((i & 15) === 0 && (i === 0 || bend)) {
        const by = bend ? bend.by * Math.exp(-i / (bend.time * sampleRate)) : 0;
        re = Math.cos(turn * (1 + by)) * fall;
        im = Math.sin(turn * (1 + by)) * fall;
      }
      const up = rise > 0 ? 1 - Math.exp(-i / (rise * sampleRate)) : 1;
      soft[i] += y * up * strength.soft;
      hard[i] += y * up * strength.hard;
      const next = x * re - y * im;
      y = x * im + y * re;
      x = next;
    }
    return this;
  }

  /** Noise through filters, those of soft strokes and of hard ones, that dies away. */
  noise(options: {
    strength: Strength;
    t60: T60;
    soft: readonly FilterSetting[];
    hard?: readonly FilterSetting[];
    rise?: Seconds;
    from?: Seconds;
    /** What it is multiplied with, by the second. */
    gate?: (at: Seconds) => number;
  }): this {
    const { t60, rise = 0, from = 0, gate } = options;
    const { sampleRate, random } = this.bench;
    const strayed = between(random, 0.76, 1.24);
    const strength = {
      soft: options.strength.soft * strayed,
      hard: options.strength.hard * strayed,
    };
    const start = Math.round(from * sampleRate);
    const length = Math.min(this.soft.length - start, Math.ceil(t60 * 1.3 * sampleRate));
    if (length <= 0) return this;
    const grain = new Float32Array(length);
    for (let i = 0; i < length; i++) grain[i] = random() * 2 - 1;
    const through = (filters: readonly FilterSetting[]) =>
      filters.reduce<Float32Array>((out, one) => filtered(out, one, sampleRate), grain.slice());
    const dark = through(options.soft);
    const bright = options.hard ? through(options.hard) : dark;
    const fall = Math.exp(-fallOf(t60) / sampleRate);
    let amplitude = 1;
    for (let i = 0; i < length; i++) {
      const up = rise > 0 ? 1 - Math.exp(-i / (rise * sampleRate)) : 1;
      const now = amplitude * up * (gate ? gate(from + i / sampleRate) : 1);
      this.soft[start + i] += dark[i] * now * strength.soft;
      this.hard[start + i] += bright[i] * now * strength.hard;
      amplitude *= fall;
    }
    return this;
  }

  /** A wave that is given by the second, through filters, that dies away. */
  pulses(options: {
    gate: (at: Seconds) => number;
    strength: Strength;
    t60: T60;
    rise?: Seconds;
    filters: readonly FilterSetting[];
  }): this {
    const { gate, strength, t60, rise = 0, filters } = options;
    const { sampleRate } = this.bench;
    const length = Math.min(this.soft.length, Math.ceil(t60 * 1.2 * sampleRate));
    const wave = Float32Array.from({ length }, (_, i) => gate(i / sampleRate));
    for (const one of filters) filtered(wave, one, sampleRate);
    const fall = fallOf(t60) / sampleRate;
    for (let i = 0; i < length; i++) {
      const up = rise > 0 ? 1 - Math.exp(-i / (rise * sampleRate)) : 1;
      const now = wave[i] * Math.exp(-fall * i) * up;
      this.soft[i] += now * strength.soft;
      this.hard[i] += now * strength.hard;
    }
    return this;
  }

  /** A field, read from anywhere in it on, each band with a shape of its own. */
  field(field: Field, contact: Contact, shapeOf: (centre: Hertz) => BandShape): this {
    const { sampleRate, random } = this.bench;
    const size = field[0].length;
    const offset = Math.floor(random() * size);
    for (let band = 0; band < BANDS; band++) {
      const centre = CENTRES[band];
      if (centre > sampleRate * 0.47) break;
      const { level, rise, slow, fast } = shapeOf(centre);
      // No two strokes excite a plate alike, by about a decibel a band.
      const strayed = level * 10 ** (between(random, -3.3, 3.3) / 20);
      const gains = {
        soft: strayed * forceAt(centre, contact.soft),
        hard: strayed * forceAt(centre, contact.hard),
      };
      this.band(field[band], offset, gains, rise, slow, fast);
    }
    return this;
  }

  private band(
    samples: Float32Array,
    offset: number,
    gains: Strength,
    rise: BandShape['rise'],
    slow: T60,
    fast: BandShape['fast'],
  ): void {
    const { sampleRate } = this.bench;
    const { soft, hard } = this;
    const mask = samples.length - 1;
    const perSample = (t60: T60) => Math.exp(-fallOf(t60) / sampleRate);
    const frames = Math.min(soft.length, Math.ceil(Math.max(slow, fast?.t60 ?? 0) * sampleRate));
    const falls = [perSample(slow), perSample(fast?.t60 ?? 1)];
    const climb = (time: Seconds) => Math.exp(-1 / (time * sampleRate));
    const [softClimb, hardClimb] = rise ? [climb(rise.soft), climb(rise.hard)] : [0, 0];
    let stays = 1;
    let goes = fast?.share ?? 0;
    let [softLacks, hardLacks] = rise ? [1, 1] : [0, 0];
    for (let i = 0; i < frames; i++) {
      const now = samples[(offset + i) & mask] * (stays + goes);
      soft[i] += now * gains.soft * (1 - softLacks);
      hard[i] += now * gains.hard * (1 - hardLacks);
      stays *= falls[0];
      goes *= falls[1];
      softLacks *= softClimb;
      hardLacks *= hardClimb;
    }
  }

  /** Bends the peaks of both, as a struck shell and a microphone do. */
  drive(amount: number): this {
    for (const samples of [this.soft, this.hard]) {
      for (let i = 0; i < samples.length; i++) {
        samples[i] = Math.tanh(samples[i] * amount) / amount;
      }
    }
    return this;
  }

  /** The body of the sound, and the edge that comes in with hard strokes; neither clicks at its ends. */
  done(): { body: Float32Array; edge: Float32Array } {
    const { sampleRate } = this.bench;
    const { soft: body, hard: edge } = this;
    for (let i = 0; i < body.length; i++) edge[i] -= body[i];
    const start = Math.max(2, Math.round(0.0002 * sampleRate));
    return { body: ended(body, start, sampleRate), edge: ended(edge, start, sampleRate) };
  }
}

/** What is softer than this share of the loudest sample is not kept at the end: 72 dB. */
const INAUDIBLE = 2.5e-4;

/** Samples that begin and end without a click, as long as anything is heard. */
function ended(samples: Float32Array, start: number, sampleRate: Hertz): Float32Array {
  const loudest = samples.reduce((top, x) => Math.max(top, Math.abs(x)), 0);
  const last = samples.findLastIndex((x) => Math.abs(x) > loudest * INAUDIBLE);
  const kept = samples.slice(0, Math.max(start, last + 1));
  const end = Math.min(kept.length, Math.round(0.05 * sampleRate));
  for (let i = 0; i < Math.min(start, kept.length); i++) kept[i] *= (i + 1) / start;
  for (let i = 0; i < end; i++) kept[kept.length - 1 - i] *= i / end;
  return kept;
}
