import { MAX_BARS, MIN_PATTERN, type Hit, type Pattern } from '../model';
import { barTicks, type Ticks } from '../time';
import { setLength } from './length';
import { freeIds } from './strands';

/** Whole bars of a pattern, counted from 0; `to` is not among them. */
export interface Bars {
  from: number;
  to: number;
}

function ticksOf(pattern: Pattern, { from, to }: Bars): { start: Ticks; end: Ticks } | undefined {
  const bar = barTicks(pattern.meter);
  const start = from * bar;
  const end = Math.min(pattern.length, to * bar);
  const whole = Number.isInteger(from) && Number.isInteger(to);
  return whole && from >= 0 && end > start ? { start, end } : undefined;
}

/**
 * Changes hits of strands that follow the pattern; those with their own loop run on as they are. The
 * turns go with their bars.
 * @param barsOf where a bar is afterwards: nowhere, in one place, or in several
 */
function mapSteps(
  pattern: Pattern,
  length: Ticks,
  change: (hits: Hit[]) => Hit[],
  barsOf: (bar: number) => readonly number[],
): Pattern {
  const strands = pattern.strands.map((strand) =>
    strand.loopTicks ? strand : { ...strand, hits: change(strand.hits) },
  );
  const { turns, ...rest } = pattern;
  const moved = turns?.flatMap((turn) => barsOf(turn.bar).map((bar) => ({ ...turn, bar })));
  const changed = { ...rest, strands, ...(moved && moved.length > 0 && { turns: moved }) };
  return setLength({ ...changed, length: Math.max(length, pattern.length) }, length);
}

/** Puts silent bars before a bar (counted from 0), or at the end. */
export function insertBars(
  pattern: Pattern,
  { before, count }: { before: number; count: number },
): Pattern {
  const bar = barTicks(pattern.meter);
  const start = before * bar;
  const length = pattern.length + count * bar;
  const sound = [before, count].every(Number.isInteger) && before >= 0 && count > 0;
  if (!sound || start > pattern.length || length > MAX_BARS * bar) return pattern;
  return mapSteps(
    pattern,
    length,
    (hits) => hits.map((hit) => (hit.at >= start ? { ...hit, at: hit.at + count * bar } : hit)),
    (n) => [n >= before ? n + count : n],
  );
}

/** Takes bars and what is in them out; one bar at least is left. */
export function removeBars(pattern: Pattern, bars: Bars): Pattern {
  const ticks = ticksOf(pattern, bars);
  if (!ticks) return pattern;
  const { start, end } = ticks;
  const length = pattern.length - (end - start);
  if (length < MIN_PATTERN) return pattern;
  return mapSteps(
    pattern,
    length,
    (hits) =>
      hits
        .filter((hit) => hit.at < start || hit.at >= end)
        .map((hit) => (hit.at >= end ? { ...hit, at: hit.at - (end - start) } : hit)),
    (n) => (n < bars.from ? [n] : n < bars.to ? [] : [n - (bars.to - bars.from)]),
  );
}

/** Plays bars twice: their copy follows them, and what came after comes later. */
export function repeatBars(pattern: Pattern, bars: Bars): Pattern {
  const ticks = ticksOf(pattern, bars);
  const bar = barTicks(pattern.meter);
  if (!ticks || pattern.length + ticks.end - ticks.start > MAX_BARS * bar) return pattern;
  const { start, end } = ticks;
  const by = end - start;
  const free = freeIds(pattern);
  const count = Math.round(by / bar);
  return mapSteps(
    pattern,
    pattern.length + by,
    (hits) => [
      ...hits.filter((hit) => hit.at < end),
      ...hits
        .filter((hit) => hit.at >= start && hit.at < end)
        .map((hit) => ({ ...hit, id: free(hit.id), at: hit.at + by })),
      ...hits.filter((hit) => hit.at >= end).map((hit) => ({ ...hit, at: hit.at + by })),
    ],
    (n) => (n < bars.from ? [n] : n < bars.to ? [n, n + count] : [n + count]),
  );
}

/** Leaves these bars and nothing else. */
export function cropTo(pattern: Pattern, bars: Bars): Pattern {
  const ticks = ticksOf(pattern, bars);
  if (!ticks || ticks.end - ticks.start === pattern.length) return pattern;
  const { start, end } = ticks;
  if (end - start < MIN_PATTERN) return pattern;
  return mapSteps(
    pattern,
    end - start,
    (hits) =>
      hits
        .filter((hit) => hit.at >= start && hit.at < end)
        .map((hit) => (start === 0 ? hit : { ...hit, at: hit.at - start })),
    (n) => (n >= bars.from && n < bars.to ? [n - bars.from] : []),
  );
}
