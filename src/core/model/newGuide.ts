import type { Ticks } from '../time';
import type { Guide, GuideNote } from './song';

/** How loud a guide is at first: a little behind the kit. */
const GUIDE_LEVEL = 0.7;

/** Notes as a guide. @param at where it starts, from the start of the song */
export function guideOf(id: string, name: string, at: Ticks, notes: readonly GuideNote[]): Guide {
  return { id, name, at, notes, level: GUIDE_LEVEL };
}
