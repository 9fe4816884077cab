import type { Pattern } from '../model';
import { toVelocity } from '../time';
import { removeHits } from './hits';
import { chosenHits, freeIds, inStepOrder, mapStrands, stepOf } from './strands';

/** Keeps every n-th of the chosen hits of each strand, the first one among them. */
export function thinEvery(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { every }: { every: number },
): Pattern {
  const gone = pattern.strands.flatMap(({ hits }) =>
    hits.filter((hit) => ids.has(hit.id)).filter((_, i) => i % every !== 0),
  );
  return removeHits(pattern, new Set(gone.map((hit) => hit.id)));
}

/** Takes out the softest of the chosen hits; of equal ones the later. */
export function thinSoftest(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { percent }: { percent: number },
): Pattern {
  const chosen = chosenHits(pattern, ids).sort(
    (a, b) => a.hit.velocity - b.hit.velocity || b.hit.at - a.hit.at,
  );
  const count = Math.round((chosen.length * percent) / 100);
  return removeHits(pattern, new Set(chosen.slice(0, count).map(({ hit }) => hit.id)));
}

/**
 * Fills the empty steps between the chosen hits of each strand, softer than the hit before.
 * @param options.percent velocity of what is filled in, in percent of the hit before
 */
export function densify(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { percent }: { percent: number },
): Pattern {
  const free = freeIds(pattern);
  return mapStrands(pattern, (strand) => {
    const step = stepOf(pattern, strand);
    const chosen = strand.hits.filter((hit) => ids.has(hit.id));
    const busy = new Set(strand.hits.map((hit) => Math.floor(hit.at / step)));
    const filled = chosen.slice(0, -1).flatMap((hit, i) => {
      const to = Math.floor(chosen[i + 1].at / step);
      const steps = [];
      for (let n = Math.floor(hit.at / step) + 1; n < to; n++) if (!busy.has(n)) steps.push(n);
      return steps.map((n) => {
        const id = free(hit.id);
        const { articulation } = hit;
        const velocity = toVelocity((hit.velocity * percent) / 100);
        return { id, at: n * step, push: 0, velocity, articulation };
      });
    });
    return filled.length === 0 ? strand.hits : inStepOrder([...strand.hits, ...filled]);
  });
}
