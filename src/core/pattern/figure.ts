import type { Hit } from '../model';
import { toVelocity, type Ticks, type Velocity } from '../time';

/** One stroke of a hit, `by` ticks after the hit itself (before it when negative). */
export interface Stroke {
  by: Ticks;
  velocity: Velocity;
}

/** Whether a hit is more than one stroke. */
export function isFigure({ flam, burst }: Hit): boolean {
  return flam !== undefined || burst !== undefined;
}

/**
 * The strokes a hit is played as: grace strokes of a flam or drag before it, those of a burst from
 * it on. The hit itself is always among them, at 0.
 * @param ticksPerMs how many ticks a millisecond lasts where the hit sounds
 */
export function strokesOf(hit: Hit, ticksPerMs: number): Stroke[] {
  const strokes: Stroke[] = [];
  if (hit.flam) {
    const { strokes: count, lead, softness } = hit.flam;
    const velocity = toVelocity(hit.velocity * (1 - softness));
    for (let i = count; i >= 1; i--) {
      strokes.push({ by: (-lead * ticksPerMs * i) / count, velocity });
    }
  }
  if (!hit.burst) return [...strokes, { by: 0, velocity: hit.velocity }];
  const { strokes: count, room, slope } = hit.burst;
  for (let i = 0; i < count; i++) {
    const share = i / (count - 1);
    const level = slope >= 0 ? 1 - slope * (1 - share) : 1 + slope * share;
    strokes.push({ by: (room * i) / count, velocity: toVelocity(hit.velocity * level) });
  }
  return strokes;
}
