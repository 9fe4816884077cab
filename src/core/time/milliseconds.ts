import { PPQ, type Bpm, type Ticks } from './units';

/** Milliseconds that some ticks last at a tempo. */
export function pushInMs(push: Ticks, bpm: Bpm): number {
  return (push * 60_000) / bpm / PPQ;
}

/** The ticks that last so many milliseconds at a tempo: the inverse of `pushInMs`. */
export function pushOfMs(ms: number, bpm: Bpm): Ticks {
  return (ms / 60_000) * bpm * PPQ;
}
