import type { NoteNumber } from '../time/units';

/** How drummers write a stroke: the shape of its notehead. */
export type Notehead = 'dot' | 'cross' | 'circled-cross' | 'diamond' | 'triangle';

/** One way of striking a kit piece, and the General MIDI note that says it. */
export interface Articulation {
  id: string;
  name: string;
  note: NoteNumber;
  head: Notehead;
  /** The sound of the kit, where General MIDI has no note of its own for it: 128 or more. */
  sound?: SoundId;
}

/** What the kit computes a sound for: a note number, or a number from 128 on. */
export type SoundId = number;

/** Groups of pieces as a drummer speaks of them; also the order from the top of a drum staff. */
export const FAMILIES = [
  'cymbals',
  'hats',
  'snare',
  'toms',
  'kick',
  'percussion',
  'other',
] as const;
export type Family = (typeof FAMILIES)[number];

export type PieceId = string;

/** Something in the kit that is struck. The first articulation is the usual one. */
export interface KitPiece {
  id: PieceId;
  name: string;
  family: Family;
  articulations: readonly Articulation[];
}

const one = (note: NoteNumber, head: Notehead, name = 'struck', id = 'struck'): Articulation => ({
  id,
  name,
  note,
  head,
});

const single = (
  id: PieceId,
  name: string,
  family: Family,
  note: NoteNumber,
  head: Notehead,
): KitPiece => ({ id, name, family, articulations: [one(note, head)] });

/**
 * Every kit piece of General MIDI Level 1 percussion (notes 35 to 81), in staff order: cymbals on
 * top, then hats, snare, toms, kick, and hand percussion below. Each note is read as one
 * articulation of one piece, so that reading and writing never merge two notes.
 */
export const KIT_PIECES: readonly KitPiece[] = [
  {
    id: 'crash',
    name: 'Crash',
    family: 'cymbals',
    articulations: [one(49, 'cross', 'edge', 'edge')],
  },
  {
    id: 'crash-2',
    name: 'Crash, second',
    family: 'cymbals',
    articulations: [one(57, 'cross', 'edge', 'edge')],
  },
  {
    id: 'splash',
    name: 'Splash',
    family: 'cymbals',
    articulations: [one(55, 'cross', 'edge', 'edge')],
  },
  {
    id: 'china',
    name: 'China',
    family: 'cymbals',
    articulations: [one(52, 'cross', 'edge', 'edge')],
  },
  {
    id: 'ride',
    name: 'Ride',
    family: 'cymbals',
    articulations: [one(51, 'cross', 'bow', 'bow'), one(53, 'diamond', 'bell', 'bell')],
  },
  {
    id: 'ride-2',
    name: 'Ride, second',
    family: 'cymbals',
    articulations: [one(59, 'cross', 'bow', 'bow')],
  },
  {
    id: 'hihat',
    name: 'Hi-hat',
    family: 'hats',
    articulations: [
      one(42, 'cross', 'closed', 'closed'),
      one(46, 'circled-cross', 'open', 'open'),
      // General MIDI knows closed, pedal and open only: a half-open hat is written as open.
      { ...one(46, 'circled-cross', 'half open', 'half-open'), sound: 128 },
      one(44, 'cross', 'pedal', 'pedal'),
    ],
  },
  {
    id: 'snare',
    name: 'Snare',
    family: 'snare',
    articulations: [
      one(38, 'dot', 'centre', 'centre'),
      one(40, 'dot', 'rim', 'rim'),
      one(37, 'cross', 'side stick', 'side-stick'),
    ],
  },
  single('tom-high', 'Tom, high', 'toms', 50, 'dot'),
  single('tom-hi-mid', 'Tom, hi-mid', 'toms', 48, 'dot'),
  single('tom-low-mid', 'Tom, low-mid', 'toms', 47, 'dot'),
  single('tom-low', 'Tom, low', 'toms', 45, 'dot'),
  single('tom-high-floor', 'Tom, high floor', 'toms', 43, 'dot'),
  single('tom-low-floor', 'Tom, low floor', 'toms', 41, 'dot'),
  {
    id: 'kick',
    name: 'Kick',
    family: 'kick',
    articulations: [one(36, 'dot', 'beater', 'beater'), one(35, 'dot', 'soft beater', 'soft')],
  },
  single('clap', 'Clap', 'percussion', 39, 'cross'),
  single('tambourine', 'Tambourine', 'percussion', 54, 'cross'),
  single('cowbell', 'Cowbell', 'percussion', 56, 'triangle'),
  single('vibraslap', 'Vibraslap', 'percussion', 58, 'cross'),
  {
    id: 'bongos',
    name: 'Bongos',
    family: 'percussion',
    articulations: [one(60, 'dot', 'high', 'high'), one(61, 'dot', 'low', 'low')],
  },
  {
    id: 'congas',
    name: 'Congas',
    family: 'percussion',
    articulations: [
      one(63, 'dot', 'open high', 'open'),
      one(62, 'cross', 'muted high', 'muted'),
      one(64, 'dot', 'low', 'low'),
    ],
  },
  {
    id: 'timbales',
    name: 'Timbales',
    family: 'percussion',
    articulations: [one(65, 'dot', 'high', 'high'), one(66, 'dot', 'low', 'low')],
  },
  {
    id: 'agogo',
    name: 'Agogo',
    family: 'percussion',
    articulations: [one(67, 'triangle', 'high', 'high'), one(68, 'triangle', 'low', 'low')],
  },
  single('cabasa', 'Cabasa', 'percussion', 69, 'cross'),
  single('maracas', 'Maracas', 'percussion', 70, 'cross'),
  {
    id: 'whistle',
    name: 'Whistle',
    family: 'percussion',
    articulations: [one(71, 'cross', 'short', 'short'), one(72, 'cross', 'long', 'long')],
  },
  {
    id: 'guiro',
    name: 'Guiro',
    family: 'percussion',
    articulations: [one(73, 'cross', 'short', 'short'), one(74, 'cross', 'long', 'long')],
  },
  single('claves', 'Claves', 'percussion', 75, 'cross'),
  {
    id: 'wood-block',
    name: 'Wood block',
    family: 'percussion',
    articulations: [one(76, 'triangle', 'high', 'high'), one(77, 'triangle', 'low', 'low')],
  },
  {
    id: 'cuica',
    name: 'Cuica',
    family: 'percussion',
    articulations: [one(79, 'dot', 'open', 'open'), one(78, 'cross', 'muted', 'muted')],
  },
  {
    id: 'triangle',
    name: 'Triangle',
    family: 'percussion',
    articulations: [one(81, 'triangle', 'open', 'open'), one(80, 'cross', 'muted', 'muted')],
  },
];

