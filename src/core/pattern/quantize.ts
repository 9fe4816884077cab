import type { Pattern } from '../model';
import { barTicks, swungBy, type Ticks } from '../time';
import { retime } from './retime';
import { periodOf, stepOf } from './strands';

export interface Quantize {
  /** Percent of the way to the line. */
  strength: number;
  /** Length of a step of the grid; 0 is each strand's own. */
  grid: Ticks;
  /** Percent of a pair of steps at which the second line lies: 50 is straight. */
  swing: number;
  /** Only hits nearer than this to a line; 0 is all. */
  window: Ticks;
}

/** The line of a grid that is nearest to a place in the pattern, before `end`. */
export function nearestLine(
  place: Ticks,
  grid: Ticks,
  swing: number,
  end: Ticks,
  bar: Ticks = Infinity,
): { at: Ticks; position: Ticks } {
  const last = Math.ceil(end / grid) - 1;
  const about = Math.round(place / grid);
  let best = { at: 0, position: 0 };
  for (let k = Math.max(0, about - 1); k <= Math.min(last, about + 1); k++) {
    const at = k * grid;
    const position = at + swungBy(at, { unit: grid, percent: swing }, bar);
    if (
      k === Math.max(0, about - 1) ||
      Math.abs(position - place) < Math.abs(best.position - place)
    )
      best = { at, position };
  }
  return about - 1 > last ? { at: last * grid, position: last * grid } : best;
}

/**
 * Brings the chosen hits towards the lines of a grid. At 100 % each belongs to the line it is on.
 * Hits of one strand keep their order, and a hit that stays stops those that would pass it.
 */
export function quantize(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { strength, grid, swing, window }: Quantize,
): Pattern {
  return retime(pattern, ids, (hit, strand) => {
    const place = hit.at + hit.push;
    const step = grid || stepOf(pattern, strand);
    const end = periodOf(pattern, strand);
    const line = nearestLine(place, step, swing, end, barTicks(pattern.meter));
    const off = line.position - place;
    if (window > 0 && Math.abs(off) > window) return undefined;
    if (strength >= 100) return line;
    return { position: place + (off * strength) / 100 };
  });
}
