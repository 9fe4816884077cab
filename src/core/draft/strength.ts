import { barTicks, PPQ, pulseTicks, type Meter, type Ticks } from '../time';

/**
 * How strong a moment of a bar is: 0 its start, 1 its middle, 2 a beat, 3 half a beat, 4 finer.
 * Source: the metrical grid of Lerdahl and Jackendoff, "A Generative Theory of Tonal Music" (1983).
 */
export function strengthOf(at: Ticks, meter: Meter): number {
  const bar = barTicks(meter);
  const near = (to: Ticks) => {
    const off = at - Math.round(at / to) * to;
    return Math.abs(off) < PPQ / 24;
  };
  if (at < PPQ / 24) return 0;
  if (Math.abs(at * 2 - bar) < PPQ / 12 && near(pulseTicks(meter))) return 1;
  if (near(pulseTicks(meter))) return 2;
  return near(PPQ / 2) ? 3 : 4;
}
