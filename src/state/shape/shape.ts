import { shelfOf } from '@/core/weave';
import { nanoid } from 'nanoid';
import type { Hit, Pattern } from '@/core';
import {
  articulationOf,
  duplicateOf,
  emptyPattern,
  findStrand,
  nextDye,
  pieceOf,
  type PieceId,
} from '@/core/model';
import { SELECT_FIRST } from '@/core/commands';
import { allIds, boundShift, chosenHits, hitOfStep, shownRows, stepOf } from '@/core/pattern';
import { hitsOnTrack } from '@/core/tracks';
import type { Ticks, Velocity } from '@/core/time';
import { notify } from '../notices/notices';
import { commitGesture, edit, editOrSay } from '../session/edit';
import { showRows } from '../session/session';
import { onlyTrackOf, openSongNow, rowViewOf, shownPattern, useWorkbench, viewOf } from '../store';
import { loopBarsOf, strike } from '../transport/transport';

/** The rows of a pattern as they are shown, from the top. */
export function rowsNow(shown: Pattern): PieceId[] {
  return shownRows(shown, rowViewOf(useWorkbench.getState(), shown));
}

/** The pattern that is worked on. */
export function shownNow(): Pattern | undefined {
  return shownPattern(useWorkbench.getState());
}

/** A hit as it would be placed now: on this strand, this step, this hard. */
export function newHit(piece: PieceId, at: Ticks, velocity: Velocity): Hit {
  const chosen = useWorkbench.getState().articulations[piece] ?? '';
  const articulation = articulationOf(piece, chosen, openSongNow().kit).id;
  return { id: nanoid(8), at, push: 0, velocity, articulation };
}

export function showPattern(id: string): void {
  commitGesture();
  useWorkbench.setState({
    patternId: id,
    opened: undefined,
    selection: [],
    anchor: undefined,
    patternLoop: undefined,
    lane: undefined,
    muted: [],
    soloed: [],
    turn: undefined,
  });
}

/** Shows the next pattern of the shelf (or, with -1, the one before). */
export function nextPattern(by: 1 | -1): void {
  const patterns = shelfOf(openSongNow());
  const index = patterns.findIndex((p) => p.id === shownNow()?.id);
  const next = patterns[(index + by + patterns.length) % patterns.length];
  if (next) showPattern(next.id);
}

export function addPattern(): void {
  const song = openSongNow();
  const shown = shownNow();
  const value = emptyPattern({
    id: nanoid(8),
    name: `Beat ${song.patterns.length + 1}`,
    meter: shown?.meter,
    dye: nextDye(song),
  });
  if (!edit({ type: 'add pattern', value })) return;
  showPattern(value.id);
  setCursor(useWorkbench.getState().cursor.piece, 0);
}

export function duplicatePattern(): void {
  const shown = shownNow();
  if (!shown) return;
  const value = duplicateOf(shown, openSongNow(), nanoid(8));
  if (!edit({ type: 'add pattern', value }, 'duplicate pattern')) return;
  showRows(value.id, viewOf(useWorkbench.getState(), shown));
  showPattern(value.id);
}

/** Takes a pattern that was read into the song, and shows it. */
export function addPatternOf(read: Pattern): boolean {
  const value = { ...read, id: nanoid(8), dye: nextDye(openSongNow()) };
  if (!edit({ type: 'add pattern', value })) return false;
  showPattern(value.id);
  return true;
}

useWorkbench.subscribe((state, before) => {
  // While something is tried out, what is gone may come back.
  if (state.gesture) return;
  if (state.history === before.history && state.patternId === before.patternId) return;
  const shown = shownPattern(state);
  if (!shown) return;
  keepSelectionThere(shown);
  keepCursorThere(shown);
});

/** What is gone is not selected. */
function keepSelectionThere(shown: Pattern): void {
  const { selection: before } = useWorkbench.getState();
  if (before.length === 0) return;
  const there = allIds(shown);
  const selection = before.filter((id) => there.has(id));
  if (selection.length < before.length) useWorkbench.setState({ selection });
}

/** The cursor stands on a step of the pattern, also when it has become shorter. */
function keepCursorThere(shown: Pattern): void {
  const { cursor } = useWorkbench.getState();
  if (cursor.at < shown.length) return;
  const last = Math.ceil(shown.length / shown.step - 1e-9) - 1;
  useWorkbench.setState({ cursor: { ...cursor, at: last * shown.step } });
}

