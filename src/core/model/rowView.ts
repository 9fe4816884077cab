import { isRecord } from './finds';
import type { PieceId } from './kit';

/** How the rows of a pattern are shown. It is no part of the song: it changes nothing that sounds. */
export interface RowView {
  /** Pieces from top to bottom; what is not named follows in staff order. */
  order?: readonly PieceId[];
  hidden?: readonly PieceId[];
  /** Rows at full height, and rows that are but a line. */
  open?: readonly PieceId[];
  folded?: readonly PieceId[];
}

/** How the patterns of a song are shown, by their ids. */
export type SongView = Readonly<Record<string, RowView>>;

const LISTS = ['order', 'hidden', 'open', 'folded'] as const;

/** What of a stored value says how patterns are shown; nothing else of it. */
export function soundView(value: unknown): SongView {
  const named = (list: unknown) =>
    Array.isArray(list) ? list.filter((piece) => typeof piece === 'string') : undefined;
  if (!isRecord(value)) return {};
  return Object.fromEntries(
    Object.entries(value).flatMap(([pattern, rows]) => {
      if (!isRecord(rows)) return [];
      const lists = LISTS.map((list) => [list, named(rows[list])] as const);
      return [[pattern, Object.fromEntries(lists.filter(([, pieces]) => pieces))]];
    }),
  );
}
