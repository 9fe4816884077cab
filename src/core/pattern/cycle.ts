import { HIT_LIMITS, MAX_BARS, MIN_STEP, type Cycle, type Hit, type Pattern } from '../model';
import { type Ticks, barTicks } from '../time';
import { swingOf } from './swing';
import { freeIds, inStepOrder, mapHits, mapStrands } from './strands';

/** Whether a hit sounds on a pass of its pattern, counted from 0. */
export function soundsOn({ cycle }: Hit, pass: number): boolean {
  return cycle === undefined || cycle.on.includes((pass % cycle.of) + 1);
}

/** Lets the chosen hits sound on some passes only; a cycle of all passes is none. */
export function setCycle(pattern: Pattern, ids: ReadonlySet<string>, cycle: Cycle): Pattern {
  const { of } = cycle;
  const on = [...new Set(cycle.on)].filter((pass) => pass >= 1 && pass <= of).sort((a, b) => a - b);
  const [fewest, most] = HIT_LIMITS.cycle;
  if (!Number.isInteger(of) || of > most || on.length === 0) return pattern;
  const always = of < fewest || on.length === of;
  return mapHits(pattern, ids, (hit) => {
    const { cycle: before, ...rest } = hit;
    if (always) return before ? rest : hit;
    if (before?.of === of && before.on.join() === on.join()) return hit;
    return { ...rest, cycle: { of, on } };
  });
}

/** Greatest common divisor of two positive numbers, to a thousandth of a tick. */
function commonDivisor(a: number, b: number): number {
  return b < 1e-3 ? a : commonDivisor(b, a % b);
}

/** Strands whose lengths have nothing in common never stand as at first: nobody waits that long. */
const MOST_PASSES = 1_000_000;

/** After how many passes cycles and strands with their own length stand as at first. */
export function passesOf(pattern: Pattern): number {
  let passes = 1;
  const repeatAfter = (other: number) => {
    const next = Math.round((passes * other) / commonDivisor(passes, other));
    passes = Math.min(MOST_PASSES, next);
  };
  for (const { hits, loopTicks } of pattern.strands) {
    if (loopTicks && hits.length > 0) {
      repeatAfter(Math.round(loopTicks / commonDivisor(loopTicks, pattern.length)));
    }
    for (const of of new Set(hits.map((hit) => hit.cycle?.of ?? 1))) repeatAfter(of);
  }
  return passes;
}

/** Where the hits of a strand sound in so many passes, with loops and cycles resolved. */
export function unrolled(pattern: Pattern, hits: readonly Hit[], loop: Ticks, passes: number) {
  const result: { hit: Hit; at: Ticks; pass: number }[] = [];
  for (let round = 0; round * loop < passes * pattern.length; round++) {
    for (const hit of hits) {
      const at = round * loop + hit.at;
      const pass = Math.floor(at / pattern.length);
      if (pass < passes && soundsOn(hit, pass)) result.push({ hit, at, pass });
    }
  }
  return result;
}

/**
 * Writes cycles and strand loops out to the length after which everything has been heard; the
 * pattern itself when that is longer than a pattern can be, or there is nothing to write out.
 */
export function writeOut(pattern: Pattern): Pattern {
  const passes = passesOf(pattern);
  const plain = pattern.strands.every(
    ({ hits, loopTicks }) => !loopTicks && hits.every((hit) => !hit.cycle),
  );
  if (plain || passes * pattern.length > MAX_BARS * barTicks(pattern.meter)) return pattern;
  const { length } = pattern;
  const kept = new Set<string>();
  const free = freeIds(pattern);
  const idOf = (id: string) => {
    if (kept.has(id)) return free(id);
    kept.add(id);
    return id;
  };
  const strands = pattern.strands.map(({ loopTicks, ...strand }) => ({
    ...strand,
    hits: unrolled(pattern, strand.hits, loopTicks ?? length, passes).map(({ hit, at }) => {
      const { cycle: _, ...rest } = hit;
      // Swing counts from the start of each pass, also where passes do not hold whole pairs.
      const swung = swingOf(pattern, at % length) - swingOf(pattern, at);
      const push = swung === 0 ? hit.push : hit.push + swung;
      return {
        ...rest,
        id: idOf(hit.id),
        at,
        push,
      };
    }),
  }));
  return { ...pattern, length: length * passes, strands };
}

/** Lets a strand loop at its own length; hits after the join go. The pattern's length ends it. */
export function setStrandLoop(pattern: Pattern, piece: string, loop: Ticks): Pattern {
  if (!(loop >= MIN_STEP)) return pattern;
  const own = loop < pattern.length ? loop : undefined;
  const strand = pattern.strands.find((s) => s.piece === piece);
  if (!strand || strand.loopTicks === own) return pattern;
  const cut = mapStrands(pattern, ({ piece: other, hits }) => {
    return other === piece && own ? inStepOrder(hits.filter((hit) => hit.at < own)) : hits;
  });
  return {
    ...cut,
    strands: cut.strands.map((s) => {
      if (s.piece !== piece) return s;
      const { loopTicks: _, ...rest } = s;
      return own ? { ...rest, loopTicks: own } : rest;
    }),
  };
}
