import type { Hit, Pattern, Strand } from '../model/song';
import { byStaffOrder, type PieceId } from '../model/pieces';
import { barTicks, meterName } from '../time/meter';
import type { Ticks } from '../time/units';
import { MAX_BARS } from './length';

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
 * Patterns one after another as one pattern, which remembers its pieces.
 * @returns undefined when they cannot be joined: see `whyNotJoined`
 */
export function joinPatterns(
  patterns: readonly Pattern[],
  head: Pick<Pattern, 'id' | 'name' | 'dye'>,
): Pattern | undefined {
  if (whyNotJoined(patterns)) return undefined;
  const strands = new Map<PieceId, Hit[]>();
  let start: Ticks = 0;
  patterns.forEach((pattern, part) => {
    for (const { piece, hits, loopTicks } of pattern.strands) {
      const list = strands.get(piece) ?? [];
      strands.set(piece, list);
      const rounds = loopTicks ? Math.ceil(pattern.length / loopTicks) : 1;
      for (let round = 0; round < rounds; round++) {
        for (const hit of hits) {
          const at = hit.at + round * (loopTicks ?? 0);
          if (at < pattern.length)
            list.push({ ...hit, id: `${part}-${round}-${hit.id}`, at: at + start });
        }
      }
    }
    start += pattern.length;
  });
  const [first] = patterns;
  return {
    ...head,
    kind: first.kind,
    meter: first.meter,
    length: start,
    step: first.step,
    strands: [...strands]
      .sort(([a], [b]) => byStaffOrder(a, b))
      .map(([piece, hits]): Strand => ({ piece, hits })),
    ...(first.swing && { swing: first.swing }),
    joined: patterns,
  };
}

/**
 * Cuts a pattern at a tick into what is before it and what is from it on.
 * @returns undefined when the tick is not inside the pattern
 */
export function splitPattern(
  pattern: Pattern,
  at: Ticks,
  ids: readonly [string, string],
): [Pattern, Pattern] | undefined {
  if (!(at > 0 && at < pattern.length)) return undefined;
  const { joined: _, turns: __, ...plain } = pattern;
  const part = (id: string, from: Ticks, to: Ticks, which: string): Pattern => ({
    ...plain,
    id,
    name: `${pattern.name}, ${which}`,
    length: to - from,
    strands: pattern.strands.map(({ loopTicks, ...strand }) => ({
      ...strand,
      hits: rolledOut(strand.hits, loopTicks, pattern.length)
        .filter((hit) => hit.at >= from && hit.at < to)
        .map((hit) => ({ ...hit, at: hit.at - from })),
    })),
  });
  return [part(ids[0], 0, at, 'first part'), part(ids[1], at, pattern.length, 'second part')];
}

function rolledOut(hits: readonly Hit[], loop: Ticks | undefined, length: Ticks): Hit[] {
  if (!loop) return [...hits];
  return Array.from({ length: Math.ceil(length / loop) }, (_, round) =>
    hits.map((hit) => ({
      ...hit,
      at: hit.at + round * loop,
      id: round === 0 ? hit.id : `${hit.id}.${round}`,
    })),
  )
    .flat()
    .filter(({ at }) => at < length);
}
