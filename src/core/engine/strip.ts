import type { Hertz, Samples } from '../time';
import { BLOCK } from './block';
import type { StripTable } from './deskTable';
import { MOVES } from './score';

/** A level or place that is changed arrives there after this share of a second: no click is heard. */
const GLIDE = 0.01;

/** One track of the desk: its level and place, which move smoothly, and what it sends to buses. */
export class Strip {
  readonly left = new Float32Array(BLOCK);
  readonly right = new Float32Array(BLOCK);
  /** What goes to each bus of the desk, 0 to 1. */
  sends: Float32Array = new Float32Array(0);
  /** Whether anything was mixed into it in this block. */
  sounds = false;
  private level = 1;
  private pan = 0;
  private mute = false;
  private toLeft = 1;
  private toRight = 1;
  private goalLeft = 1;
  private goalRight = 1;
  private stepLeft = 0;
  private stepRight = 0;
  /** Samples until the next goal is set out for, and until it is reached. */
  private wait: Samples = 0;
  private gliding = 0;
  private readonly glide: Samples;

  constructor(sampleRate: Hertz) {
    this.glide = Math.round(GLIDE * sampleRate);
  }

  /** Takes what a table says. What is not heard yet jumps, what sounds glides there. */
  take({ level, pan, mute }: StripTable, sends: Float32Array, jump: boolean): void {
    this.level = level;
    this.pan = pan;
    this.mute = mute;
    this.sends = sends;
    this.aim(0);
    if (jump) this.arrive();
  }

  /**
   * Changes one thing of it.
   * @param what one of `MOVES`
   * @param wait samples of the coming block until it begins to move
   */
  move(what: number, value: number, wait: Samples): void {
    if (what === MOVES.level) this.level = value;
    else if (what === MOVES.pan) this.pan = value;
    else this.mute = value > 0;
    this.aim(wait);
  }

  /** Is at once where it is going to. */
  arrive(): void {
    this.toLeft = this.goalLeft;
    this.toRight = this.goalRight;
    this.gliding = 0;
    this.wait = 0;
  }

  private aim(wait: Samples): void {
    const level = this.mute ? 0 : this.level;
    // Equal power, and exactly as it is where nothing is panned.
    const angle = ((this.pan + 1) * Math.PI) / 4;
    this.goalLeft = this.pan === 0 ? level : level * Math.cos(angle) * Math.SQRT2;
    this.goalRight = this.pan === 0 ? level : level * Math.sin(angle) * Math.SQRT2;
    this.stepLeft = (this.goalLeft - this.toLeft) / this.glide;
    this.stepRight = (this.goalRight - this.toRight) / this.glide;
    const still = this.stepLeft === 0 && this.stepRight === 0;
    this.gliding = still ? 0 : this.glide;
    this.wait = still ? 0 : wait;
  }

  /** Gives what was mixed into it the level and place it has, sample by sample while they move. */
  apply(frames: number): void {
    const { left, right } = this;
    let i = 0;
    if (this.gliding > 0) {
      const still = Math.min(frames, this.wait);
      this.wait -= still;
      i = this.scale(0, still);
      for (; i < frames && this.gliding > 0; i++, this.gliding--) {
        this.toLeft += this.stepLeft;
        this.toRight += this.stepRight;
        left[i] *= this.toLeft;
        right[i] *= this.toRight;
      }
      if (this.gliding === 0) this.arrive();
    }
    this.scale(i, frames);
  }

  /** Lets frames pass in which nothing is mixed into it. */
  pass(frames: number): void {
    if (this.gliding === 0) return;
    const still = Math.min(frames, this.wait);
    this.wait -= still;
    const moved = Math.min(this.gliding, frames - still);
    this.toLeft += this.stepLeft * moved;
    this.toRight += this.stepRight * moved;
    this.gliding -= moved;
    if (this.gliding === 0) this.arrive();
  }

  private scale(from: number, to: number): number {
    const { left, right, toLeft, toRight } = this;
    // Most strips are as they are: that costs nothing.
    if (toLeft === 1 && toRight === 1) return Math.max(from, to);
    for (let i = from; i < to; i++) {
      left[i] *= toLeft;
      right[i] *= toRight;
    }
    return Math.max(from, to);
  }
}
