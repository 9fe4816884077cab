import type { NoteNumber } from '../time';
import type { FilterSetting } from './mix';
import type { CharacterId, PieceDesign, SoundId } from './pieceDesign';

/** How drummers write a stroke: the shape of its notehead. */
export type Notehead = 'dot' | 'cross' | 'circled-cross' | 'diamond' | 'triangle';

/** One way of striking a kit piece, and the General MIDI note that says it. */
export interface Articulation {
  id: string;
  name: string;
  note: NoteNumber;
  head: Notehead;
  /** What it sounds as, where that is not the sound of its note. */
  sound?: SoundId;
  /** Sounds of one group cut each other off; absent is no group. */
  choke?: number;
}

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
  /** How it is heard before anything is mixed: a factor, where it stands (-1 left to 1), its tone. */
  level: number;
  pan: number;
  filters: readonly FilterSetting[];
  /** How much of it the room hears, 0 to 1; absent is what is usual for its family. */
  room?: number;
  /** How its sounds are made; absent is as the kit has them. */
  design?: PieceDesign;
}

/** The ways of striking a piece that plays a rendered part of the song begin with this word. */
export const BOUNCED = 'bounced';

/** Whether a piece plays a rendered part of the song: its mix is in its sound already. */
export const isBounce = ({ articulations }: Pick<KitPiece, 'articulations'>): boolean =>
  articulations[0]?.id.startsWith(BOUNCED) === true;

/** What a room usually hears of a family: little of the kick, which would only boom in it. */
const ROOMS: Partial<Record<Family, number>> = { kick: 0.22, snare: 0.5 };

/** How much of a piece the room hears, 0 to 1. */
export function roomOf({ room, family }: Pick<KitPiece, 'room' | 'family'>): number {
  return room ?? ROOMS[family] ?? 0.55;
}

/** What each of them is called, and how long the room rings that it is usually heard in, in seconds. */
export const KITS: Readonly<Record<CharacterId, { name: string; ring: number }>> = {
  warm: { name: 'warm studio', ring: 0.42 },
  tight: { name: 'tight and dry', ring: 0.18 },
  brushes: { name: 'brushes', ring: 0.6 },
  big: { name: 'big room', ring: 1.5 },
  electronic: { name: 'electronic', ring: 0.2 },
  hands: { name: 'hand percussion', ring: 0.5 },
};

/** A drum kit: what is struck, in the order of a drum staff from top to bottom. */
export interface Kit {
  name: string;
  /** Which sounds it has; absent is the warm studio. */
  character?: CharacterId;
  /** The id of the kept kit that the song plays; absent is one whose sounds are computed. */
  kept?: string;
  pieces: readonly KitPiece[];
}

/** A piece as it is listed below; how it is heard follows from its family. */
type Listed = Pick<KitPiece, 'id' | 'name' | 'family' | 'articulations'> & { pan?: number };

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
  pan = 0,
): Listed => ({ id, name, family, articulations: [one(note, head)], pan });

/** Groups whose sounds cut each other off. */
const HATS = 1;
const TRIANGLES = 2;
const CUICAS = 3;
const CONGAS = 4;

const choking = (choke: number, articulation: Articulation): Articulation => ({
  ...articulation,
  choke,
});

const highpass = (frequency: number): FilterSetting => ({ kind: 'highpass', frequency, q: 0.707 });

/** The tone of each family in the usual kit. */
const TONES: Partial<Record<Family, readonly FilterSetting[]>> = {
  kick: [highpass(28), { kind: 'peak', frequency: 340, q: 1, gain: -3 }],
  snare: [highpass(90), { kind: 'peak', frequency: 210, q: 1.2, gain: 1.5 }],
  toms: [highpass(50), { kind: 'peak', frequency: 420, q: 1, gain: -2.5 }],
  hats: [highpass(320), { kind: 'highshelf', frequency: 9000, q: 0.7, gain: -1 }],
  cymbals: [highpass(260), { kind: 'highshelf', frequency: 8500, q: 0.7, gain: -1.5 }],
};

