import type { Decibels, Hertz, Samples, Seconds } from '../time';
import type { Encoding } from './encoding';

/** Levels are compared over stretches of this length, as momentary loudness is measured. */
const STRETCH: Seconds = 0.4;
/** Stretches of the mix that are softer than this (mean square) are not compared: -60 dB. */
const SOFT = 1e-6;

/** Adds stems up and compares the sum with the mix, piece by piece, in the order in which they are rendered. */
export class StemSum {
  private readonly sum: { left: Float32Array; right: Float32Array }[] = [];
  private readonly stretch: Samples;
  /** Energy of the stretch that is compared now: of the stems together, and of the mix. */
  private energy = { stems: 0, mix: 0, samples: 0 };
  private most: Decibels = 0;

  /** @param sampleRate in samples a second */
  constructor(sampleRate: Hertz) {
    this.stretch = Math.round(STRETCH * sampleRate);
  }

  /** Takes a stem from its beginning on. All stems are added before the mix is compared. */
  stem(): Encoding {
    return this.each((at, i, left, right) => {
      const piece = (this.sum[at] ??= this.empty());
      piece.left[i] += left;
      piece.right[i] += right;
    });
  }

  /** Takes the mix from its beginning on. */
  mix(): Encoding {
    return this.each((at, i, left, right) => {
      const piece = this.sum[at];
      const [l, r] = piece ? [piece.left[i], piece.right[i]] : [0, 0];
      const { energy } = this;
      energy.stems += l * l + r * r;
      energy.mix += left * left + right * right;
      if (++energy.samples === this.stretch) this.compare();
    });
  }

  /** By how much the stems together are louder than the mix where they differ most; softer is negative. */
  get apart(): Decibels {
    this.compare();
    return this.most;
  }

  private compare(): void {
    const { stems, mix, samples } = this.energy;
    this.energy = { stems: 0, mix: 0, samples: 0 };
    if (samples === 0 || mix / samples < SOFT) return;
    const apart = 10 * Math.log10(Math.max(stems, 1e-12) / mix);
    if (Math.abs(apart) > Math.abs(this.most)) this.most = apart;
  }

  private empty() {
    const { stretch } = this;
    return { left: new Float32Array(stretch), right: new Float32Array(stretch) };
  }

  private each(take: (at: number, i: Samples, left: number, right: number) => void): Encoding {
    let next = 0;
    return {
      add: (left, right) => {
        for (let n = 0; n < left.length; n++, next++) {
          take(Math.floor(next / this.stretch), next % this.stretch, left[n], right[n]);
        }
      },
    };
  }
}
