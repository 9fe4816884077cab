import type { PieceId } from '../model/pieces';
import type { Pattern, RowView } from '../model/song';

/** The pieces of a pattern in the order they are shown, hidden ones left out. */
export function shownRows(pattern: Pattern): PieceId[] {
  const hidden = pattern.view?.hidden ?? [];
  return orderedRows(pattern).filter((piece) => !hidden.includes(piece));
}

/** All pieces of a pattern in the order they are shown; staff order unless they were moved. */
export function orderedRows(pattern: Pattern): PieceId[] {
  const pieces = pattern.strands.map((strand) => strand.piece);
  const { order } = pattern.view ?? {};
  if (!order) return pieces;
  const named = order.filter((piece) => pieces.includes(piece));
  // A piece that was added later stands behind the one above it in staff order.
  const rows = [...named];
  pieces.forEach((piece, i) => {
    if (rows.includes(piece)) return;
    const above = rows.indexOf(pieces[i - 1]);
    rows.splice(above + 1, 0, piece);
  });
  return rows;
}

export function setView(pattern: Pattern, view: RowView): Pattern {
  return { ...pattern, view: { ...pattern.view, ...view } };
}

/** Moves a row up (negative) or down among those that are shown. */
export function moveRow(pattern: Pattern, piece: PieceId, by: number): Pattern {
  const shown = shownRows(pattern);
  const from = shown.indexOf(piece);
  const to = Math.max(0, Math.min(shown.length - 1, from + by));
  if (from < 0 || to === from) return pattern;
  const order = orderedRows(pattern).filter((other) => other !== piece);
  const neighbour = order.indexOf(shown[to]);
  order.splice(by > 0 ? neighbour + 1 : neighbour, 0, piece);
  return setView(pattern, { order });
}

/** Adds a piece to a list of the view, or takes it out. */
export function turnRow(
  pattern: Pattern,
  list: 'hidden' | 'open' | 'folded',
  piece: PieceId,
): Pattern {
  const now = pattern.view?.[list] ?? [];
  const next = now.includes(piece) ? now.filter((other) => other !== piece) : [...now, piece];
  const other = list === 'open' ? 'folded' : list === 'folded' ? 'open' : undefined;
  const without = other && (pattern.view?.[other] ?? []).filter((p) => p !== piece);
  return setView(pattern, { [list]: next, ...(other && { [other]: without }) });
}
