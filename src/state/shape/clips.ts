import { nanoid } from 'nanoid';
import type { Pattern } from '@/core';
import type { PieceId } from '@/core/model';
import { allIds, clipOf, ontoRows, pastePlace, patternOfClip } from '@/core/pattern';
import { namesOf } from '../gather/taking';
import { notify } from '../notices/notices';
import { editOrSay } from '../session/edit';
import { useWorkbench } from '../store';
import {
  chosenIds,
  chosenOrSay,
  removeChosen,
  rowsNow,
  select,
  setCursor,
  shownNow,
} from './shape';

export function copyChosen(): void {
  const shown = shownNow();
  const clip = shown && clipOf(shown, new Set(chosenOrSay()));
  if (clip) useWorkbench.setState({ clip });
}

/** What was copied last, as a pattern of its own: it lies in its bars as it lay in the pattern. */
export function copiedHits(): Pattern | undefined {
  const { clip } = useWorkbench.getState();
  const shown = shownNow();
  return clip && shown && patternOfClip(clip, shown);
}

export function cutChosen(): void {
  if (chosenOrSay().length === 0) return;
  copyChosen();
  removeChosen();
}

/**
 * Pastes from the cursor's step on, and selects what was pasted. A clip of one strand goes onto the
 * strand of the cursor with `onto`; with `only`, what is on other strands is left out.
 */
export function paste(options: { onto?: PieceId; only?: readonly PieceId[] } = {}): void {
  const shown = shownNow();
  const { clip, cursor, pasteMode } = useWorkbench.getState();
  if (!shown || !clip) {
    if (shown) notify('There is nothing to paste yet: select hits and copy them first.');
    return;
  }
  const { onto, only } = options;
  const wanted = only ? clip.hits.filter(({ piece }) => only.includes(piece)) : clip.hits;
  const { hits, went, beyond } = onto
    ? ontoRows(wanted, rowsNow(shown), onto)
    : { hits: wanted, went: new Map<PieceId, PieceId>(), beyond: [] };
  const before = allIds(shown);
  const { at, next } = pastePlace(shown, clip, cursor.at);
  const pasted = editOrSay({
    type: 'paste',
    pattern: shown.id,
    hits,
    length: clip.length,
    at,
    mode: pasteMode,
    seed: nanoid(6),
  });
  const now = shownNow();
  if (!pasted || !now) return;
  const on = new Set(hits.map(({ piece }) => piece));
  if (on.size > 1 && (went.size > 0 || !on.has(cursor.piece))) {
    const lost = beyond.length > 0 ? ` ${namesOf(beyond)} had no row below and stayed out.` : '';
    notify(`Pasted on ${namesOf([...on])}.${lost}`);
  }
  select([...allIds(now)].filter((id) => !before.has(id)));
  if (next < shown.length) setCursor(cursor.piece, next);
}

/** Whether pasting takes out what lies in its time, or only gives way step by step. */
export function togglePasteMode(): void {
  useWorkbench.setState(({ pasteMode }) => ({
    pasteMode: pasteMode === 'add' ? 'replace' : 'add',
  }));
}

/** Copies the selection to right after itself, and selects the copy. */
export function duplicateChosen(): void {
  const shown = shownNow();
  if (!shown) return;
  const before = allIds(shown);
  const command = { type: 'duplicate hits' as const, pattern: shown.id, ids: chosenIds() };
  if (!editOrSay({ ...command, seed: nanoid(6) }, 'duplicate')) return;
  const now = shownNow();
  if (now) select([...allIds(now)].filter((id) => !before.has(id)));
}
