import type { Pattern, Strand } from '../model/song';
import { barTicks, type Meter } from '../time/meter';
import type { Ticks } from '../time/units';
import { mapStrands } from './strands';

/** The longest pattern that can be written: 64 bars of its meter. */
export const MAX_BARS = 64;

/** How many bars a pattern lasts; a fill may last part of one. */
export function barsOf(pattern: Pattern): number {
  return pattern.length / barTicks(pattern.meter);
}

/** Makes a pattern longer (with silence) or shorter; hits beyond the new end go. */
export function setLength(pattern: Pattern, length: Ticks): Pattern {
  if (!(length > 0) || length === pattern.length) return pattern;
  const cut = mapStrands(pattern, ({ hits }) => {
    const kept = hits.filter((hit) => hit.at < length);
    return kept.length === hits.length ? hits : kept;
  });
  return { ...cut, length, strands: cut.strands.map((strand) => withinLength(strand, length)) };
}

/** A strand that loops at its own length cannot be longer than its pattern. */
function withinLength(strand: Strand, length: Ticks): Strand {
  if (strand.loopTicks === undefined || strand.loopTicks < length) return strand;
  const { loopTicks: _, ...rest } = strand;
  return rest;
}

/** Counts the pattern in another meter, with as many bars as before. Hits stay at their ticks. */
export function setMeter(pattern: Pattern, meter: Meter): Pattern {
  const bars = Math.max(1, Math.round(barsOf(pattern)));
  return { ...setLength(pattern, bars * barTicks(meter)), meter };
}
