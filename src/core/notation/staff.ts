import {
  articulationOf,
  findPiece,
  pieceOf,
  type Kit,
  type Notehead,
  type PieceId,
} from '../model';

/** A line or space of a five-line staff, called as a treble clef would call it. */
export interface StaffPlace {
  step: 'A' | 'B' | 'C' | 'D' | 'E' | 'F' | 'G';
  octave: number;
}

/**
 * Stems of what hands strike go up, of what feet do go down. Hand percussion has a line of its own above the staff,
 * so that its notes are never taken for those of snare and toms.
 */
export const VOICES = ['percussion', 'hands', 'feet'] as const;
export type Voice = (typeof VOICES)[number];

/** How a stroke stands on the staff, or on the line of percussion as on the middle line of a staff. */
export interface Written extends StaffPlace {
  voice: Voice;
  /** As in Shape, and a slashed head for a rim shot, which would look like a stroke in the middle. */
  head: Notehead | 'slashed';
  /** A hat that is neither open nor closed. */
  halfOpen?: true;
}

const at = (name: string): StaffPlace => ({
  step: name[0] as StaffPlace['step'],
  octave: Number(name.slice(1)),
});

/**
 * Where each piece stands. Source: Percussive Arts Society, N. Weinberg, "Guide to Standardized
 * Drumset Notation" (1998), as far as it goes; further pieces have the places next to their like.
 */
const PLACES: Readonly<Record<PieceId, StaffPlace>> = {
  crash: at('A5'),
  'crash-2': at('B5'),
  splash: at('C6'),
  china: at('D6'),
  ride: at('F5'),
  'ride-2': at('D5'),
  hihat: at('G5'),
  snare: at('C5'),
  'tom-high': at('E5'),
  'tom-hi-mid': at('D5'),
  'tom-low-mid': at('B4'),
  'tom-low': at('A4'),
  'tom-high-floor': at('G4'),
  'tom-low-floor': at('E4'),
  kick: at('F4'),
};

/** Where a drum or cymbal that is not in that table stands, by whether it is the higher or the lower of its piece. */
const OTHERS: readonly StaffPlace[] = [at('E5'), at('B4'), at('A4')];

/**
 * Around the line of percussion, a space apart: of pieces that are struck in one way each the next, of those with
 * several strokes the next row, from the highest.
 */
const AROUND: readonly StaffPlace[] = ['B4', 'D5', 'G4', 'F5', 'E4'].map(at);
const ROWS: readonly (readonly StaffPlace[])[] = ['D5 G4 B4', 'F5 B4 E4', 'B4 E4 G4'].map((row) =>
  row.split(' ').map(at),
);

/** Where hand percussion stands: in the order of the kit, so that pieces that are struck together stand apart. */
function aroundLine(piece: PieceId, index: number, kit: Kit): StaffPlace {
  const several = pieceOf(piece, kit).articulations.length > 1;
  const alike = kit.pieces.filter(
    ({ id, articulations }) => isPercussion(id, kit) && articulations.length > 1 === several,
  );
  const rank = Math.max(
    0,
    alike.findIndex(({ id }) => id === piece),
  );
  if (!several) return AROUND[rank % AROUND.length];
  const row = ROWS[rank % ROWS.length];
  return row[Math.min(index, row.length - 1)];
}

const PEDAL = at('D4');
const SOFT_KICK = at('E4');

/** How a stroke is written. Strokes that look alike on the staff are told apart by `shortName`. */
export function writtenAs(piece: PieceId, articulation: string, kit: Kit): Written {
  const way = articulationOf(piece, articulation, kit);
  if (piece === 'hihat' && way.id === 'pedal') return { ...PEDAL, voice: 'feet', head: way.head };
  const feet = findPiece(piece, kit)?.family === 'kick';
  const place = PLACES[piece];
  if (feet) {
    const soft = way.id === 'soft';
    return { ...(soft ? SOFT_KICK : (place ?? at('F4'))), voice: 'feet', head: way.head };
  }
  const index = Math.max(
    0,
    findPiece(piece, kit)?.articulations.findIndex(({ id }) => id === way.id) ?? 0,
  );
  if (isPercussion(piece, kit)) {
    return { ...aroundLine(piece, index, kit), voice: 'percussion', head: way.head };
  }
  const stands = place ?? OTHERS[Math.min(index, OTHERS.length - 1)];
  const head = way.id === 'rim' ? 'slashed' : way.head;
  return {
    ...stands,
    voice: 'hands',
    head,
    ...(way.id === 'half-open' && { halfOpen: true as const }),
  };
}

/** Lines and spaces from the middle line (0, called B4) upwards. */
export function aboveMiddle({ step, octave }: StaffPlace): number {
  return 'CDEFGAB'.indexOf(step) + 7 * octave - ('CDEFGAB'.indexOf('B') + 7 * 4);
}

/** Whether the lowest head of the hands and the highest of the feet are a second apart, or in one place, and would touch. */
export function touches(
  hands: readonly { piece: PieceId; articulation: string }[],
  feet: readonly { piece: PieceId; articulation: string }[],
  kit: Kit,
): boolean {
  if (hands.length === 0 || feet.length === 0) return false;
  const places = (struck: typeof hands) =>
    struck.map(({ piece, articulation }) => aboveMiddle(writtenAs(piece, articulation, kit)));
  return Math.min(...places(hands)) - Math.max(...places(feet)) <= 1;
}

/** Whether a piece stands on the line of percussion: it is none of the drum set. */
export function isPercussion(piece: PieceId, kit: Kit): boolean {
  const family = findPiece(piece, kit)?.family;
  return family === 'percussion' || family === 'other';
}

/** Whether a piece needs its name beside its notes: it has no place of its own on a drum staff. */
export function isNamedOnStaff(piece: PieceId): boolean {
  return PLACES[piece] === undefined;
}
