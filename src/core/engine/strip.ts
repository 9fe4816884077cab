import { Biquad, coefficients } from '../sound/biquad';
import type { StripSetting } from '../sound/kit';
import type { Hertz } from '../time/units';

/** The engine works in blocks of at most this many frames, as the Web Audio rendering quantum. */
export const BLOCK = 128;

/** After its last voice a strip is worked on for so many blocks, so that its filters ring out. */
const TAIL_BLOCKS = 64;

/** One channel of the mix: filters, level and place, for all strokes of one piece. */
export class Strip {
  readonly buffer = new Float32Array(BLOCK);
  /** Blocks left to work on; set by a voice that sounds. */
  private alive = 0;
  private filters: Biquad[] = [];
  private left = 1;
  private right = 1;
  level = 1;
  private pan = 0;
  /** For strokes that stand elsewhere than their piece: both sides, with filters of their own. */
  private readonly wide = [new Float32Array(BLOCK), new Float32Array(BLOCK)] as const;
  private wideFilters: readonly [Biquad[], Biquad[]] = [[], []];
  private wideAlive = 0;

  constructor(setting: StripSetting, sampleRate: Hertz) {
    this.set(setting, sampleRate);
  }

  set({ level, pan, filters }: StripSetting, sampleRate: Hertz): void {
    const newFilters = () => filters.map((f) => new Biquad(coefficients(f, sampleRate)));
    this.filters = newFilters();
    this.wideFilters = [newFilters(), newFilters()];
    this.level = level;
    this.pan = pan;
    // Equal power: the sum of squares is the same wherever the piece stands.
    const angle = ((pan + 1) * Math.PI) / 4;
    this.left = level * Math.cos(angle) * Math.SQRT2;
    this.right = level * Math.sin(angle) * Math.SQRT2;
  }

  /** Says that a voice sounds in the coming block. */
  wake(): void {
    this.alive = TAIL_BLOCKS;
  }

  /** Adds a stroke that stands `pan` beside its piece. */
  addWide(samples: Float32Array, pan: number, frames: number): void {
    this.wideAlive = TAIL_BLOCKS;
    const angle = ((Math.max(-1, Math.min(1, this.pan + pan)) + 1) * Math.PI) / 4;
    const toLeft = this.level * Math.cos(angle) * Math.SQRT2;
    const toRight = this.level * Math.sin(angle) * Math.SQRT2;
    const [left, right] = this.wide;
    for (let i = 0; i < frames; i++) {
      left[i] += samples[i] * toLeft;
      right[i] += samples[i] * toRight;
    }
  }

  private mixWideTo(left: Float32Array, right: Float32Array, to: number): void {
    this.wide.forEach((buffer, side) => {
      for (const filter of this.wideFilters[side]) filter.process(buffer, 0, to);
      const out = side === 0 ? left : right;
      for (let i = 0; i < to; i++) {
        out[i] += buffer[i];
        buffer[i] = 0;
      }
    });
    this.wideAlive--;
    if (this.wideAlive === 0) this.wideFilters.flat().forEach((filter) => filter.reset());
  }

  /** Filters what the voices left in the buffer, adds it to the mix, and clears the buffer. */
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
}
