import type { ReadMeasure } from './measures';

/** More bars than any song has: repeats within repeats of a damaged file. */
export const MOST_BARS = 10_000;

/**
 * The order in which measures are played: repeats and endings followed.
 * @returns indexes of measures, at most `MOST_BARS`
 */
export function playingOrder(measures: readonly ReadMeasure[]): number[] {
  const order: number[] = [];
  /** Where the part begins that is repeated, and which time it is played. */
  let begin = 0;
  let turn = 1;
  let at = 0;
  while (at < measures.length && order.length < MOST_BARS) {
    const { repeats, endings } = measures[at];
    if (repeats.begins && begin !== at) {
      begin = at;
      turn = 1;
    }
    if (endings.length > 0 && !endings.includes(turn)) {
      at = afterEnding(measures, at);
      continue;
    }
    order.push(at);
    const within = endingAt(measures, at);
    const times = Math.max(repeats.ends ?? 1, ...within.map((n) => n + 1));
    if (repeats.ends !== undefined && turn < times && goesBack(measures, at, turn)) {
      turn++;
      at = begin;
      continue;
    }
    at++;
    if (repeats.ends !== undefined && !nextIsEnding(measures, at)) {
      begin = at;
      turn = 1;
    }
  }
  return order;
}

/** The numbers of the ending that a measure lies in. */
function endingAt(measures: readonly ReadMeasure[], at: number): readonly number[] {
  for (let i = at; i >= 0; i--) {
    if (measures[i].endings.length > 0) return measures[i].endings;
    if (i < at && measures[i].endingStops) return [];
    if (measures[i].repeats.begins) return [];
  }
  return [];
}

/** Within an ending there is a way back only while it, or one after it, is for a later turn. */
function goesBack(measures: readonly ReadMeasure[], at: number, turn: number): boolean {
  const within = endingAt(measures, at);
  return within.length === 0 || within.includes(turn);
}

const nextIsEnding = (measures: readonly ReadMeasure[], at: number) =>
  (measures[at]?.endings.length ?? 0) > 0;

/** The measure behind an ending that is not played this time. */
function afterEnding(measures: readonly ReadMeasure[], at: number): number {
  for (let i = at; i < measures.length; i++) {
    if (measures[i].endingStops || measures[i].repeats.ends !== undefined) return i + 1;
    if (i + 1 < measures.length && measures[i + 1].endings.length > 0) return i + 1;
  }
  return measures.length;
}
