import {
  byStaffOrder,
  DEFAULT_KIT,
  MAX_BARS,
  MIN_PATTERN,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
  type Strand,
  type Turn,
} from '../model';
import { barTicks, meterName, type Ticks } from '../time';
import { unlooped } from './strands';
import { carried } from './swing';

/** Why patterns cannot be joined end to end; undefined when they can. */
export function whyNotJoined(patterns: readonly Pattern[]): string | undefined {
  if (patterns.length < 2) return 'Choose at least two patterns to join.';
  const [first] = patterns;
  if (patterns.some(({ meter }) => meterName(meter) !== meterName(first.meter))) {
    return 'Patterns in different meters cannot be joined: a pattern has one meter.';
  }
  const length = patterns.reduce((sum, pattern) => sum + pattern.length, 0);
  if (length > MAX_BARS * barTicks(first.meter)) {
    return `Together they are longer than ${MAX_BARS} bars.`;
  }
  return undefined;
}

/**
 * Patterns one after another as one pattern, which remembers its pieces. It sounds as they do: where
 * one swings otherwise than the first, its hits are pushed to where they were heard.
 * @returns undefined when they cannot be joined: see `whyNotJoined`
 */
export function joinPatterns(
  patterns: readonly Pattern[],
  head: Pick<Pattern, 'id' | 'name' | 'dye'>,
  kit: Kit = DEFAULT_KIT,
): Pattern | undefined {
  if (whyNotJoined(patterns)) return undefined;
  const [first] = patterns;
  const strands = new Map<PieceId, Hit[]>();
  const turns: Turn[] = [];
  const bar = barTicks(first.meter);
  let start: Ticks = 0;
  patterns.forEach((pattern, part) => {
    for (const strand of pattern.strands) {
      const list = strands.get(strand.piece) ?? [];
      strands.set(strand.piece, list);
      for (const hit of unlooped(pattern, strand)) {
        list.push({ ...carried(hit, pattern, first, hit.at + start), id: `${part}-${hit.id}` });
      }
    }
    const bars = start / bar;
    if (Number.isInteger(bars)) {
      turns.push(...(pattern.turns ?? []).map((turn) => ({ ...turn, bar: turn.bar + bars })));
    }
    start += pattern.length;
  });
  return {
    ...head,
    kind: first.kind,
    meter: first.meter,
    length: start,
    step: first.step,
    strands: [...strands]
      .sort(([a], [b]) => byStaffOrder(a, b, kit))
      .map(([piece, hits]): Strand => ({ piece, hits })),
    ...(first.swing && { swing: first.swing }),
    ...(turns.length > 0 && { turns }),
    joined: patterns,
  };
}

/**
 * Cuts a pattern at a tick into what is before it and what is from it on. Both sound as they did.
 * @returns undefined when the tick is not inside the pattern
 */
export function splitPattern(
  pattern: Pattern,
  at: Ticks,
  ids: readonly [string, string],
): [Pattern, Pattern] | undefined {
  if (!(at >= MIN_PATTERN && at <= pattern.length - MIN_PATTERN)) return undefined;
  const { joined: _, turns, ...plain } = pattern;
  const bar = barTicks(pattern.meter);
  const part = (id: string, from: Ticks, to: Ticks, which: string): Pattern => {
    const kept = (turns ?? []).filter((turn) => turn.bar * bar >= from && turn.bar * bar < to);
    const moved = kept.map((turn) => ({ ...turn, bar: turn.bar - Math.ceil(from / bar) }));
    return {
      ...plain,
      id,
      name: `${pattern.name}, ${which}`,
      length: to - from,
      strands: pattern.strands.map((strand) => {
        const { loopTicks: __, ...rest } = strand;
        const hits = unlooped(pattern, strand)
          .filter((hit) => hit.at >= from && hit.at < to)
          .map((hit) => carried(hit, pattern, pattern, hit.at - from));
        return { ...rest, hits };
      }),
      ...(moved.length > 0 && { turns: moved }),
    };
  };
  return [part(ids[0], 0, at, 'first part'), part(ids[1], at, pattern.length, 'second part')];
}
