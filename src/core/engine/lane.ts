import type { Hertz } from '../time';
import { Biquad, coefficients } from '../sound';
import { BLOCK } from './block';
import type { LaneSetting } from './deskTable';

/** After its last voice a lane is worked on for so many blocks, so that its filters ring out. */
const TAIL_BLOCKS = 64;

/** One block through the previous tone, for the crossfade to the new one. */
const BEFORE = new Float32Array(BLOCK);

/** How a lane is heard: the setting as it is worked with. */
interface Way {
  level: number;
  pan: number;
  /** How much of it is heard in the room too. */
  room: number;
  left: number;
  right: number;
  filters: Biquad[];
  wideFilters: readonly [Biquad[], Biquad[]];
}

/**
 * The way of all strokes of one piece to their track: tone, level, and where it stands. What sounds while
 * the kit is changed gives way to its new tone, level and place within a block, without a step.
 */
export class Lane {
  readonly buffer = new Float32Array(BLOCK);
  readonly strip: number;
  private way: Way;
  /** How it was heard before, for one more block. */
  private before: Way | undefined;
  /** Blocks left to work on; set by a voice that sounds. */
  private alive = 0;
  /** For strokes that stand elsewhere or have two sides: both, with filters of their own. */
  private readonly wide = [new Float32Array(BLOCK), new Float32Array(BLOCK)] as const;
  private wideAlive = 0;

  constructor(
    private setting: LaneSetting,
    private readonly sampleRate: Hertz,
  ) {
    this.strip = setting.strip;
    this.way = wayOf(setting, sampleRate);
  }

  /** How much of it the room hears at the beginning of the coming block, and at its end. */
  get rooms(): readonly [from: number, to: number] {
    return [(this.before ?? this.way).room, this.way.room];
  }

  get level(): number {
    return this.way.level;
  }

  /** Takes over how its piece is heard; the strip it leads to stays. */
  take(setting: LaneSetting): void {
    if (setting === this.setting) return;
    this.setting = setting;
    const { way } = this;
    this.way = wayOf(setting, this.sampleRate);
    if (!this.isSounding) return;
    this.before ??= way;
    // Filters of as many stages go on where those before them are.
    const goOn = (to: Biquad[], from: Biquad[]) => {
      if (to.length === from.length) to.forEach((filter, i) => filter.follow(from[i]));
    };
    goOn(this.way.filters, way.filters);
    this.way.wideFilters.forEach((filters, side) => goOn(filters, way.wideFilters[side]));
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
    const [wideLeft, wideRight] = this.wide;
    const [toLeft, toRight] = placed(this.way, pan);
    const [fromLeft, fromRight] = this.before ? placed(this.before, pan) : [toLeft, toRight];
    const [stepLeft, stepRight] = [(toLeft - fromLeft) / frames, (toRight - fromRight) / frames];
    for (let i = 0; i < frames; i++) {
      wideLeft[i] += left[i] * (fromLeft + stepLeft * (i + 1));
      wideRight[i] += right[i] * (fromRight + stepRight * (i + 1));
    }
  }

  /** Filters what the voices left in the buffers, adds it to two sides, and clears the buffers. */
  mixTo(left: Float32Array, right: Float32Array, to: number): void {
    if (this.wideAlive > 0) this.mixWideTo(left, right, to);
    if (this.alive > 0) this.mixNarrowTo(left, right, to);
    this.before = undefined;
  }

  private mixNarrowTo(left: Float32Array, right: Float32Array, to: number): void {
    const { buffer, before } = this;
    const { filters, left: toLeft, right: toRight } = this.way;
    if (before) {
      BEFORE.set(buffer);
      for (const filter of before.filters) filter.process(BEFORE, 0, to);
      for (const filter of filters) filter.process(buffer, 0, to);
      for (let i = 0; i < to; i++) {
        const share = (i + 1) / to;
        const was = BEFORE[i] * (1 - share);
        const is = buffer[i] * share;
        left[i] += is * toLeft + was * before.left;
        right[i] += is * toRight + was * before.right;
        buffer[i] = 0;
      }
    } else if (filters.length === 2) {
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
    if (this.alive === 0) for (const filter of filters) filter.reset();
  }

  private mixWideTo(left: Float32Array, right: Float32Array, to: number): void {
    for (let side = 0; side < 2; side++) {
      const buffer = this.wide[side];
      const out = side === 0 ? left : right;
      if (this.before) {
        BEFORE.set(buffer);
        for (const filter of this.before.wideFilters[side]) filter.process(BEFORE, 0, to);
      }
      for (const filter of this.way.wideFilters[side]) filter.process(buffer, 0, to);
      for (let i = 0; i < to; i++) {
        const share = this.before ? (i + 1) / to : 1;
        out[i] += buffer[i] * share;
        if (this.before) out[i] += BEFORE[i] * (1 - share);
        buffer[i] = 0;
      }
    }
    this.wideAlive--;
    if (this.wideAlive > 0) return;
    for (const filters of this.way.wideFilters) for (const filter of filters) filter.reset();
  }
}

function wayOf({ level, pan, room, filters }: LaneSetting, sampleRate: Hertz): Way {
  const newFilters = () => filters.map((f) => new Biquad(coefficients(f, sampleRate)));
  const way = {
    level,
    pan,
    room,
    filters: newFilters(),
    wideFilters: [newFilters(), newFilters()],
  } as const;
  const [left, right] = placed(way, 0);
  return { ...way, left, right };
}

/**
 * Left and right gain of a stroke panned `beside` its piece. Equal power: the sum of
 * squares is the same wherever it stands.
 */
function placed({ level, pan }: Pick<Way, 'level' | 'pan'>, beside: number): [number, number] {
  const angle = ((Math.max(-1, Math.min(1, pan + beside)) + 1) * Math.PI) / 4;
  return [level * Math.cos(angle) * Math.SQRT2, level * Math.sin(angle) * Math.SQRT2];
}
