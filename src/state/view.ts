import type { PieceId } from '@/core/model';
import { type LaneId, turnRow } from '@/core/pattern';
import { PPQ } from '@/core/time';
import { edit } from './edit';
import { shownPattern, useWorkbench } from './store';

/** Pixels a quarter note, closest and widest; and how much rows may be stretched. */
const BEAT: readonly [number, number] = [6, 480];
const ROWS: readonly [number, number] = [0.6, 3];

const within = (value: number, [low, high]: readonly [number, number]) =>
  Math.max(low, Math.min(high, value));

/** How wide time is drawn now, told by the sheet: keys zoom from there. */
let scaleNow = 0.1;

/**
 * Draws time wider (above 1) or narrower.
 * @param scale pixels a tick as they are now
 */
export function zoomTime(by: number, scale = scaleNow): void {
  useWorkbench.setState((state) => {
    const beat = state.zoom.beat ?? scale * PPQ;
    state.zoom = { ...state.zoom, beat: within(beat * by, BEAT) };
  });
}

export function sayScale(scale: number): void {
  scaleNow = scale;
}

export function zoomRows(by: number): void {
  useWorkbench.setState((state) => {
    state.zoom = { ...state.zoom, rows: within(state.zoom.rows * by, ROWS) };
  });
}

export function zoomToFit(): void {
  useWorkbench.setState({ zoom: { rows: 1 } });
}

export function toggleFollow(): void {
  useWorkbench.setState((state) => {
    state.follow = !state.follow;
  });
}

const cursorPiece = () => useWorkbench.getState().cursor.piece;

function turned(list: readonly PieceId[], piece: PieceId): PieceId[] {
  return list.includes(piece) ? list.filter((other) => other !== piece) : [...list, piece];
}

export function toggleMute(piece = cursorPiece()): void {
  useWorkbench.setState(({ muted }) => ({ muted: turned(muted, piece) }));
}

export function toggleSolo(piece = cursorPiece()): void {
  useWorkbench.setState(({ soloed }) => ({ soloed: turned(soloed, piece) }));
}

export function hearAllRows(): void {
  useWorkbench.setState({ muted: [], soloed: [] });
}

/** Opens a row to full height, folds it to a line, or hides it; and back. */
export function turnRowView(list: 'open' | 'folded' | 'hidden', piece = cursorPiece()): void {
  const pattern = shownPattern(useWorkbench.getState());
  if (!pattern) return;
  const view = turnRow(pattern, list, piece).view ?? {};
  const label = { open: 'open row', folded: 'fold row', hidden: 'hide row' }[list];
  edit({ type: 'arrange rows', pattern: pattern.id, view }, label);
}

export function showAllRows(): void {
  const pattern = shownPattern(useWorkbench.getState());
  if (pattern) {
    edit({ type: 'arrange rows', pattern: pattern.id, view: { hidden: [] } }, 'show all rows');
  }
}

/** Puts the rows back in the order of a drum staff. */
export function staffOrderRows(): void {
  const pattern = shownPattern(useWorkbench.getState());
  if (!pattern) return;
  const order = pattern.strands.map(({ piece }) => piece);
  edit({ type: 'arrange rows', pattern: pattern.id, view: { order } }, 'staff order');
}

export function moveCursorRow(by: number, piece = cursorPiece()): void {
  const pattern = shownPattern(useWorkbench.getState());
  if (pattern) edit({ type: 'move row', pattern: pattern.id, piece, by });
}

/** Shows a lane on the cursor's row; the same one again closes it. */
export function showLane(id: LaneId | undefined, piece = cursorPiece()): void {
  const { lane } = useWorkbench.getState();
  const same = lane?.id === id && lane?.piece === piece;
  useWorkbench.setState({ lane: id && !same ? { piece, id } : undefined });
}
