import type { Pattern } from '../model/song';
import type { Ticks } from '../time/units';
import type { StrandHit } from './place';
import { chosenHits } from './strands';

/** Hits that were copied: with their strands and pushes, counted from the first one's step. */
export interface Clip {
  hits: StrandHit[];
  /** From the first hit's step to the end of the last one's. */
  length: Ticks;
}

/** Takes the chosen hits as a clip; undefined when nothing is chosen. */
export function clipOf(pattern: Pattern, ids: ReadonlySet<string>): Clip | undefined {
  const chosen = chosenHits(pattern, ids);
  if (chosen.length === 0) return undefined;
  const first = Math.min(...chosen.map(({ hit }) => hit.at));
  const last = Math.max(...chosen.map(({ hit }) => hit.at));
  const { step } = pattern;
  const from = Math.floor(first / step) * step;
  return {
    hits: chosen.map(({ piece, hit }) => ({ piece, hit: { ...hit, at: hit.at - from } })),
    length: (Math.floor((last - from) / step) + 1) * step,
  };
}

/** The hits of a clip as they would lie in a pattern from tick `at` on, with ids of their own. */
export function clipAt(clip: Clip, at: Ticks, newId: (index: number) => string): StrandHit[] {
  return clip.hits.map(({ piece, hit }, index) => ({
    piece,
    hit: { ...hit, id: newId(index), at: hit.at + at },
  }));
}
