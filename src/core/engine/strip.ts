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

  constructor(setting: StripSetting, sampleRate: Hertz) {
    this.set(setting, sampleRate);
  }

  set({ level, pan, filters }: StripSetting, sampleRate: Hertz): void {
    this.filters = filters.map((filter) => new Biquad(coefficients(filter, sampleRate)));
    // Equal power: the sum of squares is the same wherever the piece stands.
    const angle = ((pan + 1) * Math.PI) / 4;
    this.left = level * Math.cos(angle) * Math.SQRT2;
    this.right = level * Math.sin(angle) * Math.SQRT2;
  }

  /** Says that a voice sounds in the coming block. */
  wake(): void {
    this.alive = TAIL_BLOCKS;
  }

  /** Filters what the voices left in the buffer, adds it to the mix, and clears the buffer. */
  mixTo(left: Float32Array, right: Float32Array, from: number, to: number): void {
    if (this.alive === 0) return;
    const { buffer } = this;
    const { filters } = this;
    let done = 0;
    for (; done + 1 < filters.length; done += 2) {
      filters[done].processWith(filters[done + 1], buffer, from, to);
    }
    if (done < filters.length) filters[done].process(buffer, from, to);
    const { left: toLeft, right: toRight } = this;
    for (let i = from; i < to; i++) {
      const sample = buffer[i];
      left[i] += sample * toLeft;
      right[i] += sample * toRight;
      buffer[i] = 0;
    }
    this.alive--;
    if (this.alive === 0) for (const filter of this.filters) filter.reset();
  }
}
