import type { NoteNumber } from '../time';
import {
  articulationOf,
  DEFAULT_KIT,
  pieceOf,
  pieceOfNote,
  type Family,
  type Kit,
  type PieceId,
} from './kit';

/** A way of striking a piece by one name: `piece/articulation`. */
export type StrokeKey = string;

/**
 * Which note says which stroke in files that go out, and which stroke a note is that comes in. What it does
 * not name has the note of General MIDI that the kit gives it.
 */
export interface NoteMap {
  name: string;
  notes: Readonly<Record<StrokeKey, NoteNumber>>;
  /** There are no notes but these: what is not named goes out as the nearest stroke that is. */
  only?: true;
  /** What a note is that comes in, where that is another stroke than the one that goes out as it. */
  reads?: Readonly<Record<NoteNumber, StrokeKey>>;
}

export interface Stroke {
  piece: PieceId;
  articulation: string;
}

export const strokeKey = ({ piece, articulation }: Stroke): StrokeKey => `${piece}/${articulation}`;

/** All strokes of a kit, in staff order. */
export function strokesOfKit({ pieces }: Kit): Stroke[] {
  return pieces.flatMap(({ id, articulations }) =>
    articulations.map((way) => ({ piece: id, articulation: way.id })),
  );
}

/** The stroke of a name, where the kit has it. */
export function strokeOf(key: StrokeKey, kit: Kit): Stroke | undefined {
  const [piece, articulation] = key.split('/');
  const found = kit.pieces.find(({ id }) => id === piece);
  return found?.articulations.some(({ id }) => id === articulation)
    ? { piece, articulation }
    : undefined;
}

export const GENERAL_MIDI: NoteMap = { name: 'General MIDI', notes: {} };

/** Every stroke of the usual kit on a key of its own, from the kick up. */
export const EACH_ITS_OWN: NoteMap = {
  name: 'each stroke its own key',
  notes: Object.fromEntries(
    strokesOfKit(DEFAULT_KIT)
      .reverse()
      .map((stroke, i) => [strokeKey(stroke), 24 + i]),
  ),
  only: true,
};

/** Ten keys from middle C up, for what has only ten sounds. */
export const TEN_KEYS: NoteMap = {
  name: 'ten keys',
  notes: {
    'kick/beater': 60,
    'snare/centre': 61,
    'snare/side-stick': 62,
    'hihat/closed': 63,
    'hihat/open': 64,
    'tom-high/struck': 65,
    'tom-low/struck': 66,
    'tom-low-floor/struck': 67,
    'ride/bow': 68,
    'crash/edge': 69,
  },
  only: true,
};

/** The maps that every song can have. */
export const READY_MAPS: readonly NoteMap[] = [GENERAL_MIDI, EACH_ITS_OWN, TEN_KEYS];

/** What stands in for a family, nearest first, where a map has nothing of it. */
const NEAR: Readonly<Record<Family, readonly Family[]>> = {
  cymbals: ['hats', 'percussion', 'snare'],
  hats: ['cymbals', 'percussion', 'snare'],
  snare: ['toms', 'percussion', 'kick'],
  toms: ['snare', 'kick', 'percussion'],
  kick: ['toms', 'snare', 'percussion'],
  percussion: ['snare', 'toms', 'hats'],
  other: ['percussion', 'snare', 'kick'],
};

/** The stroke that a map has for this one: itself, or the nearest; undefined where the map has none at all. */
export function nearestStroke(stroke: Stroke, map: NoteMap, kit: Kit): Stroke | undefined {
  if (strokeKey(stroke) in map.notes) return stroke;
  const known = strokesOfKit(kit).filter((one) => strokeKey(one) in map.notes);
  const { family } = pieceOf(stroke.piece, kit);
  const rank = (piece: PieceId) => {
    const at = kit.pieces.findIndex(({ id }) => id === piece);
    return at < 0 ? kit.pieces.length : at;
  };
  const from = rank(stroke.piece);
  const cost = (one: Stroke) => {
    const apart = Math.abs(rank(one.piece) - from) / (kit.pieces.length + 1);
    if (one.piece === stroke.piece) return 0;
    const other = pieceOf(one.piece, kit).family;
    const step = other === family ? 0 : NEAR[family].indexOf(other);
    return 1 + (step < 0 ? 9 : other === family ? 0 : step + 1) + apart;
  };
  let nearest: Stroke | undefined;
  for (const one of known) if (!nearest || cost(one) < cost(nearest)) nearest = one;
  return nearest;
}

/** The note number that says this stroke. No stroke is without one. */
export function noteOf(
  piece: PieceId,
  articulation: string,
  map = GENERAL_MIDI,
  kit = DEFAULT_KIT,
): NoteNumber {
  const way = articulationOf(piece, articulation, kit);
  const own = map.notes[`${piece}/${articulation}`] ?? map.notes[`${piece}/${way.id}`];
  if (own !== undefined || !map.only) return own ?? way.note;
  const nearest = nearestStroke({ piece, articulation: way.id }, map, kit);
  return nearest ? map.notes[strokeKey(nearest)] : way.note;
}

/** The stroke that a note is which comes in. */
export function strokeOfNote(note: NoteNumber, map: NoteMap, kit: Kit): Stroke {
  const read = strokeOf(map.reads?.[note] ?? '', kit);
  if (read) return read;
  const key = Object.keys(map.notes).find((one) => map.notes[one] === note);
  const named = key === undefined ? undefined : strokeOf(key, kit);
  if (named) return named;
  const { piece, articulation } = pieceOfNote(note, kit);
  return { piece: piece.id, articulation: articulation.id };
}

/** Notes that more than one stroke goes out as: in a file they cannot be told apart. */
export function clashesOf(map: NoteMap, kit: Kit): Map<NoteNumber, Stroke[]> {
  const byNote = new Map<NoteNumber, Stroke[]>();
  for (const stroke of strokesOfKit(kit)) {
    if (map.only && !(strokeKey(stroke) in map.notes)) continue;
    const note = noteOf(stroke.piece, stroke.articulation, map, kit);
    byNote.set(note, [...(byNote.get(note) ?? []), stroke]);
  }
  return new Map([...byNote].filter(([, strokes]) => strokes.length > 1));
}

/** A map in which a stroke goes out as another note. */
export function withNote(map: NoteMap, stroke: Stroke, note: NoteNumber): NoteMap {
  return { ...map, name: ownName(map), notes: { ...map.notes, [strokeKey(stroke)]: note } };
}

/** A map that reads a note as a stroke. */
export function withReading(map: NoteMap, note: NoteNumber, stroke: Stroke): NoteMap {
  return { ...map, name: ownName(map), reads: { ...map.reads, [note]: strokeKey(stroke) } };
}

/** What is changed is no ready map any more. */
function ownName({ name }: NoteMap): string {
  return READY_MAPS.some((map) => map.name === name) ? `${name}, changed` : name;
}
