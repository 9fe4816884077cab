import type { Hertz, Samples, Seconds } from '../time';
import { BLOCK } from './block';
import { Reflections } from './reflections';

/** High tones die sooner: share of the last sample that stays in the damping filter. */
const DAMPING = 0.42;
/** Of what rings on, and of what comes back from the walls first. */
const RING_LEVEL = 0.3;
const WALL_LEVEL = 0.85;

/** Delays of the room in milliseconds: far from whole ratios, so that no tone stands out. */
const DELAYS_MS = [29.7, 33.1, 37.3, 41.9, 46.7, 51.1, 57.7, 63.1];

/**
 * A room: what its walls give back first, then eight delays that feed each other.
 * Source: J.-M. Jot, "Digital delay networks for designing artificial reverberators", 1991, with
 * the Householder matrix; gains from the ring time by 10^(-3 delay / ring).
 */
export class Room {
  /** What is sent to it, from both sides of the kit. */
  readonly input = [new Float32Array(BLOCK), new Float32Array(BLOCK)] as const;
  private readonly reflections: Reflections;
  private readonly lines: Float64Array[];
  private gains: number[] = [];
  private readonly at: Int32Array;
  private readonly damped: Float64Array;
  private alive = 0;
  private tail = 0;
  /** For the block that is worked on: what rings, and what the walls give back, by side. */
  private readonly sums = [new Float64Array(BLOCK), new Float64Array(BLOCK)] as const;
  private readonly walls = [new Float64Array(BLOCK), new Float64Array(BLOCK)] as const;

  /** @param ring until it is 60 dB softer */
  constructor(
    private readonly sampleRate: Hertz,
    ring: Seconds,
  ) {
    this.reflections = new Reflections(sampleRate);
    this.lines = DELAYS_MS.map((ms) => new Float64Array(Math.round((ms / 1000) * sampleRate)));
    this.at = new Int32Array(DELAYS_MS.length);
    this.damped = new Float64Array(DELAYS_MS.length);
    this.setRing(ring);
  }

  /** Has it ring longer or shorter from now on: what rings in it goes on. @param ring see the constructor */
  setRing(ring: Seconds): void {
    this.reflections.setRing(ring);
    this.gains = DELAYS_MS.map((ms) => 10 ** ((-3 * ms) / 1000 / ring));
    this.tail = Math.ceil((ring * 1.4 * this.sampleRate) / BLOCK);
  }

  /** Says that something is sent in the coming block. */
  wake(): void {
    this.alive = this.tail;
  }

  get isSounding(): boolean {
    return this.alive > 0;
  }

  /** @param then the level that it has come to at the end of the block */
  mixTo(left: Float32Array, right: Float32Array, frames: number, level = 1, then = level): void {
    if (this.alive === 0) return;
    const { input } = this;
    const [fromLeft, fromRight] = input;
    const [toLeft, toRight] = this.sums;
    const [wallLeft, wallRight] = this.walls;
    wallLeft.fill(0, 0, frames);
    wallRight.fill(0, 0, frames);
    this.reflections.mixTo(input, wallLeft, wallRight, frames);
    this.network(frames);
    const step = (then - level) / frames;
    for (let i = 0; i < frames; i++) {
      const now = level + step * i;
      left[i] += (toLeft[i] * RING_LEVEL + wallLeft[i] * WALL_LEVEL) * now;
      right[i] += (toRight[i] * RING_LEVEL + wallRight[i] * WALL_LEVEL) * now;
      fromLeft[i] = 0;
      fromRight[i] = 0;
    }
    if (--this.alive === 0) this.reset();
  }

