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
  private readonly lines: Float32Array[];
  private readonly gains: number[];
  private readonly at: Int32Array;
  private readonly damped: Float64Array;
  private alive = 0;
  private readonly tail: number;
  /** For the block that is worked on: what each delay gives, its sums by side, and what all share. */
  private readonly heard: Float32Array[];
  private readonly toLeft = new Float64Array(BLOCK);
  private readonly toRight = new Float64Array(BLOCK);
  private readonly shared = new Float64Array(BLOCK);
  private readonly walls = [new Float64Array(BLOCK), new Float64Array(BLOCK)] as const;

  /** @param ring until it is 60 dB softer */
  constructor(sampleRate: Hertz, ring: Seconds) {
    this.reflections = new Reflections(sampleRate, ring);
    this.lines = DELAYS_MS.map((ms) => new Float32Array(Math.round((ms / 1000) * sampleRate)));
    this.gains = DELAYS_MS.map((ms) => 10 ** ((-3 * ms) / 1000 / ring));
    this.at = new Int32Array(DELAYS_MS.length);
    this.damped = new Float64Array(DELAYS_MS.length);
    this.heard = DELAYS_MS.map(() => new Float32Array(BLOCK));
    this.tail = Math.ceil((ring * 1.4 * sampleRate) / BLOCK);
  }

  /** Says that something is sent in the coming block. */
  wake(): void {
    this.alive = this.tail;
  }

  get isSounding(): boolean {
    return this.alive > 0;
  }

  /** Every delay lasts longer than a block, so that each is worked through for all of it at once. */
  mixTo(left: Float32Array, right: Float32Array, frames: number, level = 1): void {
    if (this.alive === 0) return;
    const { lines, gains, at, damped, input, heard, toLeft, toRight, shared } = this;
    const [fromLeft, fromRight] = input;
    const [wallLeft, wallRight] = this.walls;
    const count = lines.length;
    wallLeft.fill(0, 0, frames);
    wallRight.fill(0, 0, frames);
    this.reflections.mixTo(input, wallLeft, wallRight, frames);
    toLeft.fill(0, 0, frames);
    toRight.fill(0, 0, frames);
    for (let n = 0; n < count; n++) {
      const line = lines[n];
      const out = heard[n];
      const side = (n & 1) === 0 ? toLeft : toRight;
      let last = damped[n];
      for (let i = 0, from = at[n]; i < frames; i++) {
        last = line[from] + (last - line[from]) * DAMPING;
        out[i] = last;
        side[i] += last;
        if (++from >= line.length) from = 0;
      }
      damped[n] = last;
    }
    for (let i = 0; i < frames; i++) shared[i] = ((toLeft[i] + toRight[i]) * 2) / count;
    for (let n = 0; n < count; n++) {
      const line = lines[n];
      const out = heard[n];
      const gain = gains[n];
      const side = input[n & 1];
      let to = at[n];
      for (let i = 0; i < frames; i++) {
        line[to] = side[i] + (out[i] - shared[i]) * gain;
        if (++to >= line.length) to = 0;
      }
      at[n] = to;
    }
    const ring = RING_LEVEL * level;
    const wall = WALL_LEVEL * level;
    for (let i = 0; i < frames; i++) {
      left[i] += toLeft[i] * ring + wallLeft[i] * wall;
      right[i] += toRight[i] * ring + wallRight[i] * wall;
      fromLeft[i] = 0;
      fromRight[i] = 0;
    }
    if (--this.alive === 0) this.reset();
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

  mixTo(left: Float32Array, right: Float32Array, frames: number, level = 1): void {
    if (this.alive === 0) return;
    const { leftLine, rightLine, input, length } = this;
    for (let i = 0; i < frames; i++) {
      const l = leftLine[this.at];
      const r = rightLine[this.at];
      leftLine[this.at] = input[i] + r * FEEDBACK;
      rightLine[this.at] = l * FEEDBACK;
      if (++this.at >= length) this.at = 0;
      left[i] += l * ECHO_LEVEL * level;
      right[i] += r * ECHO_LEVEL * level;
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
