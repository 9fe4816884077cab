import type { Encoding } from '../../core/deliver';
import type { Samples } from '../../core/time';

/** A waveform on the page has so many points. */
const POINTS = 900;

/** What a file looks like from afar: the loudest of each of its stretches, and of all. */
export class Outline {
  readonly points = new Float32Array(POINTS);
  peak = 0;
  frames: Samples = 0;

  /** @param length of the file, about: what comes after it is in the last stretch */
  constructor(private readonly length: Samples) {}

  /** Looks at what goes by on its way. @param at which sample of the file the first is */
  watching(encoding: Encoding, at: Samples): Encoding {
    let next = at;
    return {
      add: (left, right) => {
        this.add(next, left, right);
        next += left.length;
        return encoding.add(left, right);
      },
    };
  }

  private add(from: Samples, left: Float32Array, right: Float32Array): void {
    const { points, length } = this;
    for (let i = 0; i < left.length; i++) {
      const loudest = Math.max(Math.abs(left[i]), Math.abs(right[i]));
      const point = Math.min(POINTS - 1, Math.floor(((from + i) / length) * POINTS));
      if (loudest > points[point]) points[point] = loudest;
      if (loudest > this.peak) this.peak = loudest;
    }
    this.frames += left.length;
  }
}
