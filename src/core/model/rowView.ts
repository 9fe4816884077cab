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
