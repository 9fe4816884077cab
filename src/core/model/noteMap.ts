import type { NoteNumber } from '../time';
import { articulationOf, DEFAULT_KIT, type PieceId } from './kit';

/**
 * Which note says which stroke in files that go out. What it does not name has the note of General
 * MIDI that the kit gives it.
 */
export interface NoteMap {
  name: string;
  /** By `piece/articulation`. */
  notes: Readonly<Record<string, NoteNumber>>;
}

export const GENERAL_MIDI: NoteMap = { name: 'General MIDI', notes: {} };

/** The note number that says this stroke. */
export function noteOf(
  piece: PieceId,
  articulation: string,
  map = GENERAL_MIDI,
  kit = DEFAULT_KIT,
): NoteNumber {
  return map.notes[`${piece}/${articulation}`] ?? articulationOf(piece, articulation, kit).note;
}
