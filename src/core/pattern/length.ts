import { MAX_BARS, MIN_PATTERN, type Pattern, type Strand } from '../model';
import { barTicks, sameMeter, type Meter, type Ticks } from '../time';
import { mapStrands } from './strands';

/** How many bars a pattern lasts; a fill may last part of one. */
export function barsOf(pattern: Pattern): number {
  return pattern.length / barTicks(pattern.meter);
}

/** Makes a pattern longer (with silence) or shorter; hits beyond the new end go. */
export function setLength(pattern: Pattern, length: Ticks): Pattern {
  const longest = MAX_BARS * barTicks(pattern.meter);
  if (!(length >= MIN_PATTERN && length <= longest) || length === pattern.length) return pattern;
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

/**
 * Counts the pattern in another meter: hits stay at their ticks, and it gets as many bars as it takes to
 * hold what it held, as far as a pattern can have so many.
 */
export function countedIn(pattern: Pattern, meter: Meter): Pattern {
  if (sameMeter(meter, pattern.meter)) return pattern;
  const { beats, unit } = meter;
  const bar = barTicks(meter);
  const bars = Math.max(1, Math.min(MAX_BARS, Math.ceil(pattern.length / bar - 1e-6)));
  return setLength({ ...pattern, meter: { beats, unit } }, bars * bar);
}

/** The bar of a pattern a step lies in: where it begins and ends. */
export function barOfStep(pattern: Pattern, at: Ticks): { bar: number; from: Ticks; to: Ticks } {
  const length = barTicks(pattern.meter);
  const bar = Math.max(0, Math.floor(at / length));
  return { bar, from: bar * length, to: Math.min(pattern.length, (bar + 1) * length) };
}

/** The bars that hold some steps, counted from 0, `to` not included. */
export function barsHolding(pattern: Pattern, ats: readonly Ticks[]): { from: number; to: number } {
  const bars = ats.map((at) => barOfStep(pattern, at).bar);
  return bars.length === 0
    ? { from: 0, to: 1 }
    : { from: Math.min(...bars), to: Math.max(...bars) + 1 };
}
