import { articulationOf, findPiece, type Kit, type Notehead, type PieceId } from '../model';

/** A line or space of a five-line staff, called as a treble clef would call it. */
export interface StaffPlace {
  step: 'A' | 'B' | 'C' | 'D' | 'E' | 'F' | 'G';
  octave: number;
}

/** Stems of what hands strike go up, of what feet do go down. */
export type Voice = 'hands' | 'feet';

/** How a stroke stands on the staff. */
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
  tambourine: at('B4'),
  cowbell: at('E5'),
};

/** Where what is not in that table stands, by whether it is the higher or the lower of its piece. */
const OTHERS: readonly StaffPlace[] = [at('E5'), at('B4'), at('A4')];

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
  const index = findPiece(piece, kit)?.articulations.findIndex(({ id }) => id === way.id) ?? 0;
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

/** Whether a piece needs its name beside its notes: it has no place of its own on a drum staff. */
export function isNamedOnStaff(piece: PieceId): boolean {
  return PLACES[piece] === undefined;
}
