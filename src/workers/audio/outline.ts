import type { Encoding } from '../../core/deliver';
import { TruePeakMeter } from '../../core/engine';
import type { Samples } from '../../core/time';

/** A waveform on the page has so many points. */
const POINTS = 900;

/** A file as it is seen from afar: the loudest of each of its stretches, and its true peak. */
export class Outline {
  readonly points = new Float32Array(POINTS);
  frames: Samples = 0;
  private readonly meter = new TruePeakMeter();

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
    }
    this.meter.add(left, right);
    this.frames += left.length;
  }

  /** The true peak, 1 is full scale. */
  get peak(): number {
    return this.meter.peak;
  }
}
