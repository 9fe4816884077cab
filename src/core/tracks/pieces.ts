import {
  MOST_LAYERS,
  redesigned,
  type KitPiece,
  type PieceDesign,
  type PieceId,
  type Song,
  type SoundLayer,
} from '../model';

const GONE = 'That piece is not in the kit.';

/** Puts a changed piece into the kit. @returns the same song where nothing changed */
export function withPiece(
  song: Song,
  id: PieceId,
  change: (piece: KitPiece) => KitPiece | string,
): Song | string {
  const before = song.kit.pieces.find((piece) => piece.id === id);
  if (!before) return GONE;
  const after = change(before);
  if (typeof after === 'string') return after;
  if (JSON.stringify(after) === JSON.stringify(before)) return song;
  const pieces = song.kit.pieces.map((piece) => (piece === before ? after : piece));
  return { ...song, kit: { ...song.kit, pieces } };
}

/** How a piece of the kit is heard before its track: its level, its place, and how much the room hears. */
export interface PieceChange {
  level?: number;
  pan?: number;
  room?: number;
}

export function setPieceSound(song: Song, piece: PieceId, change: PieceChange): Song | string {
  const said = Object.entries(change).filter(([, value]) => value !== undefined);
  return withPiece(song, piece, (before) => ({ ...before, ...Object.fromEntries(said) }));
}

/** Changes how the sounds of a piece are made. @param change what is undefined is as the kit has it again */
export function designPiece(song: Song, piece: PieceId, change: PieceDesign): Song | string {
  return withPiece(song, piece, (before) => redesigned(before, change));
}

/** Pieces of one choke group cut each other off. @param group 1 to 255; 0 is none */
export function chokePiece(song: Song, piece: PieceId, group: number): Song | string {
  return withPiece(song, piece, (before) => ({
    ...before,
    articulations: before.articulations.map(({ choke: _, ...way }) => ({
      ...way,
      ...(group > 0 && { choke: group }),
    })),
  }));
}

/** Puts a layer on a piece, or another one in the place of that of the same id. */
export function putLayer(song: Song, piece: PieceId, told: SoundLayer): Song | string {
  // What is not said is left out, so that it is stored as it is.
  const layer = Object.fromEntries(
    Object.entries(told).filter(([, value]) => value !== undefined),
  ) as unknown as SoundLayer;
  return withPiece(song, piece, (before) => {
    const { layers = [] } = before.design ?? {};
    const known = layers.some(({ id }) => id === layer.id);
    if (!known && layers.length >= MOST_LAYERS) return 'A piece has no room for more layers.';
    if (layer.articulation && !before.articulations.some(({ id }) => id === layer.articulation)) {
      return 'The piece is not struck in that way.';
    }
    const after = known
      ? layers.map((one) => (one.id === layer.id ? layer : one))
      : [...layers, layer];
    return redesigned(before, { layers: after });
  });
}

export function removeLayer(song: Song, piece: PieceId, layer: string): Song | string {
  return withPiece(song, piece, (before) => {
    const { layers = [] } = before.design ?? {};
    const after = layers.filter(({ id }) => id !== layer);
    if (after.length === layers.length) return 'That layer is not there any more.';
    // What is heard without layers is the piece's own sound again.
    return redesigned(before, { layers: after, ...(after.length === 0 && { bare: undefined }) });
  });
}

/** The pieces that are set together with one: all of its family, or it alone. */
export function together({ kit }: Pick<Song, 'kit'>, piece: KitPiece, all: boolean): KitPiece[] {
  return all ? kit.pieces.filter(({ family }) => family === piece.family) : [piece];
}
