import type { Pattern } from '../model/song';
import { seeded } from '../sound/random';
import { toVelocity, type Ticks } from '../time/units';
import { retime } from './neighbours';
import { mapHits } from './strands';

export interface Humanize {
  /** How far a hit strays at most, early or late. */
  timing: Ticks;
  /** How much its velocity strays at most. */
  velocity: number;
  /** Percent that all lean early (-100) or late (100), of `timing`. */
  bias: number;
  seed: number;
}

/**
 * Lets the chosen hits stray as hands do: small strays are more likely than large ones. The same
 * seed strays the same way, whatever the amounts; amounts of 0 leave everything as it is.
 */
export function humanize(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { timing, velocity, bias, seed }: Humanize,
): Pattern {
  const random = seeded(seed);
  // The sum of three even draws lies near the middle as the errors of hands do.
  const stray = () => ((random() + random() + random()) * 2) / 3 - 1;
  const strays = new Map<string, { time: number; strength: number }>();
  for (const { hits } of pattern.strands) {
    for (const { id } of hits) {
      if (ids.has(id)) strays.set(id, { time: stray(), strength: stray() });
    }
  }
  const struck =
    velocity === 0
      ? pattern
      : mapHits(pattern, ids, (hit) => {
          const next = toVelocity(hit.velocity + strays.get(hit.id)!.strength * velocity);
          return next === hit.velocity ? hit : { ...hit, velocity: next };
        });
  if (timing === 0) return struck;
  return retime(struck, ids, (hit) => {
    const lean = Math.max(-1, Math.min(1, strays.get(hit.id)!.time + bias / 100));
    return { position: hit.at + hit.push + Math.round(lean * timing) };
  });
}
