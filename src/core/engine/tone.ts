import type { FilterSetting } from '../model';
import { Biquad, coefficients } from '../sound';
import type { Hertz } from '../time';
import { BLOCK } from './block';

/** What was heard through the filters before, while it gives way to those after. */
const BEFORE = new Float32Array(BLOCK);

/** The tone of a track: filters for each of its sides. A change is heard within a block, without a click. */
export class ToneFilters {
  private settings: readonly FilterSetting[] = [];
  private now: Biquad[][];
  /** Those that are left, for one more block. */
  private before: Biquad[][] | undefined;

  /** @param sides how many buffers are worked on */
  constructor(
    private readonly sampleRate: Hertz,
    private readonly sides: number,
  ) {
    this.now = this.made([]);
  }

  private made(settings: readonly FilterSetting[]): Biquad[][] {
    return Array.from({ length: this.sides }, () =>
      settings.map((setting) => new Biquad(coefficients(setting, this.sampleRate))),
    );
  }

  /** @param jump nothing sounds: there is nothing to give way */
  take(settings: readonly FilterSetting[], jump: boolean): void {
    if (isSame(settings, this.settings)) return;
    const left = this.now;
    const kinds = this.settings.map(({ kind }) => kind);
    this.now = this.made(settings);
    this.settings = settings;
    if (jump) return;
    this.before = left;
    settings.forEach(({ kind }, i) => {
      const was = kinds.indexOf(kind);
      if (was < 0) return;
      for (let side = 0; side < this.sides; side++) this.now[side][i].follow(left[side][was]);
    });
  }

  /** Filters one side in place. The last side of a block ends what gives way. */
  process(side: number, buffer: Float32Array, frames: number): void {
    const { before } = this;
    if (before) {
      for (let i = 0; i < frames; i++) BEFORE[i] = buffer[i];
      const left = before[side];
      for (let n = 0; n < left.length; n++) left[n].process(BEFORE, 0, frames);
    }
    const filters = this.now[side];
    let n = 0;
    for (; n + 1 < filters.length; n += 2) filters[n].processWith(filters[n + 1], buffer, frames);
    for (; n < filters.length; n++) filters[n].process(buffer, 0, frames);
    if (!before) return;
    for (let i = 0; i < frames; i++) {
      const share = (i + 1) / frames;
      buffer[i] = buffer[i] * share + BEFORE[i] * (1 - share);
    }
  }

  /** Says that all sides of a block were worked on. */
  done(): void {
    this.before = undefined;
  }

  /** Forgets what rang in it. */
  reset(): void {
    for (const side of this.now) for (const filter of side) filter.reset();
    this.before = undefined;
  }

  get isFlat(): boolean {
    return this.settings.length === 0 && this.before === undefined;
  }
}

function isSame(a: readonly FilterSetting[], b: readonly FilterSetting[]): boolean {
  return (
    a.length === b.length &&
    a.every(
      (one, i) =>
        one.kind === b[i].kind &&
        one.frequency === b[i].frequency &&
        one.gain === b[i].gain &&
        one.q === b[i].q,
    )
  );
}
