import { DEFAULT_KIT, type Kit, type Pattern, type PieceId } from '../model';
import type { Ticks } from '../time';
import { placeHits, removeHits, type StrandHit } from './hits';
import { chosenHits } from './strands';

/** How far a selection goes: in time, and over rows (positive is down). */
export interface Shift {
  by: Ticks;
  rows?: number;
  /** The rows from top to bottom, as they are shown; absent is staff order. */
  order?: readonly PieceId[];
}

const rowsOf = (pattern: Pattern, { order }: Shift): readonly PieceId[] => {
  const pieces = pattern.strands.map(({ piece }) => piece);
  return order ? order.filter((piece) => pieces.includes(piece)) : pieces;
};

/** The nearest shift that keeps every chosen hit inside the pattern and on one of its strands. */
export function boundShift(pattern: Pattern, ids: ReadonlySet<string>, shift: Shift): Shift {
  const chosen = chosenHits(pattern, ids);
  if (chosen.length === 0) return { by: 0, rows: 0 };
  const ats = chosen.map(({ hit }) => hit.at);
  const shown = rowsOf(pattern, shift);
  const rows = chosen.map(({ piece }) => Math.max(0, shown.indexOf(piece)));
  // The last step of the pattern still has to hold the last hit: hence the hit's own place in its step.
  const last = Math.max(...ats);
  const room = pattern.length - 1 - last;
  const latest = Math.floor(room / pattern.step) * pattern.step;
  const earliest = -Math.floor(Math.min(...ats) / pattern.step) * pattern.step;
  return {
    by: Math.max(earliest, Math.min(latest, shift.by)) || 0,
    rows:
      Math.max(
        -Math.min(...rows),
        Math.min(shown.length - 1 - Math.max(...rows), shift.rows ?? 0),
      ) || 0,
  };
}

/**
 * Moves the chosen hits to other steps, and to other strands when `rows` is given. Each keeps its
 * push, so a played feel stays as it was; what it lands on gives way. The shift is bounded so that
 * nothing leaves the pattern.
 */
export function moveHits(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  shift: Shift,
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const { by, rows = 0 } = boundShift(pattern, ids, shift);
  if (by === 0 && rows === 0) return pattern;
  return placeHits(removeHits(pattern, ids), shifted(pattern, ids, { ...shift, by, rows }), kit);
}

/**
 * Copies the chosen hits to other steps or strands, with their pushes.
 * @param newId gives each copy its id from the id it was copied from
 */
export function copyHits(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  shift: Shift,
  newId: (id: string) => string,
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const { by, rows = 0 } = boundShift(pattern, ids, shift);
  if (by === 0 && rows === 0) return pattern;
  const copies = shifted(pattern, ids, { ...shift, by, rows }).map(({ piece, hit }) => ({
    piece,
    hit: { ...hit, id: newId(hit.id) },
  }));
  return placeHits(pattern, copies, kit);
}

function shifted(pattern: Pattern, ids: ReadonlySet<string>, shift: Shift): StrandHit[] {
  const { by, rows = 0 } = shift;
  const shown = rowsOf(pattern, shift);
  return chosenHits(pattern, ids).map(({ piece, hit }) => ({
    // A hidden row has no neighbours: what is on it moves in time only.
    piece: shown[shown.indexOf(piece) + rows] ?? piece,
    hit: { ...hit, at: hit.at + by },
  }));
}
