import { Limiter } from '../engine';
import type { Decibels, Hertz, Samples } from '../time';
import type { Encoding } from './encoding';

/**
 * Holds a loop under a ceiling, round and round: what comes to its beginning is what its end left, as when it
 * is played over and over. The file is handed over as it is computed: first what comes after the head of the
 * loop, then the head.
 */
export class LoopLimiter {
  private readonly limiter: Limiter;
  private readonly delay: Samples;
  /** The samples right after the head: the limiter's look-ahead when the head comes round again. */
  private readonly ahead: [number[], number[]] = [[], []];
  /** Samples of the head that are still to come out before what was added does. */
  private late: Samples;
  private least = 1;

  constructor(sampleRate: Hertz, ceiling: Decibels) {
    this.limiter = new Limiter(sampleRate);
    this.limiter.take(ceiling);
    this.delay = this.limiter.delay;
    this.late = this.delay;
  }

  /** Hears a part of the head that is handed over later. */
  prime(left: Float32Array, right: Float32Array): void {
    this.through(left, right);
  }

  /** Takes what comes after the head. */
  async add(left: Float32Array, right: Float32Array, to: Encoding): Promise<void> {
    for (let i = 0; this.ahead[0].length < this.delay && i < left.length; i++) {
      this.ahead[0].push(left[i]);
      this.ahead[1].push(right[i]);
    }
    const out = this.through(left, right);
    const skipped = Math.min(this.late, left.length);
    this.late -= skipped;
    if (skipped < left.length) await to.add(out[0].subarray(skipped), out[1].subarray(skipped));
  }

  /**
   * Takes the head with what rings into it, and hands over what is left.
   * @param rest where what was added goes
   * @param beginning where the head goes
   */
  async turn(
    left: Float32Array,
    right: Float32Array,
    rest: Encoding,
    beginning: Encoding,
  ): Promise<void> {
    const { delay, late } = this;
    const [outLeft, outRight] = this.through(
      followed(left, this.ahead[0], delay),
      followed(right, this.ahead[1], delay),
    );
    if (late < delay) await rest.add(outLeft.slice(late, delay), outRight.slice(late, delay));
    await beginning.add(outLeft.slice(delay), outRight.slice(delay));
  }

  /** The most that was held back, in decibels. */
  get limited(): Decibels {
    return -20 * Math.log10(this.least);
  }

  private through(left: Float32Array, right: Float32Array): [Float32Array, Float32Array] {
    const [outLeft, outRight] = [left.slice(), right.slice()];
    this.least = Math.min(this.least, this.limiter.process(outLeft, outRight, outLeft.length));
    return [outLeft, outRight];
  }
}

/** A head with what comes after it: the rest of the loop, and where that is short the head again. */
function followed(head: Float32Array, after: readonly number[], count: Samples): Float32Array {
  const loop = [...after, ...head.subarray(0, count)];
  const whole = new Float32Array(head.length + count);
  whole.set(head);
  for (let i = 0; i < count; i++) whole[head.length + i] = loop[i % loop.length];
  return whole;
}
