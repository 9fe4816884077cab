import { DEFAULT_KIT, type PieceId } from '../model';
import { CHANNELS, type Channel, type NoteNumber } from '../time';

/** Ways in which programs and drum modules number the parts of a kit. */
export const NOTE_MAPS = [
  { id: 'gm', name: 'General MIDI' },
  { id: 'octave-lower', name: 'General MIDI, an octave lower' },
  { id: 'octave-higher', name: 'General MIDI, an octave higher' },
  { id: 'pads', name: 'an electronic kit, with the edges of its pads' },
] as const;

export type NoteMapId = (typeof NOTE_MAPS)[number]['id'];

/** How the notes of a file are read. */
export interface NoteMapChoice {
  map: NoteMapId;
  /** Notes that are read otherwise than the map says: the note of the file, and what it is read as. */
  changes?: Readonly<Record<NoteNumber, NoteNumber>>;
  /** The channel that the drums of the file are on, if it has notes there; absent finds them: see `drumParts`. */
  channel?: Channel;
}

/** Whether a value is such a choice: it may have been stored by another version, or damaged. */
export function isNoteMapChoice(value: unknown): value is NoteMapChoice {
  const { map, changes = {}, channel = 0 } = (value ?? {}) as Partial<NoteMapChoice>;
  const isNote = (note: unknown) =>
    Number.isInteger(note) && Number(note) >= 0 && Number(note) < 128;
  return (
    NOTE_MAPS.some(({ id }) => id === map) &&
    CHANNELS.includes(channel) &&
    typeof changes === 'object' &&
    changes !== null &&
    Object.entries(changes).every(([from, to]) => isNote(Number(from)) && isNote(to))
  );
}

/** The General MIDI note that each of the 128 notes of a file is read as. */
export type NoteReading = Uint8Array;

/** Notes of General MIDI percussion (General MIDI System Level 1, table 3), with their pieces. */
const KNOWN = new Map<NoteNumber, PieceId>(
  DEFAULT_KIT.pieces.flatMap(({ id, articulations }) =>
    articulations.map(({ note }) => [note, id]),
  ),
);

/** Notes that drum modules send for the edges of pads, where General MIDI has nothing or percussion. */
const EDGES: Readonly<Record<NoteNumber, NoteNumber>> = { 22: 42, 26: 46, 58: 43 };

function byMap(map: NoteMapId, note: NoteNumber): NoteNumber {
  if (map === 'pads') return EDGES[note] ?? note;
  const moved = map === 'octave-lower' ? note + 12 : map === 'octave-higher' ? note - 12 : note;
  // What means nothing there either is kept and shown as the note it is.
  return KNOWN.has(moved) ? moved : note;
}

/** What a choice makes of every note. Notes that it knows nothing of stay what they are. */
export function readingOf({ map, changes = {} }: NoteMapChoice): NoteReading {
  return Uint8Array.from({ length: 128 }, (_, note) => changes[note] ?? byMap(map, note));
}

const PIECES_BY_MAP = NOTE_MAPS.map(({ id }) => {
  const reading = readingOf({ map: id });
  return { id, pieceOf: Array.from(reading, (note) => KNOWN.get(note)) };
});

/** How much of a kit some notes are under a map: its main parts, and the share of notes it knows. */
function kitUnder({ pieceOf }: (typeof PIECES_BY_MAP)[number], counts: ArrayLike<number>) {
  let [kick, snare, hats, known, all] = [0, 0, 0, 0, 0];
  for (let note = 0; note < 128; note++) {
    if (counts[note] === 0) continue;
    const piece = pieceOf[note];
    all += counts[note];
    if (piece === undefined) continue;
    known += counts[note];
    if (piece === 'kick') kick = 1;
    else if (piece === 'snare') snare = 1;
    else if (piece === 'hihat') hats = 1;
  }
  return { kick, parts: kick + snare + hats, known: known / all };
}

/** A note map is not taken for the one of a part if it knows less than this share of the notes. */
const ENOUGH = 0.75;

/** The largest share of some notes that any note map knows; 1 for none. @param counts as for `guessNoteMap` */
export function coverOf(counts: ArrayLike<number>): number {
  const shares = PIECES_BY_MAP.map((map) => kitUnder(map, counts).known);
  return Number.isNaN(shares[0]) ? 1 : Math.max(...shares);
}

/**
 * The note map that a part was most likely written through: the one under which its notes make a kit, if
 * it knows enough of them; else General MIDI.
 * @param counts how often each of the 128 notes is struck
 */
export function guessNoteMap(counts: ArrayLike<number>): NoteMapId {
  const [gm, ...others] = PIECES_BY_MAP;
  const plain = kitUnder(gm, counts);
  if (plain.parts > 0 && plain.known === 1) return 'gm';
  let best = { id: gm.id as NoteMapId, points: plain.parts + plain.known };
  for (const map of others) {
    const { parts, known } = kitUnder(map, counts);
    // What has a kick already is not moved by an octave. Toms, an octave up, are a kick and a snare:
    // there, all three parts are asked for.
    if (map.id !== 'pads' && plain.kick > 0) continue;
    if (map.id === 'octave-higher' && parts < 3) continue;
    if (known < ENOUGH) continue;
    if (parts + known > best.points + 0.1) best = { id: map.id, points: parts + known };
  }
  return best.id;
}
