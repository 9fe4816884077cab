import type { Hertz, Samples } from '../time';
import { BLOCK } from './block';
import type { StripTable } from './deskTable';
import type { Lane } from './lane';
import { MOVES } from './score';
import { LoudnessMeter } from '../sound';
import { Chain } from './chain';

/** A level or place that is changed arrives there after this share of a second: no click is heard. */
const GLIDE = 0.01;

/** Room for one lane at a time. */
const ONE = new Float32Array(BLOCK);
const OTHER = new Float32Array(BLOCK);

/** A share that moves to where it is wanted, block by block in straight lines. */
export class Gliding {
  now = 0;
  private goal = 0;
  private step = 0;
  private left: Samples = 0;

  /** @param glide how long it takes where nothing else is said */
  constructor(private readonly glide: Samples) {}

  aim(goal: number, length = this.glide): void {
    this.goal = goal;
    this.left = goal === this.now ? 0 : length;
    this.step = (goal - this.now) / length;
  }

  arrive(): void {
    this.now = this.goal;
    this.left = 0;
  }

  /** Where it is after so many samples. */
  after(frames: Samples): number {
    return frames >= this.left ? this.goal : this.now + this.step * frames;
  }

  pass(frames: Samples): void {
    this.now = this.after(frames);
    this.left = Math.max(0, this.left - frames);
  }
}

/** One track of the desk: its level and place, which move smoothly, and what it sends to buses. */
export class Strip {
  readonly left = new Float32Array(BLOCK);
  readonly right = new Float32Array(BLOCK);
  /** What goes to each bus of the desk, 0 to 1, and past that of all drums. */
  sends: readonly Gliding[] = [];
  readonly dry: Gliding;
  /** The share that its pieces give to the room at the end of the coming block, and at its beginning. */
  room = 0;
  roomBefore = 0;
  /** Whether its pieces give to the room in different measure: then that is kept apart. */
  rooms = false;
  private staysApart = false;
  readonly roomLeft = new Float32Array(BLOCK);
  readonly roomRight = new Float32Array(BLOCK);
  /** Whether anything was mixed into it in this block. */
  sounds = false;
  private level = 1;
  private pan = 0;
  private mute = false;
  private flip = false;
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

  private readonly chain: Chain;
  private readonly close: readonly Float32Array[];
  private readonly all: readonly Float32Array[];
  readonly loudness: LoudnessMeter;

  constructor(sampleRate: Hertz) {
    this.glide = Math.round(GLIDE * sampleRate);
    this.dry = new Gliding(this.glide);
    this.chain = new Chain(sampleRate, 4);
    this.close = [this.left, this.right];
    this.all = [...this.close, this.roomLeft, this.roomRight];
    this.loudness = new LoudnessMeter(sampleRate);
  }

  /** Tells what the pieces that lead to it give to the room; what sounds gets there within a block. */
  leadTo(rooms: readonly number[], jump: boolean): void {
    this.room = rooms[0] ?? 0;
    if (jump) this.roomBefore = this.room;
    this.staysApart = rooms.some((room) => room !== this.room);
    this.rooms = this.staysApart || (this.rooms && !jump);
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
    // Mixing ends the change: its share before is asked for first.
    const [from, to] = lane.rooms;
    lane.mixTo(ONE, OTHER, frames);
    const step = (to - from) / frames;
    for (let i = 0; i < frames; i++) {
      const room = from + step * (i + 1);
      left[i] += ONE[i];
      right[i] += OTHER[i];
      roomLeft[i] += ONE[i] * room;
      roomRight[i] += OTHER[i] * room;
    }
  }

  /**
   * Takes what a table says. What is not heard yet jumps, what sounds glides there.
   * @param sends what goes to each bus of the desk
   */
  take(table: StripTable, sends: readonly number[], jump: boolean): void {
    this.chain.take(table, jump);
    this.level = table.level;
    this.pan = table.pan;
    this.mute = table.mute;
    this.flip = table.flip;
    if (this.sends.length !== sends.length) this.sends = sends.map(() => new Gliding(this.glide));
    this.sends.forEach((send, i) => send.aim(sends[i]));
    this.dry.aim(table.dry);
    this.aim(0, this.glide);
    if (jump) this.arrive();
  }

  /**
   * Changes one thing of it.
   * @param what one of `MOVES`
   * @param wait samples of the coming block until it begins to move
   * @param ramp samples until it is there; it takes a short glide at least
   */
  move(what: number, value: number, wait: Samples, ramp: Samples): void {
    const length = Math.max(this.glide, ramp);
    if (what >= MOVES.send) {
      this.sends[what - MOVES.send]?.aim(value, length);
      return;
    }
    if (what === MOVES.level) this.level = value;
    else if (what === MOVES.pan) this.pan = value;
    else this.mute = value > 0;
    this.aim(wait, length);
  }

  get isMuted(): boolean {
    return this.mute;
  }

  /** Is at once where it is going to. */
  arrive(): void {
    this.toLeft = this.goalLeft;
    this.toRight = this.goalRight;
    this.gliding = 0;
    this.wait = 0;
    this.dry.arrive();
    for (const send of this.sends) send.arrive();
  }

  /** Goes on for a while at once, as if that had passed. */
  skip(samples: Samples): void {
    this.glideOn(samples);
    this.passed(samples);
  }

  private aim(wait: Samples, length: Samples): void {
    const level = this.mute ? 0 : this.flip ? -this.level : this.level;
    // Equal power, and exactly as it is where nothing is panned.
    const angle = ((this.pan + 1) * Math.PI) / 4;
    this.goalLeft = this.pan === 0 ? level : level * Math.cos(angle) * Math.SQRT2;
    this.goalRight = this.pan === 0 ? level : level * Math.sin(angle) * Math.SQRT2;
    this.stepLeft = (this.goalLeft - this.toLeft) / length;
    this.stepRight = (this.goalRight - this.toRight) / length;
    const still = this.stepLeft === 0 && this.stepRight === 0;
    this.gliding = still ? 0 : length;
    this.wait = still ? 0 : wait;
  }

  /** Gives what was mixed into it the level and place it has, sample by sample while they move. */
  apply(frames: number): void {
    const { left, right, rooms, roomLeft, roomRight } = this;
    this.chain.process(this.rooms ? this.all : this.close, frames);
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
      if (this.gliding === 0) this.there();
    }
    this.scale(i, frames);
  }

  /** Lets frames pass in which nothing is mixed into it. */
  pass(frames: number): void {
    this.chain.pass(frames);
    this.glideOn(frames);
    this.passed(frames);
    this.loudness.pass(frames);
  }

  private glideOn(frames: number): void {
    if (this.gliding === 0) return;
    const still = Math.min(frames, this.wait);
    this.wait -= still;
    const moved = Math.min(this.gliding, frames - still);
    this.toLeft += this.stepLeft * moved;
    this.toRight += this.stepRight * moved;
    this.gliding -= moved;
    if (this.gliding === 0) this.there();
  }

  private there(): void {
    this.toLeft = this.goalLeft;
    this.toRight = this.goalRight;
    this.wait = 0;
  }

  /** Says that a block was sent to the buses. */
  passed(frames: number): void {
    this.dry.pass(frames);
    for (const send of this.sends) send.pass(frames);
    this.rooms = this.staysApart;
    this.roomBefore = this.room;
  }

  /** The most that its dynamics held back since this was last asked, in decibels. */
  takeReduction(): number {
    return this.chain.takeReduction();
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
