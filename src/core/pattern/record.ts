import type { PieceId } from '../model/pieces';
import { findStrand, type Pattern } from '../model/song';
import type { Ticks } from '../time/units';
import { stepOf } from './strands';
import { swungBy } from './swing';

/**
 * The step a stroke belongs to that was played at some tick, and how far off it is kept.
 * @param tick of the pattern, where it was played; what comes up to half a step early belongs to
 *   the first step of the next pass
 * @param strength percent of the way it is brought to its step: 100 puts it on
 */
export function landing(
  pattern: Pattern,
  piece: PieceId,
  tick: Ticks,
  strength: number,
): { at: Ticks; push: Ticks } {
  const strand = findStrand(pattern, piece);
  const step = strand ? stepOf(pattern, strand) : pattern.step;
  const end = strand?.loopTicks ?? pattern.length;
  const steps = Math.ceil(end / step - 1e-9);
  const place = ((tick % end) + end) % end;
  const near = [-1, 0, 1].map((by) => {
    const n = Math.floor(place / step) + by;
    const line = n * step + swungBy(Math.max(0, n) * step, pattern.swing);
    return { n, off: place - line };
  });
  const best = near.reduce((a, b) => (Math.abs(b.off) < Math.abs(a.off) ? b : a));
  const at = (((best.n % steps) + steps) % steps) * step;
  return { at, push: Math.round(best.off * (1 - strength / 100)) };
}
