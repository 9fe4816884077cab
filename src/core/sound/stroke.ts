import type { Hertz, Seconds } from '../time';
import type { FilterSetting } from '../model';
import { filtered } from './biquad';
import { between, type Random } from '../random';

/** What is at hand while one stroke is computed. */
export interface Bench {
  sampleRate: Hertz;
  random: Random;
}

/** Adds up the parts of a sound over a fixed length. */
export class Stroke {
  readonly samples: Float32Array;

  constructor(
    readonly bench: Bench,
    length: Seconds,
  ) {
    this.samples = new Float32Array(Math.ceil(length * bench.sampleRate));
  }

  /** A drumhead or bar: a sine whose pitch falls by `drop` (a share of itself) as it decays. */
  mode(options: {
    frequency: Hertz;
    level: number;
    decay: Seconds;
    drop?: number;
    dropTime?: Seconds;
  }): this {
    const { frequency, level, decay, drop = 0, dropTime = 0.03 } = options;
    const { sampleRate, random } = this.bench;
    const strayed = frequency * between(random, 0.996, 1.004);
    const fall = Math.exp(-1 / (decay * sampleRate));
    const dropFall = Math.exp(-1 / (dropTime * sampleRate));
    let phase = 0;
    let amplitude = level * between(random, 0.94, 1.06);
    let bend = drop;
    for (let i = 0; i < this.samples.length; i++) {
      this.samples[i] += Math.sin(phase) * amplitude;
      phase += (2 * Math.PI * strayed * (1 + bend)) / sampleRate;
      amplitude *= fall;
      bend *= dropFall;
    }
    return this;
  }

  /**
   * Many partials without harmony, as a cymbal has them: spread evenly on a logarithmic scale and
   * strayed, higher ones dying sooner.
   */
  plate(options: {
    low: Hertz;
    high: Hertz;
    partials: number;
    level: number;
    decay: Seconds;
  }): this {
    const { low, high, partials, level, decay } = options;
    const { sampleRate, random } = this.bench;
    for (let n = 0; n < partials; n++) {
      const share = (n + between(random, 0, 1)) / partials;
      const frequency = low * (high / low) ** share;
      const turn = (2 * Math.PI * Math.min(frequency, sampleRate * 0.45)) / sampleRate;
      const fall = Math.exp(-1 / (decay * (1.2 - 0.8 * share) * sampleRate));
      // Thin metal rings more in its upper partials than a string would.
      const amplitude = (level / Math.sqrt(partials)) * between(random, 0.3, 1) * (0.3 + share);
      // A decaying rotation: one complex multiplication a sample instead of a sine.
      const re = Math.cos(turn) * fall;
      const im = Math.sin(turn) * fall;
      const phase = between(random, 0, 2 * Math.PI);
      let x = amplitude * Math.cos(phase);
      let y = amplitude * Math.sin(phase);
      for (let i = 0; i < this.samples.length; i++) {
        this.samples[i] += y;
        const next = x * re - y * im;
        y = x * im + y * re;
        x = next;
      }
    }
    return this;
  }

  /** Noise through filters, dying away; `swell` is how long it takes to come up. */
  noise(options: {
    level: number;
    decay: Seconds;
    filters: FilterSetting[];
    swell?: Seconds;
    from?: Seconds;
  }): this {
    const { level, decay, filters, swell = 0, from = 0 } = options;
    const { sampleRate, random } = this.bench;
    const start = Math.round(from * sampleRate);
    // Ten decays are 87 dB down: no need to compute silence.
    const length = Math.min(this.samples.length - start, Math.ceil(decay * 10 * sampleRate));
    if (length <= 0) return this;
    const grain = new Float32Array(length);
    for (let i = 0; i < length; i++) grain[i] = random() * 2 - 1;
    for (const setting of filters) filtered(grain, setting, sampleRate);
    const fall = Math.exp(-1 / (decay * sampleRate));
    const rise = swell > 0 ? 1 - Math.exp(-1 / (swell * sampleRate)) : 1;
    let amplitude = level;
    let up = swell > 0 ? 0 : 1;
    for (let i = 0; i < length; i++) {
      up += (1 - up) * rise;
      this.samples[start + i] += grain[i] * amplitude * up;
      amplitude *= fall;
    }
    return this;
  }

  /** Warms the sound by bending its peaks, as a struck shell and a microphone do. */
  drive(amount: number): this {
    for (let i = 0; i < this.samples.length; i++) {
      this.samples[i] = Math.tanh(this.samples[i] * amount) / amount;
    }
    return this;
  }

  /** The samples with a short rise at the start and a fade at the end, so that neither clicks. */
  done(): Float32Array {
    const { sampleRate } = this.bench;
    const rise = Math.max(2, Math.round(0.0003 * sampleRate));
    const fade = Math.round(0.02 * sampleRate);
    const { samples } = this;
    for (let i = 0; i < rise; i++) samples[i] *= (i + 1) / rise;
    for (let i = 0; i < fade; i++) samples[samples.length - 1 - i] *= i / fade;
    return samples;
  }
}

export const highpass = (frequency: Hertz, q = 0.707): FilterSetting => ({
  kind: 'highpass',
  frequency,
  q,
});
export const lowpass = (frequency: Hertz, q = 0.707): FilterSetting => ({
  kind: 'lowpass',
  frequency,
  q,
});
export const band = (frequency: Hertz, q: number): FilterSetting => ({
  kind: 'bandpass',
  frequency,
  q,
});
