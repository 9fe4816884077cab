import fc from 'fast-check';
import { applyCommand } from '../commands';
import { checkSong } from '../model';
import { sameMusic } from '../pattern';
import { anySong } from '../testing/arbitraries';
import { anyWholeSong } from '../testing/songs';
import { anyCommand } from '../testing/commands';
import { broughtBack, broughtPattern, broughtPiece, broughtPlace, compareSongs } from './compare';
import { laidPlaces } from './sections';
import { timeline } from './timeline';

const at = (song: Parameters<typeof timeline>[0], place: string) => {
  const { start } = laidPlaces(song).find((laid) => laid.place.id === place)!;
  return timeline(song)
    .filter((hit) => hit.place === place)
    .map(
      ({ tick, piece, velocity }) =>
        `${Math.max(0, Math.round(tick - start))} ${piece} ${velocity}`,
    )
    .sort();
};

/** A song and what became of it. */
const anyPair = fc
  .tuple(anyWholeSong, fc.array(anyCommand, { maxLength: 12 }))
  .map(([song, commands]) => ({ song, other: commands.reduce(applyCommand, song) }));

test('a song does not differ from itself', () => {
  fc.assert(
    fc.property(anyWholeSong, (song) => {
      const { places, patterns, order } = compareSongs(song, structuredClone(song));
      expect([places, patterns, order]).toEqual([[], [], false]);
    }),
  );
});

test('a place that is not named as different sounds the same in both', () => {
  fc.assert(
    fc.property(anyPair, ({ song, other }) => {
      const named = new Set(
        compareSongs(song, other).places.flatMap(({ here, there }) => [
          here?.place.id,
          there?.place.id,
        ]),
      );
      for (const { id } of song.places) {
        if (named.has(id) || !other.places.some((place) => place.id === id)) continue;
        // The very first strokes of a song have no room to be early.
        const late = (lines: string[]) => lines.filter((line) => !line.startsWith('0 '));
        expect(late(at(other, id))).toEqual(late(at(song, id)));
      }
    }),
  );
});

test('a place that is brought back sounds as it did, and no other one is changed', () => {
  fc.assert(
    fc.property(anyPair, fc.nat(5), ({ song, other }, i) => {
      const { id } = song.places[i % song.places.length];
      const back = broughtPlace(other, song, id);
      expect(checkSong(back)).toEqual([]);
      const late = (lines: string[]) => lines.filter((line) => !line.startsWith('0 '));
      expect(late(at(back, id))).toEqual(late(at(song, id)));
      for (const place of other.places) {
        if (place.id !== id) expect(late(at(back, place.id))).toEqual(late(at(other, place.id)));
      }
    }),
  );
});

test('the whole is brought back as it was; a pattern too', () => {
  fc.assert(
    fc.property(anyPair, ({ song, other }) => {
      expect(timeline(broughtBack(other, song))).toEqual(timeline(song));
      const [pattern] = song.patterns;
      const back = broughtPattern(other, song, pattern.id);
      expect(checkSong(back)).toEqual([]);
      expect(
        sameMusic(
          back.patterns.find(({ id }) => id === pattern.id)!,
          pattern,
        ),
      ).toBe(true);
    }),
  );
});

test('one piece of one place is brought back alone', () => {
  fc.assert(
    fc.property(anyPair, fc.nat(), fc.constantFrom('kick', 'snare', 'hihat'), (pair, n, piece) => {
      const { song: then, other: now } = pair;
      const there = laidPlaces(now).filter(({ place, start, end }) =>
        laidPlaces(then).some(
          (laid) => laid.place.id === place.id && laid.end - laid.start === end - start,
        ),
      );
      if (there.length === 0) return;
      const { id } = there[n % there.length].place;
      const back = broughtPiece(now, then, id, piece);
      if (typeof back === 'string') throw new Error(back);
      expect(checkSong(back)).toEqual([]);
      const homes = (song: typeof then, place: string, is: (one: string) => boolean) => {
        const { start } = laidPlaces(song).find((laid) => laid.place.id === place)!;
        return timeline(song)
          .filter((hit) => hit.place === place && is(hit.piece))
          .map(({ home, piece: of, velocity }) => `${Math.round(home - start)} ${of} ${velocity}`)
          .sort();
      };
      const own = (one: string) => one === piece;
      const rest = (one: string) => one !== piece;
      expect(homes(back, id, own)).toEqual(homes(then, id, own));
      expect(homes(back, id, rest)).toEqual(homes(now, id, rest));
      for (const { place } of laidPlaces(now)) {
        if (place.id !== id) expect(at(back, place.id)).toEqual(at(now, place.id));
      }
    }),
  );
});

test('one strand is brought back, and the others stay', () => {
  const [song] = fc.sample(anySong, 1);
  const [pattern] = song.patterns;
  const bare = { ...pattern, strands: pattern.strands.map((one) => ({ ...one, hits: [] })) };
  const other = { ...song, patterns: [bare, ...song.patterns.slice(1)] };
  const [{ piece }] = pattern.strands;
  const back = broughtPattern(other, song, pattern.id, piece);
  const strand = (s: typeof song) => s.patterns[0].strands.find((one) => one.piece === piece)!.hits;
  expect(strand(back)).toEqual(strand(song));
  const others = back.patterns[0].strands.filter((one) => one.piece !== piece);
  expect(others.every(({ hits }) => hits.length === 0)).toBe(true);
});
