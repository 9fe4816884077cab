import fc from 'fast-check';
import { checkSong, emptyPattern, songWith, type Song } from '../model';
import { meters } from '../testing/arbitraries';
import { formOf, layForm, readForm, writeForm, type FormPart } from './form';
import { laidPlaces, songBars } from './sections';

const anyPart: fc.Arbitrary<FormPart> = fc
  .record(
    {
      name: fc.oneof(
        fc.constantFrom('verse', 'chorus', 'bridge', 'verse 2', 'x', 'v', 'pre chorus', 'B-part'),
        fc
          .string({ minLength: 1, maxLength: 12 })
          .filter((s) => s.trim() === s && !/["\n]/.test(s)),
      ),
      bars: fc.integer({ min: 1, max: 64 }),
      meter: fc.constantFrom(...meters),
      bpm: fc.integer({ min: 30, max: 300 }),
      pattern: fc.constantFrom('Beat 1', 'Chorus, breakers'),
      times: fc.integer({ min: 1, max: 9 }),
    },
    { requiredKeys: ['name', 'bars', 'times'] },
  )
  .map((part) => part);

test('a typed form is read back as the same form', () => {
  fc.assert(
    fc.property(fc.array(anyPart, { maxLength: 8 }), (parts) => {
      expect(readForm(writeForm(parts))).toEqual({ parts, problems: [] });
    }),
  );
});

test('a form is read as musicians write it', () => {
  const text =
    'intro 4, verse 8, chorus 8 bars; v 8, bridge 7/8 x 6, chorus 8 x 2\nsolo 12 @ 96, outro 4 = "Lamp out"';
  const { parts, problems } = readForm(text);
  expect(problems).toEqual([]);
  expect(parts).toEqual([
    { name: 'intro', bars: 4, times: 1 },
    { name: 'verse', bars: 8, times: 1 },
    { name: 'chorus', bars: 8, times: 1 },
    { name: 'verse', bars: 8, times: 1 },
    { name: 'bridge', meter: { beats: 7, unit: 8 }, bars: 6, times: 1 },
    { name: 'chorus', bars: 8, times: 2 },
    { name: 'solo', bars: 12, bpm: 96, times: 1 },
    { name: 'outro', bars: 4, pattern: 'Lamp out', times: 1 },
  ]);
  expect(readForm('verse 2 8').parts[0]).toEqual({ name: 'verse 2', bars: 8, times: 1 });
  expect(readForm('chorus x2, verse 4x').parts[0].times).toBe(2);
});

test('what cannot be read is told beside its word, and the rest is read', () => {
  const text = 'verse 8, bridge 7/9 x 6, 12, chorus 8 loud';
  const { parts, problems } = readForm(text);
  expect(problems.map(({ from, to }) => text.slice(from, to))).toEqual(['7/9', '12', 'loud']);
  expect(parts.map(({ name }) => name)).toEqual(['verse', 'bridge', 'chorus']);
});

test('any text is read without an error of its own', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 200 }), (text) => {
      for (const { from, to } of readForm(text).problems) expect(to).toBeGreaterThan(from);
    }),
  );
});

const shelf = ['Verse, dusk', 'Chorus, gale', 'Bridge in seven', 'Fill, drop'].map((name, i) =>
  emptyPattern({
    id: `p${i}`,
    name,
    kind: name.startsWith('Fill') ? 'fill' : 'groove',
    meter: name.endsWith('seven') ? { beats: 7, unit: 8 } : undefined,
  }),
);
const song: Song = songWith({ id: 's', name: 's', bpm: 100 }, shelf);
const lay = (text: string, from: Song = song) => layForm(from, readForm(text).parts);

test('each item gets the pattern that fits by kind and name; same items are linked', () => {
  const { song: laid, silent } = lay(
    'verse 8, chorus 8, verse 8, bridge 7/8 x 6, chorus 8 x 2, coda 4',
  );
  expect(checkSong(laid)).toEqual([]);
  expect(songBars(laid)).toBe(50);
  const patterns = laidPlaces(laid).map(({ section }) => section.spans[0]?.pattern);
  expect(patterns).toEqual(['p0', 'p1', 'p0', 'p2', 'p1', 'p1', undefined]);
  expect(silent).toEqual(['coda']);
  expect(laid.sections).toHaveLength(4);
});

test('a song laid out as it is stays as it is; what is changed in the text is changed alone', () => {
  const before = lay('verse 8, chorus 8, verse 8').song;
  expect(layForm(before, formOf(before)).song).toEqual(before);
  const after = lay('verse 8, chorus 8, bridge 7/8 6, verse 8', before).song;
  expect(after.places.filter((place) => before.places.includes(place))).toHaveLength(3);
  expect(after.places).toHaveLength(4);
});
