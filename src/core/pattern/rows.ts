import type { Pattern, PieceId, RowView } from '../model';

/** The pieces of a pattern in the order they are shown, hidden ones left out. */
export function shownRows(pattern: Pattern, view: RowView = {}): PieceId[] {
  const hidden = view.hidden ?? [];
  return orderedRows(pattern, view).filter((piece) => !hidden.includes(piece));
}

/** All pieces of a pattern in the order they are shown; staff order unless they were moved. */
export function orderedRows(pattern: Pattern, { order }: RowView = {}): PieceId[] {
  const pieces = pattern.strands.map((strand) => strand.piece);
  if (!order) return pieces;
  const rows = order.filter((piece) => pieces.includes(piece));
  // A piece that was added later stands behind the one above it in staff order.
  pieces.forEach((piece, i) => {
    if (rows.includes(piece)) return;
    const above = rows.indexOf(pieces[i - 1]);
    rows.splice(above + 1, 0, piece);
  });
  return rows;
}

/** Moves a row up (negative) or down among those that are shown. */
export function moveRow(pattern: Pattern, view: RowView, piece: PieceId, by: number): RowView {
  const shown = shownRows(pattern, view);
  const from = shown.indexOf(piece);
  const to = Math.max(0, Math.min(shown.length - 1, from + by));
  if (from < 0 || to === from) return view;
  const order = orderedRows(pattern, view).filter((other) => other !== piece);
  const neighbour = order.indexOf(shown[to]);
  order.splice(by > 0 ? neighbour + 1 : neighbour, 0, piece);
  return { ...view, order };
}

/** Adds a piece to a list of the view, or takes it out. */
export function toggleRow(
  view: RowView,
  list: 'hidden' | 'open' | 'folded',
  piece: PieceId,
): RowView {
  const now = view[list] ?? [];
  const next = now.includes(piece) ? now.filter((other) => other !== piece) : [...now, piece];
  const other = list === 'open' ? 'folded' : list === 'folded' ? 'open' : undefined;
  const without = other && (view[other] ?? []).filter((p) => p !== piece);
  return { ...view, [list]: next, ...(other && { [other]: without }) };
}
