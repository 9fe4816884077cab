import fc from 'fast-check';
import { checkSong, type Song } from '../model';
import { anySong } from '../testing/arbitraries';
import { anyWholeSong } from '../testing/songs';
import { isPerformance, performedSong, type Performed } from './perform';
import { sectionTicks, songTicks } from './sections';
import { timeline } from './timeline';

const anyPerformed = (song: Song): fc.Arbitrary<Performed[]> =>
  fc
    .array(
      fc.oneof(
        fc.record({
          at: fc.nat(40).map((n) => n * 960),
          does: fc.constant('section' as const),
          section: fc.constantFrom(...song.sections.map(({ id }) => id)),
        }),
        fc.record({
          at: fc.nat(40).map((n) => n * 960),
          does: fc.constant('lay' as const),
          pattern: fc.constantFrom('a', 'b', 'c'),
          pieces: fc.constantFrom(['kick'], ['snare', 'hihat']),
        }),
        fc.record({
          at: fc.nat(40).map((n) => n * 960),
          does: fc.constantFrom('mute' as const, 'unmute' as const),
          piece: fc.constantFrom('kick', 'snare'),
        }),
        fc.nat(40).map((n): Performed => ({
          at: n * 960,
          does: 'roll',
          piece: 'snare',
          every: 240,
          until: n * 960 + 1920,
        })),
      ),
      { minLength: 1, maxLength: 10 },
    )
    .map((list) => [
      { at: 0, does: 'section' as const, section: song.sections[0].id },
      ...list.sort((a, b) => a.at - b.at),
    ]);

const END = 48 * 960;
const anyPerformance = anyWholeSong.chain((song) =>
  fc.tuple(fc.constant(song), anyPerformed(song)),
);

test('what was performed is a sound song, as long as it was performed', () => {
  fc.assert(
    fc.property(anyPerformance, ([song, done]) => {
      expect(isPerformance(done, song)).toBe(true);
      const after = performedSong(song, done, END);
      expect(checkSong(after)).toEqual([]);
      expect(songTicks(after)).toBe(END);
    }),
  );
});

test('what was done later changes nothing of what was heard before it', () => {
  fc.assert(
    fc.property(anyPerformance, fc.nat(12), ([song, done], n) => {
      const first = done.slice(0, n + 1);
      const line = done[n + 1]?.at ?? END;
      const until = (s: Song) =>
        timeline(s)
          .filter(({ home }) => home < line)
          .map(({ tick, piece, velocity }) => `${Math.round(tick)} ${piece} ${velocity}`)
          .sort();
      expect(until(performedSong(song, done, END))).toEqual(until(performedSong(song, first, END)));
    }),
  );
});

test('a section that is called plays from its start, over and over, until the next', () => {
  const [song] = fc.sample(anySong, 1);
  const [a, b] = song.sections;
  const length = sectionTicks(a);
  const done: Performed[] = [
    { at: 0, does: 'section', section: a.id },
    { at: 2 * length, does: 'section', section: b.id },
  ];
  const after = performedSong(song, done, 2 * length + sectionTicks(b));
  expect(after.places.map(({ section }) => section)).toEqual([a.id, a.id, b.id]);
  const early = performedSong(
    song,
    [done[0], { ...done[1], at: length + 960 }],
    length + 960 + sectionTicks(b),
  );
  expect(songTicks(early)).toBe(length + 960 + sectionTicks(b));
});
