import { PPQ, type Bpm, type Seconds, type Ticks } from './units';

/** From tick `at` on, the song runs at `bpm` quarter notes a minute. */
export interface TempoChange {
  at: Ticks;
  bpm: Bpm;
}

/** Slowest tempo a song holds: just above what three bytes of microseconds can say. */
export const MIN_BPM: Bpm = 4;
export const MAX_BPM: Bpm = 2000;

/** Turns ticks to seconds and back over all tempo changes of a song. */
export interface TempoMap {
  /** @param tick any tick; before 0 the first tempo is continued backwards */
  secondsAt(tick: Ticks): Seconds;
  tickAt(seconds: Seconds): Ticks;
  bpmAt(tick: Ticks): Bpm;
}

interface Stretch {
  tick: Ticks;
  seconds: Seconds;
  secondsPerTick: number;
  bpm: Bpm;
}

const secondsPerTick = (bpm: Bpm) => 60 / bpm / PPQ;

/** @param changes ordered by tick, the first at 0 (as `checkSong` asks) */
export function tempoMap(changes: readonly TempoChange[]): TempoMap {
  const stretches: Stretch[] = [];
  for (const { at, bpm } of changes) {
    const last = stretches[stretches.length - 1];
    const seconds = last ? last.seconds + (at - last.tick) * last.secondsPerTick : 0;
    stretches.push({ tick: at, seconds, secondsPerTick: secondsPerTick(bpm), bpm });
  }
  const find = (value: number, key: 'tick' | 'seconds'): Stretch => {
    let low = 0;
    let high = stretches.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (stretches[middle][key] <= value) low = middle;
      else high = middle - 1;
    }
    return stretches[low];
  };
  return {
    secondsAt(tick) {
      const s = find(tick, 'tick');
      return s.seconds + (tick - s.tick) * s.secondsPerTick;
    },
    tickAt(seconds) {
      const s = find(seconds, 'seconds');
      return s.tick + (seconds - s.seconds) / s.secondsPerTick;
    },
    bpmAt: (tick) => find(tick, 'tick').bpm,
  };
}

const mapCache = new WeakMap<readonly TempoChange[], TempoMap>();

/** The tempo map of a song's changes, built once for each list of changes. */
export function tempoMapOf(changes: readonly TempoChange[]): TempoMap {
  let map = mapCache.get(changes);
  if (!map) mapCache.set(changes, (map = tempoMap(changes)));
  return map;
}