/** Selects hits; with the rows of one track alone on the sheet, those of that track. */
export function select(ids: readonly string[]): void {
  const only = onlyTrackOf(useWorkbench.getState());
  const shown = only && shownNow();
  if (!shown) return useWorkbench.setState({ selection: ids });
  const there = hitsOnTrack(openSongNow(), shown, only.id);
  useWorkbench.setState({ selection: ids.filter((id) => there.has(id)) });
}

export function clearSelection(): void {
  useWorkbench.setState({ selection: [], anchor: undefined });
}

/** The hits of some strands whose steps lie in a stretch of time. */
export function hitsWithin(pieces: readonly PieceId[], from: Ticks, to: Ticks): string[] {
  return (shownNow()?.strands ?? [])
    .filter(({ piece }) => pieces.includes(piece))
    .flatMap(({ hits }) => hits.filter((hit) => hit.at >= from && hit.at < to).map((h) => h.id));
}

/** Puts the cursor on a step; with `extend`, selects all between where it started and there. */
export function setCursor(piece: PieceId, at: Ticks, extend = false): void {
  const { cursor, anchor } = useWorkbench.getState();
  const from = anchor ?? cursor;
  useWorkbench.setState({ cursor: { piece, at }, anchor: extend ? from : undefined });
  const shown = shownNow();
  if (!extend || !shown) return;
  const rows = rowsNow(shown);
  const [top, bottom] = [rows.indexOf(from.piece), rows.indexOf(piece)].sort((a, b) => a - b);
  const [start, end] = [from.at, at].sort((a, b) => a - b);
  select(hitsWithin(rows.slice(top, bottom + 1), start, end + shown.step));
}

/** Moves the cursor by steps and rows, as the arrow keys do. */
export function moveCursor(steps: number, rows: number, extend = false): void {
  const shown = shownNow();
  const pieces = shown ? rowsNow(shown) : [];
  if (!shown || pieces.length === 0) return;
  const { cursor } = useWorkbench.getState();
  const row = pieces.indexOf(cursor.piece);
  const next = pieces[Math.max(0, Math.min(pieces.length - 1, (row < 0 ? 0 : row) + rows))];
  const step = stepOf(shown, findStrand(shown, next)!);
  const last = Math.ceil(shown.length / step - 1e-9) - 1;
  // Between rows of different steps the cursor goes to the step it stands in.
  const here = Math.floor(cursor.at / step + 1e-6);
  setCursor(next, Math.max(0, Math.min(last, here + steps)) * step, extend);
}

/** The hit whose step is where the cursor is. */
function hitAtCursor(): Hit | undefined {
  const { cursor } = useWorkbench.getState();
  const shown = shownNow();
  const strand = shown && findStrand(shown, cursor.piece);
  if (!strand) return undefined;
  const at = strand.loopTicks ? cursor.at % strand.loopTicks : cursor.at;
  return hitOfStep(strand.hits, at, stepOf(shown, strand));
}

/** Gives the selected hits a velocity, or writes a hit of it at the cursor where none are selected. */
export function strikeChosen(velocity: Velocity): void {
  const shown = shownNow();
  const { selection: ids } = useWorkbench.getState();
  if (!shown || ids.length === 0) return writeAtCursor(velocity);
  useWorkbench.setState({ strength: velocity });
  editOrSay({ type: 'set velocity to', pattern: shown.id, ids, velocity });
}

/** Places a hit at the cursor and sounds it; without a velocity, a hit that is there goes. */
export function writeAtCursor(velocity?: Velocity): void {
  const shown = shownNow();
  if (!shown) return;
  const { cursor, strength } = useWorkbench.getState();
  if (!shown.strands.some((strand) => strand.piece === cursor.piece)) return;
  const there = hitAtCursor();
  if (there && velocity === undefined) {
    edit({ type: 'remove hits', pattern: shown.id, ids: [there.id] });
    return;
  }
  const struck = velocity ?? strength;
  if (velocity !== undefined) useWorkbench.setState({ strength: velocity });
  if (there) {
    edit({
      type: 'set velocity',
      pattern: shown.id,
      velocities: [{ id: there.id, velocity: struck }],
    });
    strike(cursor.piece, there.articulation, struck);
    return;
  }
  const hit = newHit(cursor.piece, cursor.at, struck);
  edit({ type: 'place hits', pattern: shown.id, hits: [{ piece: cursor.piece, hit }] });
  strike(cursor.piece, hit.articulation, struck);
}