  /**
   * What rings: the even delays are heard left, the odd ones right. Written out delay by delay, so that a
   * sample is worked on in registers; every delay lasts longer than a block.
   */
  private network(frames: number): void {
    const { lines, gains, damped, sums } = this;
    const [l0, l1, l2, l3, l4, l5, l6, l7] = lines;
    const [g0, g1, g2, g3, g4, g5, g6, g7] = gains;
    let [d0, d1, d2, d3, d4, d5, d6, d7] = damped;
    let [a0, a1, a2, a3, a4, a5, a6, a7] = this.at;
    const [fromLeft, fromRight] = this.input;
    const [toLeft, toRight] = sums;
    const passed = 1 - DAMPING;
    for (let i = 0; i < frames; i++) {
      d0 = l0[a0] * passed + d0 * DAMPING;
      d1 = l1[a1] * passed + d1 * DAMPING;
      d2 = l2[a2] * passed + d2 * DAMPING;
      d3 = l3[a3] * passed + d3 * DAMPING;
      d4 = l4[a4] * passed + d4 * DAMPING;
      d5 = l5[a5] * passed + d5 * DAMPING;
      d6 = l6[a6] * passed + d6 * DAMPING;
      d7 = l7[a7] * passed + d7 * DAMPING;
      const left = d0 + d2 + d4 + d6;
      const right = d1 + d3 + d5 + d7;
      const shared = (left + right) / 4;
      const inLeft = fromLeft[i];
      const inRight = fromRight[i];
      l0[a0] = inLeft + (d0 - shared) * g0;
      l1[a1] = inRight + (d1 - shared) * g1;
      l2[a2] = inLeft + (d2 - shared) * g2;
      l3[a3] = inRight + (d3 - shared) * g3;
      l4[a4] = inLeft + (d4 - shared) * g4;
      l5[a5] = inRight + (d5 - shared) * g5;
      l6[a6] = inLeft + (d6 - shared) * g6;
      l7[a7] = inRight + (d7 - shared) * g7;
      if (++a0 === l0.length) a0 = 0;
      if (++a1 === l1.length) a1 = 0;
      if (++a2 === l2.length) a2 = 0;
      if (++a3 === l3.length) a3 = 0;
      if (++a4 === l4.length) a4 = 0;
      if (++a5 === l5.length) a5 = 0;
      if (++a6 === l6.length) a6 = 0;
      if (++a7 === l7.length) a7 = 0;
      toLeft[i] = left;
      toRight[i] = right;
    }
    damped.set([d0, d1, d2, d3, d4, d5, d6, d7]);
    this.at.set([a0, a1, a2, a3, a4, a5, a6, a7]);
  }

  reset(): void {
    for (const line of this.lines) line.fill(0);
    this.damped.fill(0);
    this.reflections.reset();
    for (const side of this.input) side.fill(0);
    this.alive = 0;
  }
}

/** What comes back of each repeat. */
const FEEDBACK = 0.42;
const ECHO_LEVEL = 0.7;
/** After so many repeats an echo is 60 dB down: 0.42^8 is 0.001. */
const REPEATS = 8;
const LONGEST_ECHO: Seconds = 2;

/** Repeats that go from side to side. */
export class Echo {
  readonly input = new Float32Array(BLOCK);
  private readonly leftLine: Float32Array;
  private readonly rightLine: Float32Array;
  private length: Samples;
  private at = 0;
  private alive = 0;

  constructor(private readonly sampleRate: Hertz) {
    this.leftLine = new Float32Array(Math.round(LONGEST_ECHO * sampleRate));
    this.rightLine = new Float32Array(this.leftLine.length);
    this.length = Math.round(0.36 * sampleRate);
  }

  /** @param seconds from one repeat to the next, at most 2 */
  setTime(seconds: Seconds): void {
    const length = Math.round(Math.max(0.02, Math.min(LONGEST_ECHO, seconds)) * this.sampleRate);
    if (length === this.length) return;
    this.length = length;
    this.reset();
  }

  wake(): void {
    this.alive = Math.ceil(((REPEATS + 1) * this.length) / BLOCK);
  }

  get isSounding(): boolean {
    return this.alive > 0;
  }

  mixTo(left: Float32Array, right: Float32Array, frames: number, level = 1, then = level): void {
    if (this.alive === 0) return;
    const step = (then - level) / frames;
    const { leftLine, rightLine, input, length } = this;
    for (let i = 0; i < frames; i++) {
      const l = leftLine[this.at];
      const r = rightLine[this.at];
      leftLine[this.at] = input[i] + r * FEEDBACK;
      rightLine[this.at] = l * FEEDBACK;
      if (++this.at >= length) this.at = 0;
      const now = ECHO_LEVEL * (level + step * i);
      left[i] += l * now;
      right[i] += r * now;
      input[i] = 0;
    }
    if (--this.alive === 0) this.reset();
  }

  reset(): void {
    this.leftLine.fill(0);
    this.rightLine.fill(0);
    this.input.fill(0);
    this.at = 0;
    this.alive = 0;
  }
}
