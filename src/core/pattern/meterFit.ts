import type { Hit, Pattern } from '../model';
import { barTicks, isMeter, sameMeter, type Meter } from '../time';
import { inStepOrder, mapStrands, unlooped } from './strands';
import { writeSwing } from './swing';

export const METER_FITS = ['cut', 'stretch'] as const;
/** How bars get into another meter: cut at the end (or followed by silence), or stretched to it. */
export type MeterFit = (typeof METER_FITS)[number];

/** Strokes that cutting bars to a meter would lose; 0 where none would. */
export function lostInMeter(pattern: Pattern, meter: Meter): number {
  const [bar, room] = [barTicks(pattern.meter), barTicks(meter)];
  return pattern.strands.reduce(
    (sum, strand) => sum + unlooped(pattern, strand).filter(({ at }) => at % bar >= room).length,
    0,
  );
}

/**
 * A pattern in another meter, bar by bar: its bars become as long as those of the meter, and begin where
 * those begin. Swing is written into the hits, which sound where they did (cut) or as far into the bar as
 * they did (stretched). Strands with a loop of their own are written out.
 * @returns the very same pattern when it is in that meter already, or the meter is none
 */
export function inMeter(pattern: Pattern, meter: Meter, fit: MeterFit): Pattern {
  if (!isMeter(meter) || sameMeter(pattern.meter, meter)) return pattern;
  const [bar, room] = [barTicks(pattern.meter), barTicks(meter)];
  const scale = fit === 'stretch' ? room / bar : 1;
  const { swing: _, ...straight } = writeSwing(pattern);
  const fitted = mapStrands(straight, (strand) =>
    inStepOrder(
      unlooped(straight, strand).flatMap((hit): Hit[] => {
        const index = Math.floor(hit.at / bar);
        const inBar = (hit.at - index * bar) * scale;
        if (inBar >= room) return [];
        return [{ ...hit, at: index * room + inBar, push: hit.push * scale }];
      }),
    ),
  );
  return {
    ...fitted,
    meter,
    length: (pattern.length / bar) * room,
    strands: fitted.strands.map(({ loopTicks: _loop, ...strand }) => strand),
  };
}
