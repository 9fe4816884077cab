import type { Pattern, PieceId } from '../model';
import type { Ticks } from '../time';

/** What is selected, for saying it and for the values beside it. */
export interface Selected {
  count: number;
  pieces: PieceId[];
  /** Softest and loudest. */
  velocity: [low: number, high: number];
  /** Earliest and latest push. */
  push: [low: Ticks, high: Ticks];
  /** First and last step. */
  steps: [first: Ticks, last: Ticks];
}

/** @returns undefined when none of the ids is a hit of the pattern */
export function summary(pattern: Pattern, ids: ReadonlySet<string>): Selected | undefined {
  const selected: Selected = {
    count: 0,
    pieces: [],
    velocity: [Infinity, -Infinity],
    push: [Infinity, -Infinity],
    steps: [Infinity, -Infinity],
  };
  for (const { piece, hits } of pattern.strands) {
    const before = selected.count;
    for (const hit of hits) {
      if (!ids.has(hit.id)) continue;
      selected.count++;
      widen(selected.velocity, hit.velocity);
      widen(selected.push, hit.push);
      widen(selected.steps, hit.at);
    }
    if (selected.count > before) selected.pieces.push(piece);
  }
  return selected.count === 0 ? undefined : selected;
}

function widen(span: [low: number, high: number], value: number): void {
  if (value < span[0]) span[0] = value;
  if (value > span[1]) span[1] = value;
}
