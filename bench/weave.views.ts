/** Runs in a worker of the page: what is the same again, and what nobody plays, in a long song. */
import type { Song } from '../src/core/model';
import { impossibles } from '../src/core/playing';
import { sameAgain } from '../src/core/weave';

export const median = (values: number[]) => values.sort((a, b) => a - b)[values.length >> 1];

/** The same song as values that nothing was computed of yet. */
export const fresh = (song: Song, n: number): Song => ({
  ...structuredClone(song),
  id: `${song.id}-${n}`,
});

/** Milliseconds to look through all of a song, and to look again after an edit of one pattern. */
export function views(song: Song): { whole: number; again: number } {
  const whole: number[] = [];
  const again: number[] = [];
  for (let n = 0; n < 7; n++) {
    const one = fresh(song, n);
    const start = performance.now();
    sameAgain(one);
    impossibles(one);
    whole.push(performance.now() - start);
    const [pattern, ...others] = one.patterns;
    const edited = { ...one, patterns: [{ ...pattern, strands: [...pattern.strands] }, ...others] };
    const then = performance.now();
    sameAgain(edited);
    impossibles(edited);
    again.push(performance.now() - then);
  }
  return { whole: median(whole), again: median(again) };
}
