import { whyAt } from '@/core/draft';
import { notify } from '../notices/notices';
import { openSongNow, useWorkbench } from '../store';
import { chosenPlace } from './choosing';
import { useDrafting } from './draftState';

const set = useDrafting.setState;

/** Says why the chosen row has its stroke, or the chosen bar what it plays. */
export function askWhy(): void {
  const { bars, row, laid } = useWorkbench.getState();
  const here = chosenPlace();
  if (!here) return notify('Choose a section, a bar or a row first.');
  const length = here.end - here.start;
  const at = bars ? bars.from - here.start : laid ? length - 1 : 0;
  showWhy(here.place.id, Math.max(0, Math.min(length - 1, at)), row);
}

/** Says why what was pressed is there, where a draft has something to do with it. */
export function pointWhy(place: string, at: number, piece?: string): void {
  const spot = { place, at, ...(piece !== undefined && { piece }) };
  set({ why: whyAt(openSongNow(), spot) && spot });
}

/** Says why something is there. @param at ticks from the start of the place */
export function showWhy(place: string, at: number, piece?: string): void {
  pointWhy(place, at, piece);
  if (!useDrafting.getState().why) notify('No draft has anything to do with this.');
}
