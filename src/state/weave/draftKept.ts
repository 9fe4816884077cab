import type { Song } from '@/core';
import { notify } from '../notices/notices';
import { goToStep } from '../session/edit';
import { useWorkbench, type Workbench } from '../store';
import { useDrafting, type Drafting } from './draftState';

const set = useDrafting.setState;
const get = useDrafting.getState;

/** What was done, without what a gesture shows. */
const historyOf = ({ gesture, history }: Workbench) => gesture?.before ?? history;

/** Whether the song before its draft is heard, and the draft can be gone back to. */
export function isBefore(
  { since, after }: Drafting = get(),
  state = useWorkbench.getState(),
): boolean {
  const history = historyOf(state);
  if (!since || !after || history?.song !== since.before) return false;
  return history.future.some(({ song }) => song === after);
}

/** Whether the song has a draft that is neither kept nor taken back, by undo either, or is heard without it. */
export function isOpen(drafting: Drafting = get(), state = useWorkbench.getState()): boolean {
  const { since } = drafting;
  const history = historyOf(state);
  if (!since || !history) return false;
  if (isBefore(drafting, state)) return true;
  const { past, song } = history;
  const first = past.findIndex((step) => step.song === since.before);
  return first >= 0 && (past[first + 1]?.song ?? song) === since.drafted;
}

/**
 * Remembers a draft that a gesture shows, unless one before it is neither kept nor taken back.
 * @param before the song that it is a draft of
 */
export function openDraft(before: Song, drafted: Song): void {
  if (isBefore() || !isOpen()) set({ since: { before, drafted } });
}

/** Keeps what was drafted: there is nothing to take back any more, but by undo. */
export function keepDraft(): void {
  if (!isOpen()) return sayNothingOpen();
  if (isBefore()) compareBefore();
  set({ since: undefined, after: undefined, says: [] });
  notify('Kept. It is ordinary patterns: change them in Shape, or lock what shall stay.');
}

/** Goes back to the song as it was before its draft; redo brings it again. */
export function takeBackDraft(): void {
  if (!isOpen()) return sayNothingOpen();
  goToBefore();
  set({ since: undefined, after: undefined, says: [] });
}

/** Hears the song as it was before its draft, and as it is: while it plays. */
export function compareBefore(): void {
  if (!isOpen()) return sayNothingOpen();
  const { after } = get();
  const { past, future, song } = useWorkbench.getState().history!;
  if (isBefore()) {
    goToStep(past.length + future.length - future.findIndex((step) => step.song === after));
    set({ after: undefined });
    return;
  }
  set({ after: song });
  goToBefore();
}

function goToBefore(): void {
  const { past } = useWorkbench.getState().history!;
  const { since } = get();
  const index = past.findIndex(({ song }) => song === since!.before);
  if (index >= 0) goToStep(index);
}

const sayNothingOpen = () => notify('Nothing was drafted since the last draft was kept.');
