import { songOfPattern, timeline } from '../weave';
import {
  DEFAULT_KIT,
  findPiece,
  pieceOfNote,
  type Family,
  type PieceId,
  type Pattern,
  songWith,
} from '../model';
import { barTicks, type Meter, type Bpm, type Ticks } from '../time';

/** Parts of a kit that are compared with each other: each has a row of its own in a fingerprint. */
export const GROUPS = ['kick', 'snare', 'toms', 'hats', 'cymbals', 'percussion'] as const;
export type Group = (typeof GROUPS)[number];

const GROUP_OF_FAMILY: Readonly<Record<Family, Group>> = {
  kick: 'kick',
  snare: 'snare',
  toms: 'toms',
  hats: 'hats',
  cymbals: 'cymbals',
  percussion: 'percussion',
  other: 'percussion',
};

const KNOWN = new Map<PieceId, number>();

/** The index in `GROUPS` of the part of the kit a piece belongs to. */
export function groupOf(piece: PieceId): number {
  let group = KNOWN.get(piece);
  if (group === undefined) {
    group = GROUPS.indexOf(GROUP_OF_FAMILY[findPiece(piece)?.family ?? 'percussion']);
    KNOWN.set(piece, group);
  }
  return group;
}

/** Pieces by number, so that a list of strokes needs no strings. */
export const PIECES_BY_NUMBER: readonly PieceId[] = [
  ...DEFAULT_KIT.pieces.map(({ id }) => id),
  ...Array.from({ length: 128 }, (_, note) => pieceOfNote(note).piece)
    .filter(({ family }) => family === 'other')
    .map(({ id }) => id),
];

/** The number of the piece that each note is read as. */
export const PIECE_OF_NOTE = Uint8Array.from({ length: 128 }, (_, note) =>
  PIECES_BY_NUMBER.indexOf(pieceOfNote(note).piece.id),
);

export const GROUP_OF_PIECE = Uint8Array.from(PIECES_BY_NUMBER, groupOf);

/**
 * What a groove sounds like and nothing else: one entry a stroke, in order of time. Features are
 * measured on it, whether it comes from a pattern or straight from the notes of a file.
 */
export interface Strokes {
  /** How many there are; the arrays may be longer. */
  count: number;
  /** When each stroke sounds, in ticks from the start; may lie a little before it. */
  at: Float64Array;
  /** Index in `PIECES_BY_NUMBER`. */
  piece: Uint8Array;
  velocity: Uint8Array;
  length: Ticks;
  meter: Meter;
  bpm: Bpm;
}

/** The strokes of one pass of a pattern. */
export function strokesOfPattern(pattern: Pattern, bpm: Bpm): Strokes {
  const hits = timeline(songOfPattern(songWith({ id: '', name: '', bpm }), pattern));
  return {
    count: hits.length,
    at: Float64Array.from(hits, (hit) => hit.tick),
    piece: Uint8Array.from(hits, (hit) => PIECES_BY_NUMBER.indexOf(hit.piece)),
    velocity: Uint8Array.from(hits, (hit) => hit.velocity),
    length: pattern.length,
    meter: pattern.meter,
    bpm,
  };
}

export function barsOfStrokes({ length, meter }: Pick<Strokes, 'length' | 'meter'>): number {
  return Math.max(1, Math.round((length / barTicks(meter)) * 100) / 100);
}
