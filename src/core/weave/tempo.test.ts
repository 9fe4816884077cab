import fc from 'fast-check';
import { checkSong, emptyPattern, emptySong, sectionOf, type Song } from '../model';
import { MAX_BPM, MIN_BPM } from '../time';
import {
  bpmAt,
  laidPlaces,
  movePlaces,
  placedTempos,
  removeTempoAt,
  copyPlaces,
  pastePlaces,
  setGlide,
  setTempo,
  setTempoAt,
  songTicks,
  tempoOfSong,
} from '.';

const BAR = 3840;

/** Verse, chorus, verse, of two bars each, at 120. */
const song = (): Song => {
  const patterns = ['verse', 'chorus'].map((id) => emptyPattern({ id, name: id, bars: 2 }));
  const sections = patterns.map((pattern) =>
    sectionOf(pattern, { id: pattern.id, name: pattern.name, kind: 'part' }),
  );
  const places = ['verse', 'chorus', 'verse'].map((section, i) => ({
    id: `${i}`,
    section,
    overlay: [],
  }));
  return { ...emptySong('s', 's', 'verse'), patterns, sections, places };
};
const seconds = (of: Song) => tempoOfSong(of).secondsAt(songTicks(of));
const perPlace = (of: Song) => laidPlaces(of).map(({ start }) => bpmAt(of, start));

/** The song with a place once more, right behind itself. */
const repeated = (song: Song, id: string, newId: string): Song =>
  pastePlaces(song, copyPlaces(song, [id]), {
    index: song.places.findIndex((place) => place.id === id) + 1,
    linking: 'linked',
    newIds: [newId],
  });

test('the tempo of the song holds wherever no section has its own', () => {
  expect(perPlace(setTempo(song(), 90))).toEqual([90, 90, 90]);
  const chorus = setTempoAt(song(), '1', 0, 140);
  expect(perPlace(chorus)).toEqual([120, 140, 120]);
  expect(perPlace(setTempo(chorus, 90))).toEqual([90, 140, 90]);
  expect(placedTempos(chorus).map(({ place, tick, bpm }) => [place, tick, bpm])).toEqual([
    ['1', 2 * BAR, 140],
  ]);
});

test('a section has its tempo in all its places; a bar of it may have another', () => {
  const verse = setTempoAt(song(), '2', BAR, 60);
  // Its first bar runs on as the song does.
  expect([0, BAR, 2 * BAR, 4 * BAR, 5 * BAR].map((tick) => bpmAt(verse, tick))).toEqual([
    120, 60, 120, 120, 60,
  ]);
  expect(seconds(verse)).toBeCloseTo(2 + 4 + 4 + 2 + 4, 9);
});

test('a place with tempos of its own leaves its section alone', () => {
  const before = setTempoAt(song(), '0', 0, 100);
  const own = {
    ...before,
    places: before.places.map((place) =>
      place.id === '2' ? { ...place, tempos: [{ at: 0, bpm: 100 }] } : place,
    ),
  };
  expect(perPlace(setTempoAt(own, '2', 0, 50))).toEqual([100, 120, 50]);
  expect(perPlace(setTempoAt(own, '0', 0, 70))).toEqual([70, 120, 100]);
});

test('a glide goes evenly to the next tempo, also over the end of its section', () => {
  const fast = setTempoAt(setTempoAt(song(), '0', 0, 60), '1', 0, 180);
  const glides = setGlide(fast, '0', 0, true);
  expect([0, BAR, 2 * BAR - 1e-6].map((tick) => Math.round(bpmAt(glides, tick)))).toEqual([
    60, 120, 180,
  ]);
  // The last verse has nowhere to glide to.
  expect(bpmAt(glides, 5 * BAR)).toBe(60);
  expect(seconds(glides)).toBeLessThan(seconds(fast));
  expect(setGlide(glides, '0', 0, false)).toEqual(fast);
});

test('a glide goes to the very end of the song, and is longer than the song at its tempo', () => {
  const last = laidPlaces(song()).at(-1)!;
  const length = last.end - last.start;
  const slow = setGlide(
    setTempoAt(setTempoAt(song(), last.place.id, 0, 120), last.place.id, length, 60),
    last.place.id,
    0,
    true,
  );
  expect(bpmAt(slow, last.start)).toBe(120);
  expect(bpmAt(slow, last.start + length / 2)).toBeCloseTo(90, 0);
  expect(bpmAt(slow, last.end)).toBe(60);
  expect(checkSong(slow)).toEqual([]);
  // In a place that is not the last one there is no end of the song.
  const whole = song();
  const [first] = laidPlaces(whole);
  expect(setTempoAt(whole, first.place.id, first.end - first.start, 60)).toBe(whole);
});

test('taking the first tempo away takes all of them, another one only itself', () => {
  const two = setTempoAt(setTempoAt(song(), '1', 0, 90), '1', BAR, 95);
  expect(placedTempos(removeTempoAt(two, '1', BAR))).toHaveLength(1);
  expect(removeTempoAt(two, '1', 0).sections).toEqual(song().sections);
  expect(removeTempoAt(two, '1', 17)).toBe(two);
});

test('what is out of range, outside of the place, or set already, changes nothing', () => {
  const before = setTempoAt(song(), '1', 0, 90);
  for (const bpm of [NaN, Infinity, 0, -90, MIN_BPM / 2, MAX_BPM * 2]) {
    expect(setTempo(before, bpm)).toBe(before);
    expect(setTempoAt(before, '1', 0, bpm)).toBe(before);
  }
  for (const at of [-1, 2 * BAR, NaN]) expect(setTempoAt(before, '1', at, 80)).toBe(before);
  expect(setTempoAt(before, '1', 0, 90)).toBe(before);
  expect(setTempoAt(before, 'gone', 0, 80)).toBe(before);
});

test('however sections are moved and repeated, each lasts as long as it did', () => {
  const anyChange = fc.record({
    place: fc.constantFrom('0', '1', '2'),
    at: fc.integer({ min: 0, max: 7 }).map((beat) => beat * 960),
    bpm: fc.integer({ min: 40, max: 240 }),
  });
  const anyMove = fc.tuple(fc.nat(2), fc.nat(2), fc.boolean());
  fc.assert(
    fc.property(fc.array(anyChange, { maxLength: 6 }), fc.array(anyMove), (changes, moves) => {
      const before = changes.reduce((s, c) => setTempoAt(s, c.place, c.at, c.bpm), song());
      const lasts = (of: Song) =>
        laidPlaces(of).map(({ section, start, end }) => {
          const map = tempoOfSong(of);
          return [section.id, map.secondsAt(end) - map.secondsAt(start)] as const;
        });
      const expected = new Map(lasts(before));
      const after = moves.reduce(
        (s, [from, to, repeats], i) =>
          repeats ? repeated(s, `${from}`, `new${i}`) : movePlaces(s, [`${from}`], to),
        before,
      );
      for (const [section, took] of lasts(after)) {
        expect(took).toBeCloseTo(expected.get(section)!, 6);
      }
    }),
  );
});
