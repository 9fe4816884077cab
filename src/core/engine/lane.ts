import type { Hertz } from '../time';
import { Biquad, coefficients } from '../sound';
import { BLOCK } from './block';
import type { LaneSetting } from './deskTable';

/** After its last voice a lane is worked on for so many blocks, so that its filters ring out. */
const TAIL_BLOCKS = 64;

/** The way of all strokes of one piece to their track: tone, level, and where it stands. */
export class Lane {
  readonly buffer = new Float32Array(BLOCK);
  readonly strip: number;
  readonly level: number;
  /** How much of it is heard in the room too. */
  readonly room: number;
  private readonly pan: number;
  private readonly filters: Biquad[];
  private readonly left: number;
  private readonly right: number;
  /** Blocks left to work on; set by a voice that sounds. */
  private alive = 0;
  /** For strokes that stand elsewhere or have two sides: both, with filters of their own. */
  private readonly wide = [new Float32Array(BLOCK), new Float32Array(BLOCK)] as const;
  private readonly wideFilters: readonly [Biquad[], Biquad[]];
  private wideAlive = 0;

  constructor({ level, pan, filters, strip, room }: LaneSetting, sampleRate: Hertz) {
    const newFilters = () => filters.map((f) => new Biquad(coefficients(f, sampleRate)));
    this.filters = newFilters();
    this.wideFilters = [newFilters(), newFilters()];
    this.strip = strip;
    this.level = level;
    this.room = room;
    this.pan = pan;
    // Equal power: the sum of squares is the same wherever the piece stands.
    const angle = ((pan + 1) * Math.PI) / 4;
    this.left = level * Math.cos(angle) * Math.SQRT2;
    this.right = level * Math.sin(angle) * Math.SQRT2;
  }

  get isSounding(): boolean {
    return this.alive > 0 || this.wideAlive > 0;
  }

  /** Says that a voice sounds in the coming block. */
  wake(): void {
    this.alive = TAIL_BLOCKS;
  }

  /** Adds a stroke that stands `pan` beside its piece, or that has two sides of its own. */
  addWide(left: Float32Array, right: Float32Array, pan: number, frames: number): void {
    this.wideAlive = TAIL_BLOCKS;
    const angle = ((Math.max(-1, Math.min(1, this.pan + pan)) + 1) * Math.PI) / 4;
    const toLeft = this.level * Math.cos(angle) * Math.SQRT2;
    const toRight = this.level * Math.sin(angle) * Math.SQRT2;
    const [wideLeft, wideRight] = this.wide;
    for (let i = 0; i < frames; i++) {
      wideLeft[i] += left[i] * toLeft;
      wideRight[i] += right[i] * toRight;
    }
  }

  /** Filters what the voices left in the buffers, adds it to two sides, and clears the buffers. */
  mixTo(left: Float32Array, right: Float32Array, to: number): void {
    if (this.wideAlive > 0) this.mixWideTo(left, right, to);
    if (this.alive === 0) return;
    const { buffer, filters, left: toLeft, right: toRight } = this;
    if (filters.length === 2) {
      filters[0].placeWith(filters[1], buffer, left, right, toLeft, toRight, to);
    } else {
      for (const filter of filters) filter.process(buffer, 0, to);
      for (let i = 0; i < to; i++) {
        left[i] += buffer[i] * toLeft;
        right[i] += buffer[i] * toRight;
        buffer[i] = 0;
      }
    }
    this.alive--;
    if (this.alive === 0) for (const filter of this.filters) filter.reset();
  }

  private mixWideTo(left: Float32Array, right: Float32Array, to: number): void {
    for (let side = 0; side < 2; side++) {
      const buffer = this.wide[side];
      for (const filter of this.wideFilters[side]) filter.process(buffer, 0, to);
      const out = side === 0 ? left : right;
      for (let i = 0; i < to; i++) {
        out[i] += buffer[i];
        buffer[i] = 0;
      }
    }
    this.wideAlive--;
    if (this.wideAlive > 0) return;
    for (const filters of this.wideFilters) for (const filter of filters) filter.reset();
  }
}
