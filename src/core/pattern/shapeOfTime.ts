import { findStrand, MAX_BARS, MIN_PATTERN, MIN_STEP, type Hit, type Pattern } from '../model';
import { barTicks, type Ticks } from '../time';
import { setLength } from './length';
import { putHits, removeHits } from './hits';
import { allIds, chosenHits, freeIds, periodOf } from './strands';

/** Puts the chosen hits on other steps; what they land on gives way. Pushes stay. */
function restep(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  stepFor: (hit: Hit, period: Ticks) => Ticks,
): Pattern {
  const moved = chosenHits(pattern, ids).map(({ piece, hit }) => ({
    piece,
    hit: { ...hit, at: stepFor(hit, periodOf(pattern, findStrand(pattern, piece)!)) },
  }));
  const same = chosenHits(pattern, ids).every(({ hit }, i) => hit.at === moved[i].hit.at);
  return same ? pattern : putHits(removeHits(pattern, ids), moved);
}

/** From the first step of the chosen hits to the end of the last one. */
function spanOf(pattern: Pattern, ids: ReadonlySet<string>): { from: Ticks; to: Ticks } {
  const ats = chosenHits(pattern, ids).map(({ hit }) => hit.at);
  const { step } = pattern;
  const from = Math.floor(Math.min(...ats) / step) * step;
  return { from, to: Math.min(pattern.length, Math.floor(Math.max(...ats) / step + 1) * step) };
}

/**
 * Moves the chosen hits by steps; what goes out at one end of the pattern, or of a strand's own loop,
 * comes in at the other.
 */
export function rotate(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { steps }: { steps: number },
): Pattern {
  const by = steps * pattern.step;
  return restep(pattern, ids, (hit, period) => {
    return (((hit.at + by) % period) + period) % period;
  });
}

/** Plays the steps of the chosen hits from last to first, within the time they take. */
export function reverse(pattern: Pattern, ids: ReadonlySet<string>): Pattern {
  const { from } = spanOf(pattern, ids);
  const first = Math.min(...chosenHits(pattern, ids).map(({ hit }) => hit.at));
  const last = Math.max(...chosenHits(pattern, ids).map(({ hit }) => hit.at));
  return Number.isFinite(from) ? restep(pattern, ids, (hit) => first + last - hit.at) : pattern;
}

/** Makes the second half of the chosen stretch the mirror of its first half. */
export function mirror(pattern: Pattern, ids: ReadonlySet<string>): Pattern {
  const chosen = chosenHits(pattern, ids);
  const { from, to } = spanOf(pattern, ids);
  const middle = (from + to) / 2;
  const first = chosen.filter(({ hit }) => hit.at < middle);
  const second = chosen.filter(({ hit }) => hit.at >= middle).map(({ hit }) => hit.id);
  if (first.length === 0) return pattern;
  const free = freeIds(pattern);
  const images = first.flatMap(({ piece, hit }) => {
    const at = from + to - pattern.step - hit.at;
    return at < middle ? [] : [{ piece, hit: { ...hit, id: free(hit.id), at } }];
  });
  return putHits(removeHits(pattern, new Set(second)), images);
}

/** Whether stretched hits would still lie in the pattern. */
export function roomToStretch(pattern: Pattern, ids: ReadonlySet<string>): boolean {
  if (isWhole(pattern, ids)) return pattern.length * 2 <= MAX_BARS * barTicks(pattern.meter);
  const { from } = spanOf(pattern, ids);
  return chosenHits(pattern, ids).every(
    ({ piece, hit }) => from + (hit.at - from) * 2 < periodOf(pattern, findStrand(pattern, piece)!),
  );
}

/**
 * Twice as slow: the whole pattern gets twice as long; of a pattern, the chosen hits are stretched
 * from their first step on, if there is room.
 */
export function halfTime(pattern: Pattern, ids: ReadonlySet<string>): Pattern {
  if (!roomToStretch(pattern, ids)) return pattern;
  if (isWhole(pattern, ids)) return stretched(pattern, 2);
  const { from } = spanOf(pattern, ids);
  return restep(pattern, ids, (hit) => from + (hit.at - from) * 2);
}

/** Whether half of the pattern is still a pattern, and half of each loop a loop. */
export function roomToSqueeze(pattern: Pattern): boolean {
  const loops = pattern.strands.map(({ loopTicks = pattern.length }) => loopTicks);
  return pattern.length / 2 >= MIN_PATTERN && loops.every((loop) => loop / 2 >= MIN_STEP);
}

/** Twice as fast: the inverse of `halfTime`. */
export function doubleTime(pattern: Pattern, ids: ReadonlySet<string>): Pattern {
  if (isWhole(pattern, ids)) return roomToSqueeze(pattern) ? stretched(pattern, 1 / 2) : pattern;
  const { from } = spanOf(pattern, ids);
  return restep(pattern, ids, (hit) => from + (hit.at - from) / 2);
}

function isWhole(pattern: Pattern, ids: ReadonlySet<string>): boolean {
  return allIds(pattern).size === ids.size;
}

function stretched(pattern: Pattern, by: number): Pattern {
  const strands = pattern.strands.map((strand) => ({
    ...strand,
    hits: strand.hits.map((hit) => ({ ...hit, at: hit.at * by })),
    ...(strand.loopTicks && { loopTicks: strand.loopTicks * by }),
  }));
  const { turns: _, ...rest } = pattern;
  // Bars are other bars now: what was marked as a turn is none.
  return by > 1
    ? { ...setLength(rest, rest.length * by), strands }
    : setLength({ ...rest, strands }, rest.length * by);
}
