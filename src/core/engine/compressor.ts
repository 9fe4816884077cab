import type { Dynamics } from '../model';
import { KNEE, reductionAt } from '../sound';
import type { Hertz } from '../time';
import { BLOCK } from './block';

/** Natural units of level in a decibel: a gain of x dB is e to the power of x times this. */
const NEPERS = Math.LN10 / 20;
/** Held back less than this, in decibels, is not held back. */
const NOTHING = 1e-4;

/** The level is looked at every so many samples. */
const TOGETHER = 4;
const COUNTS = Array.from({ length: TOGETHER + 1 }, (_, n) => n);

/**
 * Holds back what is loud, all sides alike. Detector and curve in decibels, smoothed first for the
 * release and then for the attack. Source: Giannoulis, Massberg and Reiss 2012, eq. 17 ("decoupled").
 */
export class Compressor {
  private setting: Dynamics | undefined;
  /** What is left of a difference after so many samples. */
  private attack: readonly number[] = [];
  private release: readonly number[] = [];
  /** What the release lets go of, and what is held back, in decibels. */
  private held = 0;
  private reduction = 0;
  private gain = 0;
  /** The factor at the end of the last block, from which one without dynamics comes back to 1. */
  private last = 1;
  private most = 0;
  private readonly factors = new Float32Array(BLOCK);

  constructor(private readonly sampleRate: Hertz) {}

  /** @param jump nothing sounds: its gain is there at once */
  take(setting: Dynamics | undefined, jump: boolean): void {
    this.setting = setting;
    if (!setting) {
      if (jump) this.reset();
      return;
    }
    const share = (seconds: number) =>
      COUNTS.map((samples) => Math.exp(-samples / (seconds * this.sampleRate)));
    this.attack = share(setting.attack);
    this.release = share(setting.release);
    if (!jump) return;
    this.gain = setting.gain;
    this.last = Math.exp((this.gain - this.reduction) * NEPERS);
  }

  get isIdle(): boolean {
    return this.setting === undefined && this.last === 1;
  }

  /**
   * Works in place.
   * @param left @param right what is listened to
   * @param sides what is held back
   */
  process(
    left: Float32Array,
    right: Float32Array,
    sides: readonly Float32Array[],
    frames: number,
  ): void {
    const { setting, factors } = this;
    if (setting) this.follow(setting, left, right, frames);
    else this.leave(frames);
    for (const side of sides) for (let i = 0; i < frames; i++) side[i] *= factors[i];
  }

  private follow(
    { threshold, ratio, gain: goal }: Dynamics,
    left: Float32Array,
    right: Float32Array,
    frames: number,
  ): void {
    const { attack, release, factors } = this;
    const from = 10 ** ((threshold - KNEE / 2) / 20);
    const step = (goal - this.gain) / frames;
    let { held, reduction, gain, most, last } = this;
    for (let start = 0; start < frames; start += TOGETHER) {
      const end = Math.min(frames, start + TOGETHER);
      const count = end - start;
      let level = 0;
      for (let i = start; i < end; i++) {
        const l = left[i] < 0 ? -left[i] : left[i];
        const r = right[i] < 0 ? -right[i] : right[i];
        if (l > level) level = l;
        if (r > level) level = r;
      }
      const wanted = level > from ? reductionAt(Math.log(level) / NEPERS - threshold, ratio) : 0;
      held = wanted + (held - wanted) * release[count];
      if (wanted > held) held = wanted;
      reduction = held + (reduction - held) * attack[count];
      gain += step * count;
      if (reduction < NOTHING && held < NOTHING) {
        reduction = 0;
        held = 0;
      }
      if (reduction > most) most = reduction;
      // Between two looks at the level the factor moves in a straight line.
      const next = gain === 0 && reduction === 0 ? 1 : Math.exp((gain - reduction) * NEPERS);
      const each = (next - last) / count;
      for (let i = start; i < end; i++) factors[i] = last += each;
      last = next;
    }
    this.held = held;
    this.reduction = reduction;
    this.gain = goal;
    this.most = most;
    this.last = last;
  }

  /** It was taken out: within this block all is as it is without it. */
  private leave(frames: number): void {
    const { factors, last } = this;
    for (let i = 0; i < frames; i++) factors[i] = last + ((1 - last) * (i + 1)) / frames;
    this.reset();
  }

  /** Lets frames of silence pass. */
  pass(frames: number): void {
    if (this.setting === undefined) {
      this.reset();
      return;
    }
    const { held } = this;
    const [, attack] = this.attack;
    const [, release] = this.release;
    // What letting go and then smoothing that give after so many samples, in one step.
    const followed =
      release === attack
        ? frames * attack ** frames
        : (release * (release ** frames - attack ** frames)) / (release - attack);
    this.reduction = attack ** frames * this.reduction + (1 - attack) * held * followed;
    this.held = held * release ** frames;
    if (this.reduction < NOTHING) this.reduction = 0;
    this.gain = this.setting.gain;
    this.last = Math.exp((this.gain - this.reduction) * NEPERS);
  }

  private reset(): void {
    this.held = 0;
    this.reduction = 0;
    this.gain = 0;
    this.last = 1;
  }

  /** The most that was held back since this was last asked, in decibels. */
  takeReduction(): number {
    const { most } = this;
    this.most = 0;
    return most;
  }
}