const NOTE_PIECE = /^note-(\d{1,3})$/;

const pieceById = new Map(KIT_PIECES.map((piece) => [piece.id, piece]));
const placeByNote: ({ piece: KitPiece; articulation: Articulation } | undefined)[] = new Array(128);
for (const piece of KIT_PIECES) {
  for (const articulation of piece.articulations) {
    placeByNote[articulation.note] ??= { piece, articulation };
  }
}

const notePieces = new Map<NoteNumber, KitPiece>();

/** The piece that stands for a note outside General MIDI percussion: "Note 28". */
function pieceForUnknownNote(note: NoteNumber): KitPiece {
  let piece = notePieces.get(note);
  if (!piece) {
    piece = single(`note-${note}`, `Note ${note}`, 'other', note, 'dot');
    notePieces.set(note, piece);
  }
  return piece;
}

/**
 * @param id a piece of the kit, or `note-N` for a note outside General MIDI
 * @returns undefined when there is no such piece
 */
export function findPiece(id: PieceId): KitPiece | undefined {
  const known = pieceById.get(id);
  if (known) return known;
  const note = Number(NOTE_PIECE.exec(id)?.[1] ?? NaN);
  return note >= 0 && note <= 127 && placeByNote[note] === undefined
    ? pieceForUnknownNote(note)
    : undefined;
}

/** The piece itself; throws on an id that `checkSong` would have refused. */
export function pieceOf(id: PieceId): KitPiece {
  const piece = findPiece(id);
  if (!piece) throw new Error(`There is no kit piece "${id}"`);
  return piece;
}

/** The articulation itself, or the usual one of the piece when the id is unknown. */
export function articulationOf(id: PieceId, articulation: string): Articulation {
  const { articulations } = pieceOf(id);
  return articulations.find((a) => a.id === articulation) ?? articulations[0];
}

/** The one piece and articulation that a note number stands for. Defined for all of 0 to 127. */
export function pieceOfNote(note: NoteNumber): { piece: KitPiece; articulation: Articulation } {
  const known = placeByNote[note];
  if (known) return known;
  const piece = pieceForUnknownNote(note);
  return { piece, articulation: piece.articulations[0] };
}

/** The note number that says this stroke in General MIDI. */
export function noteOf(piece: PieceId, articulation: string): NoteNumber {
  return articulationOf(piece, articulation).note;
}

/** The sound of the kit for this stroke. */
export function soundOf(piece: PieceId, articulation: string): SoundId {
  const { note, sound } = articulationOf(piece, articulation);
  return sound ?? note;
}

const staffOrder = new Map(KIT_PIECES.map((piece, index) => [piece.id, index]));

/** Sorts pieces as a drum staff has them, unknown notes last and from high to low. */
export function byStaffOrder(a: PieceId, b: PieceId): number {
  const rank = (id: PieceId) => staffOrder.get(id) ?? 1000 - pieceOf(id).articulations[0].note;
  return rank(a) - rank(b);
}