const heard = ({ pan = 0, ...piece }: Listed): KitPiece => ({
  ...piece,
  level: 1,
  pan,
  filters: TONES[piece.family] ?? [highpass(120)],
});

/**
 * Every kit piece of General MIDI Level 1 percussion (notes 35 to 81), in staff order: cymbals on
 * top, then hats, snare, toms, kick, and hand percussion below. Each note is read as one
 * articulation of one piece, so that reading and writing never merge two notes.
 */
const LISTED: readonly Listed[] = [
  {
    id: 'crash',
    pan: -0.4,
    name: 'Crash',
    family: 'cymbals',
    articulations: [one(49, 'cross', 'edge', 'edge')],
  },
  {
    id: 'crash-2',
    pan: 0.45,
    name: 'Crash, second',
    family: 'cymbals',
    articulations: [one(57, 'cross', 'edge', 'edge')],
  },
  {
    id: 'splash',
    pan: -0.2,
    name: 'Splash',
    family: 'cymbals',
    articulations: [one(55, 'cross', 'edge', 'edge')],
  },
  {
    id: 'china',
    pan: 0.55,
    name: 'China',
    family: 'cymbals',
    articulations: [one(52, 'cross', 'edge', 'edge')],
  },
  {
    id: 'ride',
    pan: 0.35,
    name: 'Ride',
    family: 'cymbals',
    articulations: [one(51, 'cross', 'bow', 'bow'), one(53, 'diamond', 'bell', 'bell')],
  },
  {
    id: 'ride-2',
    pan: 0.45,
    name: 'Ride, second',
    family: 'cymbals',
    articulations: [one(59, 'cross', 'bow', 'bow')],
  },
  {
    id: 'hihat',
    pan: -0.35,
    name: 'Hi-hat',
    family: 'hats',
    articulations: [
      choking(HATS, one(42, 'cross', 'closed', 'closed')),
      choking(HATS, one(46, 'circled-cross', 'open', 'open')),
      // General MIDI knows closed, pedal and open only: a half-open hat is written as open.
      choking(HATS, { ...one(46, 'circled-cross', 'half open', 'half-open'), sound: 128 }),
      choking(HATS, one(44, 'cross', 'pedal', 'pedal')),
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
  single('tom-high', 'Tom, high', 'toms', 50, 'dot', -0.25),
  single('tom-hi-mid', 'Tom, hi-mid', 'toms', 48, 'dot', -0.12),
  single('tom-low-mid', 'Tom, low-mid', 'toms', 47, 'dot', 0.08),
  single('tom-low', 'Tom, low', 'toms', 45, 'dot', 0.2),
  single('tom-high-floor', 'Tom, high floor', 'toms', 43, 'dot', 0.32),
  single('tom-low-floor', 'Tom, low floor', 'toms', 41, 'dot', 0.42),
  {
    id: 'kick',
    name: 'Kick',
    family: 'kick',
    articulations: [one(36, 'dot', 'beater', 'beater'), one(35, 'dot', 'soft beater', 'soft')],
  },
  single('clap', 'Clap', 'percussion', 39, 'cross', 0.1),
  single('tambourine', 'Tambourine', 'percussion', 54, 'cross', 0.3),
  single('cowbell', 'Cowbell', 'percussion', 56, 'triangle', -0.15),
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
      choking(CONGAS, one(63, 'dot', 'open high', 'open')),
      choking(CONGAS, one(62, 'cross', 'muted high', 'muted')),
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
    articulations: [
      choking(CUICAS, one(79, 'dot', 'open', 'open')),
      choking(CUICAS, one(78, 'cross', 'muted', 'muted')),
    ],
  },
  {
    id: 'triangle',
    name: 'Triangle',
    family: 'percussion',
    articulations: [
      choking(TRIANGLES, one(81, 'triangle', 'open', 'open')),
      choking(TRIANGLES, one(80, 'cross', 'muted', 'muted')),
    ],
  },
];

/** The kit of a song that has no other: every piece of General MIDI percussion. */
export const DEFAULT_KIT: Kit = { name: 'General MIDI', pieces: LISTED.map(heard) };

const NOTE_PIECE = /^note-(\d{1,3})$/;

/** What is looked up in a kit. */
interface Lookup {
  byId: ReadonlyMap<PieceId, KitPiece>;
  byNote: readonly ({ piece: KitPiece; articulation: Articulation } | undefined)[];
  /** From the top of the staff. */
  rank: ReadonlyMap<PieceId, number>;
}

const lookups = new WeakMap<Kit, Lookup>();

function lookupOf(kit: Kit): Lookup {
  let lookup = lookups.get(kit);
  if (!lookup) {
    const byNote: { piece: KitPiece; articulation: Articulation }[] = [];
    for (const piece of kit.pieces) {
      for (const articulation of piece.articulations) {
        byNote[articulation.note] ??= { piece, articulation };
      }
    }
    lookup = {
      byId: new Map(kit.pieces.map((piece) => [piece.id, piece])),
      byNote,
      rank: new Map(kit.pieces.map((piece, index) => [piece.id, index])),
    };
    lookups.set(kit, lookup);
  }
  return lookup;
}

const notePieces = new Map<NoteNumber, KitPiece>();

/** The piece that stands for a note no piece of a kit has: "Note 28". */
function pieceForUnknownNote(note: NoteNumber): KitPiece {
  let piece = notePieces.get(note);
  if (!piece) {
    piece = heard(single(`note-${note}`, `Note ${note}`, 'other', note, 'dot'));
    notePieces.set(note, piece);
  }
  return piece;
}

/**
 * @param id a piece of the kit, or `note-N` for a note that none of its pieces has
 * @returns undefined when there is no such piece
 */
export function findPiece(id: PieceId, kit = DEFAULT_KIT): KitPiece | undefined {
  const { byId, byNote } = lookupOf(kit);
  const known = byId.get(id);
  if (known) return known;
  const note = Number(NOTE_PIECE.exec(id)?.[1] ?? NaN);
  return note >= 0 && note <= 127 && byNote[note] === undefined && id === `note-${note}`
    ? pieceForUnknownNote(note)
    : undefined;
}

/** The piece itself; throws on an id that `checkSong` would have refused. */
export function pieceOf(id: PieceId, kit = DEFAULT_KIT): KitPiece {
  const piece = findPiece(id, kit);
  if (!piece) throw new Error(`There is no kit piece "${id}"`);
  return piece;
}

/** The articulation itself, or the usual one of the piece when the id is unknown. */
export function articulationOf(id: PieceId, articulation: string, kit = DEFAULT_KIT): Articulation {
  const { articulations } = pieceOf(id, kit);
  return articulations.find((a) => a.id === articulation) ?? articulations[0];
}

/** The one piece and articulation that a note number stands for. Defined for all of 0 to 127. */
export function pieceOfNote(
  note: NoteNumber,
  kit = DEFAULT_KIT,
): { piece: KitPiece; articulation: Articulation } {
  const known = lookupOf(kit).byNote[note];
  if (known) return known;
  const piece = pieceForUnknownNote(note);
  return { piece, articulation: piece.articulations[0] };
}

/** The sound of the kit for this stroke. */
export function soundOf(piece: PieceId, articulation: string, kit = DEFAULT_KIT): SoundId {
  const { note, sound } = articulationOf(piece, articulation, kit);
  return sound ?? note;
}

/** Sorts pieces as a drum staff has them, unknown notes last and from high to low. */
export function byStaffOrder(a: PieceId, b: PieceId, kit = DEFAULT_KIT): number {
  const { rank } = lookupOf(kit);
  const place = (id: PieceId) => rank.get(id) ?? 10_000 - pieceOf(id, kit).articulations[0].note;
  return place(a) - place(b);
}

/** The name of a piece within a sentence: "high floor tom". */
export function spokenPiece(id: PieceId, kit: Kit = DEFAULT_KIT): string {
  const [what, which] = pieceOf(id, kit).name.toLowerCase().split(', ');
  return which ? `${which} ${what}` : what;
}
