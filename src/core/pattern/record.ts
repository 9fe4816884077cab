import { findStrand, type Pattern, type PieceId } from '../model';
import type { Ticks } from '../time';
import { periodOf, stepOf } from './strands';
import { swingOf } from './swing';

/**
 * The step a stroke belongs to that was played at some tick, and how far off it is kept.
 * @param tick of the pattern, where it was played
 * @param strength percent of the way it is brought to its step: 100 puts it on
 * @param loop the stretch that goes round while it is played: what comes up to half a step before its
 *   end belongs to its first step, played early. Absent is the whole pattern.
 */
export function landing(
  pattern: Pattern,
  piece: PieceId,
  tick: Ticks,
  strength: number,
  loop?: { from: Ticks; to: Ticks },
): { at: Ticks; push: Ticks } {
  const strand = findStrand(pattern, piece);
  const step = stepOf(pattern, strand ?? {});
  const period = periodOf(pattern, strand ?? {});
  // A strand with a loop of its own comes round by that, whatever part of the pattern is played.
  const whole = !loop || period < pattern.length;
  const from = whole ? 0 : loop.from;
  const length = whole ? period : loop.to - loop.from;
  const place = from + ((((tick - from) % length) + length) % length);
  const first = Math.ceil(from / step - 1e-9);
  const count = Math.ceil((from + length) / step - 1e-9) - first;
  const near = [-1, 0, 1].map((by) => {
    const n = Math.floor(place / step) + by;
    const line = n * step + swingOf(pattern, Math.max(0, n) * step);
    return { n, off: place - line };
  });
  const best = near.reduce((a, b) => (Math.abs(b.off) < Math.abs(a.off) ? b : a));
  const at = (first + ((((best.n - first) % count) + count) % count)) * step;
  return { at, push: Math.round(best.off * (1 - strength / 100)) };
}
