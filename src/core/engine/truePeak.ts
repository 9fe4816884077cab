import type { Samples } from '../time';

/** Oversampling factor of the true peak. */
const OVER = 4;
/** Samples on either side that decide what lies between two. */
export const REACH = 6;
export const TAPS = 2 * REACH;

/**
 * Weights of the samples around what lies a quarter, a half and three quarters of the way from one sample to
 * the next: a sinc in a Kaiser-like (cosine squared) window. Source: ITU-R BS.1770-5, annex 2, which asks for
 * peaks of the signal four times oversampled.
 */
export const BETWEEN: readonly Float64Array[] = Array.from({ length: OVER - 1 }, (_, n) => {
  const share = (n + 1) / OVER;
  const weights = Float64Array.from({ length: TAPS }, (_, tap) => {
    const x = tap - (REACH - 1) - share;
    const sinc = Math.sin(Math.PI * x) / (Math.PI * x);
    return sinc * Math.cos((Math.PI * x) / (2 * REACH + 1)) ** 2;
  });
  const sum = weights.reduce((a, b) => a + b, 0);
  return weights.map((weight) => weight / sum);
});

/** No true peak is larger than the largest sample times this. */
export const MOST_OVER = Math.max(
  ...BETWEEN.map((weights) => weights.reduce((sum, weight) => sum + Math.abs(weight), 0)),
);

/** Measures the true peak of two sides: the largest of their samples and of what a converter makes between them. */
export class TruePeakMeter {
  /** The true peak up to now, 1 is full scale. The last samples count as if silence followed. */
  get peak(): number {
    const ends = this.last.map((side) => [...side, ...new Array<number>(TAPS).fill(0)]);
    return Math.max(this.most, ...ends.map((side) => largestBetween(side, this.most)));
  }

  private most = 0;
  /** The last samples of each side, oldest first. */
  private readonly last: readonly [Float64Array, Float64Array] = [
    new Float64Array(TAPS),
    new Float64Array(TAPS),
  ];

  /** Takes what comes next. */
  add(left: Float32Array, right: Float32Array, frames: Samples = left.length): void {
    [left, right].forEach((side, n) => {
      const row = new Float64Array(TAPS + frames);
      row.set(this.last[n]);
      row.set(side.subarray(0, frames), TAPS);
      for (let i = 0; i < frames; i++) this.most = Math.max(this.most, Math.abs(side[i]));
      this.most = largestBetween(row, this.most);
      this.last[n].set(row.subarray(row.length - TAPS));
    });
  }
}

/** The largest of what lies between the samples of a row, where it is larger than `most`. */
function largestBetween(row: ArrayLike<number>, most: number): number {
  // How many of the samples from here back are too soft for anything among them to be larger.
  let soft = 0;
  for (let i = 0; i < row.length; i++) {
    soft = Math.abs(row[i]) * MOST_OVER <= most ? soft + 1 : 0;
    if (i < TAPS - 1 || soft >= TAPS) continue;
    for (const weights of BETWEEN) {
      let value = 0;
      for (let tap = 0; tap < TAPS; tap++) value += weights[tap] * row[i - TAPS + 1 + tap];
      most = Math.max(most, Math.abs(value));
    }
  }
  return most;
}
