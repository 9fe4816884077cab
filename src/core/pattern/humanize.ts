import type { Pattern } from '../model';
import { seeded } from '../random';
import { toVelocity, type Ticks } from '../time';
import { retime } from './retime';

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
  return retime(pattern, ids, (hit) => {
    const lean = Math.max(-1, Math.min(1, stray() + bias / 100));
    const strength = stray();
    return {
      position: hit.at + hit.push + (timing === 0 ? 0 : Math.round(lean * timing)),
      velocity: toVelocity(hit.velocity + strength * velocity),
    };
  });
}
