import type { Dynamics, FilterSetting } from '../model';
import type { Hertz } from '../time';
import { Compressor } from './compressor';
import { Drive } from './drive';
import { ToneFilters } from './tone';

/** What a track, or all drums together, are heard through. */
export interface ChainTable {
  filters: readonly FilterSetting[];
  dynamics?: Dynamics;
  /** 0 to 1. */
  drive: number;
}

/** Tone, dynamics and drive, one after another. Every change is there within a block, without a click. */
export class Chain {
  private readonly tone: ToneFilters;
  private readonly compressor: Compressor;
  private readonly drive = new Drive();

  /** @param sides how many buffers are worked on; the first two are what dynamics listen to */
  constructor(sampleRate: Hertz, sides: number) {
    this.tone = new ToneFilters(sampleRate, sides);
    this.compressor = new Compressor(sampleRate);
  }

  /** @param jump nothing sounds: all is there at once */
  take({ filters, dynamics, drive }: ChainTable, jump: boolean): void {
    this.tone.take(filters, jump);
    this.compressor.take(dynamics, jump);
    this.drive.take(drive, jump);
  }

  /** @param sides those of its buffers that are used in this block */
  process(sides: readonly Float32Array[], frames: number): void {
    const { tone, compressor, drive } = this;
    if (!tone.isFlat) {
      sides.forEach((side, i) => tone.process(i, side, frames));
      tone.done();
    }
    if (!compressor.isIdle) compressor.process(sides[0], sides[1], sides, frames);
    if (!drive.isIdle) drive.process(sides, frames);
  }

  /** Lets frames of silence pass. */
  pass(frames: number): void {
    if (!this.tone.isFlat) this.tone.reset();
    this.compressor.pass(frames);
  }

  /** The most that its dynamics held back since this was last asked, in decibels. */
  takeReduction(): number {
    return this.compressor.takeReduction();
  }
}
