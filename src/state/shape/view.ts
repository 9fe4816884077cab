import type { Menu } from '@/core/commands';
import type { Pattern } from '@/core';
import type { PieceId, RowView } from '@/core/model';
import { moveRow, toggleRow, type LaneId } from '@/core/pattern';
import { PPQ } from '@/core/time';
import { hearAll as hearAllTracks } from '../balance/balance';
import { trackHere } from '../balance/here';
import { showRows } from '../session/session';
import { rowsNow, select, setCursor } from './shape';
import {
  onlyTrackOf,
  rowViewOf,
  shownPattern,
  useWorkbench,
  viewOf,
  type Workbench,
} from '../store';

/** Pixels a quarter note, closest and widest; and how much rows may be stretched. */
const BEAT: readonly [number, number] = [6, 480];
const ROWS: readonly [number, number] = [0.6, 3];

const within = (value: number, [low, high]: readonly [number, number]) =>
  Math.max(low, Math.min(high, value));

/** How wide time is drawn now, told by the sheet: keys zoom from there. */
let scaleNow = 0.1;

/** Whether the pointer is at work on the sheet: what it holds must stay under it. */
let isHeld = false;

/** Keeps the sheet as wide and high as it is drawn, from a press of the pointer to its release. */
export function holdZoom(hold: boolean): void {
  isHeld = hold;
}

function zoom(change: (before: Workbench) => Workbench['zoom']): void {
  if (!isHeld) useWorkbench.setState((state) => ({ zoom: change(state) }));
}

/**
 * Draws time wider (above 1) or narrower.
 * @param scale pixels a tick as they are now
 */
export function zoomTime(by: number, scale = scaleNow): void {
  zoom((state) => {
    const beat = state.zoom.beat ?? scale * PPQ;
    return { ...state.zoom, beat: within(beat * by, BEAT) };
  });
}

export function sayScale(scale: number): void {
  scaleNow = scale;
}

export function zoomRows(by: number): void {
  zoom((state) => ({ ...state.zoom, rows: within(state.zoom.rows * by, ROWS) }));
}

export function zoomToFit(): void {
  zoom(() => ({ rows: 1, fit: true }));
}

export function toggleFollow(): void {
  useWorkbench.setState(({ follow }) => ({ follow: !follow }));
}

const cursorPiece = () => useWorkbench.getState().cursor.piece;

function toggled(list: readonly PieceId[], piece: PieceId): PieceId[] {
  return list.includes(piece) ? list.filter((other) => other !== piece) : [...list, piece];
}

export function toggleMute(piece = cursorPiece()): void {
  useWorkbench.setState(({ muted }) => ({ muted: toggled(muted, piece) }));
}

export function toggleSolo(piece = cursorPiece()): void {
  useWorkbench.setState(({ soloed }) => ({ soloed: toggled(soloed, piece) }));
}

/** Hears all rows and all tracks again. */
export function hearAllRows(): void {
  useWorkbench.setState({ muted: [], soloed: [] });
  hearAllTracks();
}

/** Shows the rows of one track alone, or all again. @param track absent is that of the cursor's row */
export function toggleOnlyTrack(track = trackHere()?.id): void {
  const only = onlyTrackOf(useWorkbench.getState())?.id === track ? undefined : track;
  useWorkbench.setState({ onlyTrack: only, anchor: undefined });
  const shown = shownPattern(useWorkbench.getState());
  if (!shown || only === undefined) return;
  // What is not seen is not selected, and the cursor stands on a row that is.
  select(useWorkbench.getState().selection);
  const rows = rowsNow(shown);
  const { cursor } = useWorkbench.getState();
  if (rows.length > 0 && !rows.includes(cursor.piece)) setCursor(rows[0], cursor.at);
}

/** Changes how the rows of the shown pattern are shown. */
function rearrange(change: (view: RowView, shown: Pattern) => RowView): void {
  const state = useWorkbench.getState();
  const shown = shownPattern(state);
  if (!shown) return;
  const before = viewOf(state, shown);
  const after = change(before, shown);
  if (after !== before) showRows(shown.id, after);
}

/** Opens a row to full height, folds it to a line, or hides it; and back. */
export function toggleRowView(list: 'open' | 'folded' | 'hidden', piece = cursorPiece()): void {
  rearrange((view) => toggleRow(view, list, piece));
}

export function showAllRows(): void {
  useWorkbench.setState({ onlyTrack: undefined });
  rearrange((view) => ({ ...view, hidden: [] }));
}

/** Puts the rows back in the order of the tracks, and of a drum staff. */
export function staffOrderRows(): void {
  rearrange(({ order: _, ...view }) => view);
}

export function moveCursorRow(by: number, piece = cursorPiece()): void {
  rearrange((view, shown) => {
    const seen = rowViewOf(useWorkbench.getState(), shown);
    const { order } = moveRow(shown, seen, piece, by);
    return order === seen.order ? view : { ...view, order };
  });
}

/** Shows a lane on the cursor's row; the same one again closes it. */
export function showLane(id: LaneId | undefined, piece = cursorPiece()): void {
  const { lane } = useWorkbench.getState();
  const same = lane?.id === id && lane?.piece === piece;
  useWorkbench.setState({ lane: id && !same ? { piece, id } : undefined });
}

/** Opens a menu of Shape, or closes the one that is open. */
export function openMenu(menu: Menu | undefined): void {
  useWorkbench.setState({ menu });
}
