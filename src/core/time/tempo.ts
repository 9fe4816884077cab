import { PPQ, type Bpm, type Seconds, type Ticks } from './units';

/** From tick `at` on, the music runs at `bpm` quarter notes a minute. */
export interface TempoChange {
  at: Ticks;
  bpm: Bpm;
  /** The tempo moves evenly, tick by tick, to the next change instead of jumping there. */
  glide?: true;
}

/** Slowest tempo a song holds: just above what three bytes of microseconds can say. */
export const MIN_BPM: Bpm = 4;
export const MAX_BPM: Bpm = 2000;

/** Numbers a stretch of one tempo, or of one glide: its first tick, second and tempo, and its slope. */
const ROW = 4;

/**
 * Turns ticks to seconds and back over all tempo changes of a song. It is one typed array and
 * allocates nothing when it is asked: the audio thread reads the same map as the page.
 * Within a glide the tempo is b + s x after x ticks, so that the time passed is the integral of
 * 60 / (PPQ (b + s x)), which is 60 / (PPQ s) ln(1 + s x / b).
 */
export class TempoMap {
  /** @param rows what `compileTempo` made */
  constructor(readonly rows: Float64Array) {}

  /** @param tick any tick; before 0 the first tempo is continued backwards */
  secondsAt(tick: Ticks): Seconds {
    const { rows } = this;
    const i = this.rowOf(tick, 0);
    const x = tick - rows[i];
    const bpm = rows[i + 2];
    const slope = rows[i + 3];
    const passed =
      slope === 0 || x < 0
        ? (x * 60) / (PPQ * bpm)
        : (60 / (PPQ * slope)) * Math.log1p((slope * x) / bpm);
    return rows[i + 1] + passed;
  }

  tickAt(seconds: Seconds): Ticks {
    const { rows } = this;
    const i = this.rowOf(seconds, 1);
    const passed = seconds - rows[i + 1];
    const bpm = rows[i + 2];
    const slope = rows[i + 3];
    const x =
      slope === 0 || passed < 0
        ? (passed * PPQ * bpm) / 60
        : (bpm / slope) * Math.expm1((passed * PPQ * slope) / 60);
    return rows[i] + x;
  }

  bpmAt(tick: Ticks): Bpm {
    const i = this.rowOf(tick, 0);
    return this.rows[i + 2] + this.rows[i + 3] * Math.max(0, tick - this.rows[i]);
  }

  /** Where the last row begins whose column is not beyond a value; the first one before all. */
  private rowOf(value: number, column: 0 | 1): number {
    const { rows } = this;
    let low = 0;
    let high = rows.length / ROW - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (rows[middle * ROW + column] <= value) low = middle;
      else high = middle - 1;
    }
    return low * ROW;
  }
}

/**
 * The rows of a tempo map.
 * @param changes ordered by tick, the first at 0; a glide of the last one has nowhere to go and is none
 */
export function compileTempo(changes: readonly TempoChange[]): Float64Array<ArrayBuffer> {
  const rows = new Float64Array(changes.length * ROW);
  changes.forEach(({ at, bpm, glide }, i) => {
    const next = changes[i + 1];
    const slope = glide && next && next.at > at ? (next.bpm - bpm) / (next.at - at) : 0;
    const seconds = i === 0 ? 0 : new TempoMap(rows.subarray(0, i * ROW)).secondsAt(at);
    rows.set([at, seconds, bpm, slope], i * ROW);
  });
  return rows;
}

const maps = new WeakMap<readonly TempoChange[], TempoMap>();

/** The tempo map of some changes, built once for each list of changes. */
export function tempoMapOf(changes: readonly TempoChange[]): TempoMap {
  let map = maps.get(changes);
  if (!map) maps.set(changes, (map = new TempoMap(compileTempo(changes))));
  return map;
}
