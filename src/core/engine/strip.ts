import type { Hertz, Samples } from '../time';
import { BLOCK } from './block';
import type { StripTable } from './deskTable';
import type { Lane } from './lane';
import { MOVES } from './score';
import { ToneFilters } from './tone';

/** A level or place that is changed arrives there after this share of a second: no click is heard. */
const GLIDE = 0.01;

/** Room for one lane at a time. */
const ONE = new Float32Array(BLOCK);
const OTHER = new Float32Array(BLOCK);

/** One track of the desk: its level and place, which move smoothly, and what it sends to buses. */
export class Strip {
  readonly left = new Float32Array(BLOCK);
  readonly right = new Float32Array(BLOCK);
  /** What goes to each bus of the desk, 0 to 1. */
  sends: Float32Array = new Float32Array(0);
  /** What all its pieces give to the room. */
  room = 0;
  /** Whether its pieces give to the room in different measure: then that is kept apart. */
  rooms = false;
  readonly roomLeft = new Float32Array(BLOCK);
  readonly roomRight = new Float32Array(BLOCK);
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

  private readonly tone: ToneFilters;

  constructor(sampleRate: Hertz) {
    this.glide = Math.round(GLIDE * sampleRate);
    this.tone = new ToneFilters(sampleRate, 4);
  }

  /** Tells what the pieces that lead to it give to the room. */
  leadTo(rooms: readonly number[]): void {
    this.room = rooms[0] ?? 0;
    this.rooms = rooms.some((room) => room !== this.room);
  }

  /** Lets silence in, for what the next block adds. */
  clear(frames: number): void {
    this.left.fill(0, 0, frames);
    this.right.fill(0, 0, frames);
    if (!this.rooms) return;
    this.roomLeft.fill(0, 0, frames);
    this.roomRight.fill(0, 0, frames);
  }

  /** Adds a lane, and what it gives to the room. */
  addLane(lane: Lane, frames: number): void {
    const { left, right, roomLeft, roomRight } = this;
    ONE.fill(0, 0, frames);
    OTHER.fill(0, 0, frames);
    lane.mixTo(ONE, OTHER, frames);
    const { room } = lane;
    for (let i = 0; i < frames; i++) {
      left[i] += ONE[i];
      right[i] += OTHER[i];
      roomLeft[i] += ONE[i] * room;
      roomRight[i] += OTHER[i] * room;
    }
  }

  /** Takes what a table says. What is not heard yet jumps, what sounds glides there. */
  take({ filters, level, pan, mute }: StripTable, sends: Float32Array, jump: boolean): void {
    this.tone.take(filters, jump);
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
    const { left, right, rooms, roomLeft, roomRight } = this;
    this.colour(frames);
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
        if (!rooms) continue;
        roomLeft[i] *= this.toLeft;
        roomRight[i] *= this.toRight;
      }
      if (this.gliding === 0) this.arrive();
    }
    this.scale(i, frames);
  }

  private colour(frames: number): void {
    const { tone } = this;
    if (tone.isFlat) return;
    tone.process(0, this.left, frames);
    tone.process(1, this.right, frames);
    if (this.rooms) {
      tone.process(2, this.roomLeft, frames);
      tone.process(3, this.roomRight, frames);
    }
    tone.done();
  }

  /** Lets frames pass in which nothing is mixed into it. */
  pass(frames: number): void {
    if (!this.tone.isFlat) this.tone.reset();
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
    if (!this.rooms) return Math.max(from, to);
    for (let i = from; i < to; i++) {
      this.roomLeft[i] *= toLeft;
      this.roomRight[i] *= toRight;
    }
    return Math.max(from, to);
  }
}
