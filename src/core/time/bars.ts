import { barTicks, COMMON_TIME, meterName, type Meter } from './meter';
import type { Ticks } from './units';

/** From bar `bar` on, counted from 0, bars are counted in `meter`. */
export interface MeterChange {
  bar: number;
  meter: Meter;
}

/** A bar by its number from 0, with where it begins and how it is counted. */
export interface Bar {
  bar: number;
  start: Ticks;
  meter: Meter;
}

/** How long the first bars of a list of meters last together. */
export function ticksOfBars(meters: readonly MeterChange[], bars: number): Ticks {
  return barNumber(meters, bars).start;
}

/** The bar with a number; beyond the last change its meter goes on. */
export function barNumber(meters: readonly MeterChange[], bar: number): Bar {
  let start = 0;
  let now: MeterChange = { bar: 0, meter: meters[0]?.meter ?? COMMON_TIME };
  for (const change of meters) {
    if (change.bar > bar) break;
    start += (change.bar - now.bar) * barTicks(now.meter);
    now = change;
  }
  return { bar, start: start + (bar - now.bar) * barTicks(now.meter), meter: now.meter };
}

/** The bar a tick lies in. Ticks before 0 lie in bars before 0. */
export function barAt(meters: readonly MeterChange[], tick: Ticks): Bar {
  let start = 0;
  let now: MeterChange = { bar: 0, meter: meters[0]?.meter ?? COMMON_TIME };
  for (const change of meters) {
    const line = start + (change.bar - now.bar) * barTicks(now.meter);
    if (line > tick) break;
    start = line;
    now = change;
  }
  const length = barTicks(now.meter);
  const bars = Math.floor((tick - start) / length);
  return { bar: now.bar + bars, start: start + bars * length, meter: now.meter };
}

/** Whether two lists of meters count alike. */
export function sameMeters(a: readonly MeterChange[], b: readonly MeterChange[]): boolean {
  return (
    a.length === b.length &&
    a.every(({ bar, meter }, i) => bar === b[i].bar && meterName(meter) === meterName(b[i].meter))
  );
}

/** "1 bar", "4 bars", "1.5 bars". */
export function saidBars(bars: number): string {
  const rounded = Math.round(bars * 100) / 100;
  return rounded === 1 ? '1 bar' : `${rounded} bars`;
}
