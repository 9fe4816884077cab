import fc from 'fast-check';
import { guessNoteMap, NOTE_MAPS, readingOf } from './noteReading';

const counts = (notes: readonly number[]) => {
  const found = new Uint32Array(128);
  for (const note of notes) found[note]++;
  return found;
};

const beat = [36, 42, 38, 42, 36, 36, 42, 38, 46, 49];

test('a kit in General MIDI is read as it is, and so is percussion without a kit', () => {
  expect(guessNoteMap(counts(beat))).toBe('gm');
  expect(guessNoteMap(counts([60, 61, 61, 60, 63, 64]))).toBe('gm');
  // A run over the toms would be a kick and a snare an octave higher.
  expect(guessNoteMap(counts([50, 48, 47, 45, 43, 41]))).toBe('gm');
  expect(guessNoteMap(counts([36, 48, 50, 54, 36]))).toBe('gm');
});

test('a kit an octave off is found, and read as the same kit', () => {
  for (const [map, by] of [
    ['octave-lower', -12],
    ['octave-higher', 12],
  ] as const) {
    const moved = beat.map((note) => note + by);
    expect(guessNoteMap(counts(moved))).toBe(map);
    const reading = readingOf({ map });
    expect(moved.map((note) => reading[note])).toEqual(beat);
  }
});

test('hats struck on their edge are hats', () => {
  expect(guessNoteMap(counts([36, 22, 38, 22, 36, 26]))).toBe('pads');
  expect(readingOf({ map: 'pads' })[22]).toBe(42);
});

test('a note that a map knows nothing of stays what it is, unless it is said what it is', () => {
  fc.assert(
    fc.property(
      fc.constantFrom(...NOTE_MAPS.map(({ id }) => id)),
      fc.nat({ max: 127 }),
      fc.nat({ max: 127 }),
      (map, note, as) => {
        const plain = [...readingOf({ map })];
        const changed = readingOf({ map, changes: { [note]: as } });
        expect([...changed]).toEqual(plain.with(note, as));
        expect(plain[3]).toBe(3);
      },
    ),
  );
});
