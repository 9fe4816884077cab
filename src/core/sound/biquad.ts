import type { FilterSetting } from '../model';
import type { Hertz } from '../time';

/** Coefficients normalised so that a0 is 1, in the order b0, b1, b2, a1, a2. */
export type Coefficients = [b0: number, b1: number, b2: number, a1: number, a2: number];

/**
 * Source: Robert Bristow-Johnson, "Cookbook formulae for audio EQ biquad filter coefficients".
 * The frequency is kept below 0.49 of the sample rate.
 */
export function coefficients(setting: FilterSetting, sampleRate: Hertz): Coefficients {
  const w = (2 * Math.PI * Math.min(setting.frequency, sampleRate * 0.49)) / sampleRate;
  const cos = Math.cos(w);
  const alpha = Math.sin(w) / (2 * setting.q);
  const a = 10 ** ((setting.gain ?? 0) / 40);
  const norm = (b0: number, b1: number, b2: number, a0: number, a1: number, a2: number) =>
    [b0 / a0, b1 / a0, b2 / a0, a1 / a0, a2 / a0] as Coefficients;
  switch (setting.kind) {
    case 'lowpass':
      return norm((1 - cos) / 2, 1 - cos, (1 - cos) / 2, 1 + alpha, -2 * cos, 1 - alpha);
    case 'highpass':
      return norm((1 + cos) / 2, -(1 + cos), (1 + cos) / 2, 1 + alpha, -2 * cos, 1 - alpha);
    case 'bandpass':
      return norm(alpha, 0, -alpha, 1 + alpha, -2 * cos, 1 - alpha);
    case 'peak':
      return norm(1 + alpha * a, -2 * cos, 1 - alpha * a, 1 + alpha / a, -2 * cos, 1 - alpha / a);
    case 'lowshelf': {
      const root = 2 * Math.sqrt(a) * alpha;
      return norm(
        a * (a + 1 - (a - 1) * cos + root),
        2 * a * (a - 1 - (a + 1) * cos),
        a * (a + 1 - (a - 1) * cos - root),
        a + 1 + (a - 1) * cos + root,
        -2 * (a - 1 + (a + 1) * cos),
        a + 1 + (a - 1) * cos - root,
      );
    }
    case 'highshelf': {
      const root = 2 * Math.sqrt(a) * alpha;
      return norm(
        a * (a + 1 + (a - 1) * cos + root),
        -2 * a * (a - 1 + (a + 1) * cos),
        a * (a + 1 + (a - 1) * cos - root),
        a + 1 - (a - 1) * cos + root,
        2 * (a - 1 - (a + 1) * cos),
        a + 1 - (a - 1) * cos - root,
      );
    }
  }
}

/** What a filter does to a frequency, in decibels: the size of its transfer function there. */
export function gainAt([b0, b1, b2, a1, a2]: Coefficients, frequency: Hertz, rate: Hertz): number {
  const w = (2 * Math.PI * frequency) / rate;
  const [c1, s1, c2, s2] = [Math.cos(w), Math.sin(w), Math.cos(2 * w), Math.sin(2 * w)];
  const over = (b0 + b1 * c1 + b2 * c2) ** 2 + (b1 * s1 + b2 * s2) ** 2;
  const under = (1 + a1 * c1 + a2 * c2) ** 2 + (a1 * s1 + a2 * s2) ** 2;
  return 10 * Math.log10(Math.max(1e-12, over / under));
}

/** What filters one after another do to a frequency, in decibels. */
export function gainThrough(
  settings: readonly FilterSetting[],
  frequency: Hertz,
  rate: Hertz,
): number {
  return settings.reduce((sum, one) => sum + gainAt(coefficients(one, rate), frequency, rate), 0);
}

/** A filter with its memory, worked in place (transposed direct form II). */
export class Biquad {
  private z1 = 0;
  private z2 = 0;
  private readonly b0: number;
  private readonly b1: number;
  private readonly b2: number;
  private readonly a1: number;
  private readonly a2: number;

  constructor(c: Coefficients) {
    [this.b0, this.b1, this.b2, this.a1, this.a2] = c;
  }

  process(buffer: Float32Array, from: number, to: number): void {
    const { b0, b1, b2, a1, a2 } = this;
    let { z1, z2 } = this;
    for (let i = from; i < to; i++) {
      const x = buffer[i];
      const y = b0 * x + z1;
      z1 = b1 * x - a1 * y + z2;
      z2 = b2 * x - a2 * y;
      buffer[i] = y;
    }
    this.z1 = z1;
    this.z2 = z2;
  }

  /** This filter and then another, in place, in one pass. */
  processWith(next: Biquad, buffer: Float32Array, to: number): void {
    const { b0, b1, b2, a1, a2 } = this;
    const { b0: c0, b1: c1, b2: c2, a1: d1, a2: d2 } = next;
    let { z1, z2 } = this;
    let { z1: w1, z2: w2 } = next;
    for (let i = 0; i < to; i++) {
      const x = buffer[i];
      const y = b0 * x + z1;
      z1 = b1 * x - a1 * y + z2;
      z2 = b2 * x - a2 * y;
      const out = c0 * y + w1;
      w1 = c1 * y - d1 * out + w2;
      w2 = c2 * y - d2 * out;
      buffer[i] = out;
    }
    this.z1 = z1;
    this.z2 = z2;
    next.z1 = w1;
    next.z2 = w2;
  }

  /**
   * This filter and then another, added to two sides, and the buffer cleared, all in one pass: each
   * sample waits for the one before it in its own filter only, so two filters take hardly longer
   * than one.
   */
  placeWith(
    next: Biquad,
    buffer: Float32Array,
    left: Float32Array,
    right: Float32Array,
    toLeft: number,
    toRight: number,
    to: number,
  ): void {
    const { b0, b1, b2, a1, a2 } = this;
    const { b0: c0, b1: c1, b2: c2, a1: d1, a2: d2 } = next;
    let { z1, z2 } = this;
    let { z1: w1, z2: w2 } = next;
    for (let i = 0; i < to; i++) {
      const x = buffer[i];
      buffer[i] = 0;
      const y = b0 * x + z1;
      z1 = b1 * x - a1 * y + z2;
      z2 = b2 * x - a2 * y;
      const out = c0 * y + w1;
      w1 = c1 * y - d1 * out + w2;
      w2 = c2 * y - d2 * out;
      left[i] += out * toLeft;
      right[i] += out * toRight;
    }
    this.z1 = z1;
    this.z2 = z2;
    next.z1 = w1;
    next.z2 = w2;
  }

  /** Goes on where another filter is. */
  follow(other: Biquad): void {
    this.z1 = other.z1;
    this.z2 = other.z2;
  }

  reset(): void {
    this.z1 = 0;
    this.z2 = 0;
  }
}

/** Filters a whole buffer in place and gives it back. */
export function filtered(
  buffer: Float32Array,
  setting: FilterSetting,
  sampleRate: Hertz,
): Float32Array {
  new Biquad(coefficients(setting, sampleRate)).process(buffer, 0, buffer.length);
  return buffer;
}
