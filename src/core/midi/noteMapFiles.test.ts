import fc from 'fast-check';
import {
  clashesOf,
  DEFAULT_KIT,
  EACH_ITS_OWN,
  GENERAL_MIDI,
  nearestStroke,
  noteOf,
  READY_MAPS,
  strokeKey,
  strokeOfNote,
  strokesOfKit,
  TEN_KEYS,
  withNote,
  withReading,
} from '../model';
import { NOTE_MAP_FORMS, readNoteMap, writeNoteMap } from './noteMapFiles';

const strokes = strokesOfKit(DEFAULT_KIT);
const anyMap = fc.constantFrom(...READY_MAPS);

test('every stroke has a note in every map, and what a map lacks has that of the nearest it has', () => {
  for (const map of READY_MAPS) {
    for (const { piece, articulation } of strokes) {
      const note = noteOf(piece, articulation, map);
      expect(note).toBeGreaterThanOrEqual(0);
      expect(note).toBeLessThanOrEqual(127);
      if (map.only) expect(Object.values(map.notes)).toContain(note);
    }
  }
  const goes = (piece: string, articulation: string) =>
    strokeKey(nearestStroke({ piece, articulation }, TEN_KEYS, DEFAULT_KIT)!);
  expect(goes('snare', 'rim')).toBe('snare/centre');
  expect(goes('hihat', 'half-open')).toMatch(/^hihat\//);
  expect(goes('splash', 'edge')).toBe('crash/edge');
  expect(goes('kick', 'soft')).toBe('kick/beater');
});

test('where each stroke has its own key nothing clashes, and what goes out comes back', () => {
  expect(clashesOf(EACH_ITS_OWN, DEFAULT_KIT).size).toBe(0);
  for (const stroke of strokes) {
    const note = noteOf(stroke.piece, stroke.articulation, EACH_ITS_OWN);
    expect(strokeOfNote(note, EACH_ITS_OWN, DEFAULT_KIT)).toEqual(stroke);
  }
  // General MIDI writes a half-open hat as an open one: it is said.
  expect([...clashesOf(GENERAL_MIDI, DEFAULT_KIT).keys()]).toEqual([46]);
});

test('a changed note goes out and comes in; a learnt one comes in only', () => {
  fc.assert(
    fc.property(anyMap, fc.constantFrom(...strokes), fc.nat(127), (map, stroke, note) => {
      const { piece, articulation } = stroke;
      expect(noteOf(piece, articulation, withNote(map, stroke, note))).toBe(note);
      const learnt = withReading(map, note, stroke);
      expect(strokeOfNote(note, learnt, DEFAULT_KIT)).toEqual(stroke);
      expect(noteOf(piece, articulation, learnt)).toBe(noteOf(piece, articulation, map));
    }),
  );
});

test.each(NOTE_MAP_FORMS)(
  'a map written as %s and read again gives every stroke its note',
  (form) => {
    for (const map of READY_MAPS) {
      const read = readNoteMap(writeNoteMap(map, DEFAULT_KIT, form), `mine.${form}`, DEFAULT_KIT);
      if (typeof read === 'string') throw new Error(read);
      expect(read.map.name).toBe('mine');
      for (const { piece, articulation } of strokes) {
        expect(noteOf(piece, articulation, read.map)).toBe(noteOf(piece, articulation, map));
      }
    }
  },
);

test('lists as others write them are read, and what is not known is told', () => {
  const list =
    '36 Bass Drum\n38: Snare Drum, rim\n42\tHi-Hat closed\n37 = Sidestick snare\n99 Gong of doom\n900 Kick\nnotes';
  const read = readNoteMap(list, 'list.txt', DEFAULT_KIT);
  if (typeof read === 'string') throw new Error(read);
  expect(read.map.notes).toEqual({
    'kick/beater': 36,
    'snare/rim': 38,
    'hihat/closed': 42,
    'snare/side-stick': 37,
  });
  expect(read.left).toEqual(['99 Gong of doom']);
});

test('text that names no notes is refused with a sentence, whatever it is', () => {
  fc.assert(
    fc.property(fc.string(), (text) => {
      const read = readNoteMap(text, 'x.txt', DEFAULT_KIT);
      if (typeof read === 'string') expect(read).toMatch(/^\S.*\.$/s);
    }),
  );
  expect(readNoteMap('<Note Number="200" Name="Kick"/>', 'x', DEFAULT_KIT)).toMatch(
    /names no notes/,
  );
});
