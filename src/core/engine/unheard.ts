import type { DeskTable } from './deskTable';
import { MOVE_SIZE, MOVES, strokesOf, type Score } from './score';

/**
 * A score without the strokes that are never heard: those of tracks that are muted from beginning to end. A stroke
 * that cuts off one that is heard stays, and so does one of the same sound: they decide how long that rings.
 */
export function withoutUnheard(score: Score, { lanes, strips }: DeskTable): Score {
  const muted = strips.map(({ mute }) => mute);
  const { moves } = score;
  for (let row = 0; row < moves.length; row += MOVE_SIZE) {
    if (moves[row + 2] === MOVES.mute && moves[row + 3] === 0) muted[moves[row + 1]] = false;
  }
  if (!muted.includes(true)) return score;
  const { ticks, notes, chokes } = score;
  const isHeard = (i: number) => !muted[lanes[score.lanes[i]]?.strip];
  const [groups, sounds] = [new Set<number>(), new Set<number>()];
  for (let i = 0; i < ticks.length; i++) {
    if (!isHeard(i)) continue;
    sounds.add(notes[i]);
    if (chokes[i] > 0) groups.add(chokes[i]);
  }
  const kept = Uint32Array.from(ticks.keys()).filter(
    (i) => isHeard(i) || groups.has(chokes[i]) || sounds.has(notes[i]),
  );
  return kept.length === ticks.length ? score : { ...score, ...strokesOf(score, kept) };
}