/** The rows of the selection, or the row of the cursor. */
export function chosenRows(): PieceId[] {
  const shown = shownNow();
  const { selection, cursor } = useWorkbench.getState();
  const rows = shown ? chosenHits(shown, new Set(selection)).map(({ piece }) => piece) : [];
  return rows.length > 0 ? [...new Set(rows)] : [cursor.piece];
}

/** What a command works on: the selection, or the hit at the cursor. */
export function chosenIds(): readonly string[] {
  const { selection } = useWorkbench.getState();
  if (selection.length > 0) return selection;
  const there = hitAtCursor();
  return there ? [there.id] : [];
}

/** What a command works on, or a word that there is nothing. */
export function chosenOrSay(): readonly string[] {
  const ids = chosenIds();
  if (ids.length === 0) notify(SELECT_FIRST);
  return ids;
}

export function removeChosen(): void {
  const shown = shownNow();
  const ids = chosenOrSay();
  if (shown && ids.length > 0) edit({ type: 'remove hits', pattern: shown.id, ids });
  clearSelection();
}

export function addVelocity(by: number): void {
  const shown = shownNow();
  const ids = chosenOrSay();
  if (shown && ids.length > 0) editOrSay({ type: 'add velocity', pattern: shown.id, ids, by });
}

/** Loops the bars of the selection, or the bar of the cursor. */
export function loopChosen(): void {
  const { cursor, selection } = useWorkbench.getState();
  const shown = shownNow();
  if (!shown) return;
  const ats = chosenHits(shown, new Set(selection)).map(({ hit }) => hit.at);
  loopBarsOf(ats.length > 0 ? ats : [cursor.at]);
}

/** Moves the selection by steps and rows; pushes stay. */
export function moveChosen(steps: number, rows: number): void {
  const shown = shownNow();
  const ids = chosenOrSay();
  if (!shown || ids.length === 0) return;
  const order = rowsNow(shown);
  // A row with steps of its own moves by them.
  const [row, ...others] = chosenRows();
  const strand = others.length === 0 ? findStrand(shown, row) : undefined;
  const by = steps * (strand ? stepOf(shown, strand) : shown.step);
  const shift = boundShift(shown, new Set(ids), { by, rows, order });
  if (editOrSay({ type: 'move hits', pattern: shown.id, ids, ...shift, order })) {
    if (useWorkbench.getState().selection.length === 0) moveCursor(steps, rows);
  }
}

/** Strikes the chosen hits the next way; with nothing chosen, the coming hits of the row. */
export function nextArticulation(): void {
  const shown = shownNow();
  const ids = chosenIds();
  if (!shown) return;
  if (ids.length > 0) {
    edit({ type: 'next articulation', pattern: shown.id, ids });
    return;
  }
  const { cursor, articulations } = useWorkbench.getState();
  const { kit } = openSongNow();
  const ways = pieceOf(cursor.piece, kit).articulations;
  const now = ways.indexOf(articulationOf(cursor.piece, articulations[cursor.piece] ?? '', kit));
  placeWith(cursor.piece, ways[(now + 1) % ways.length].id);
}

/** Says how coming hits of a piece are struck. */
export function placeWith(piece: PieceId, articulation: string): void {
  useWorkbench.setState((state) => ({
    articulations: { ...state.articulations, [piece]: articulation },
  }));
}

/** Plays the chosen hits so many milliseconds later, or earlier when negative; they stay on their steps. */
export function nudgeChosen(by: number): void {
  const shown = shownNow();
  const ids = chosenIds();
  if (!shown) return;
  if (ids.length === 0) return notify(SELECT_FIRST, 'error');
  editOrSay({ type: 'push or lay back', pattern: shown.id, ids, by });
}

/** Paints on every n-th step from here on. */
export function changePaintEvery(by: 1 | -1): void {
  useWorkbench.setState(({ paintEvery }) => ({
    paintEvery: Math.max(1, Math.min(MOST_EVERY, paintEvery + by)),
  }));
}

export const MOST_EVERY = 16;
