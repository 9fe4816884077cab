import fc from 'fast-check';
import { salvage, checkSong, layoutOf, type Song } from '../model';
import { anyWholeSong } from '../testing/songs';
import { heardTracks, joinTracks, ownTracks, stripsOf } from '../tracks';
import { laidPlaces, mergeNext, onItsOwn, splitPlace, timeline } from '../weave';
import { heard, heardKeys } from '.';

/** A whole song and one of its places. */
const anyPlaced = fc.tuple(anyWholeSong, fc.nat(20)).map(([song, n]) => {
  const laid = laidPlaces(song);
  return { song, laid: laid[n % Math.max(1, laid.length)] };
});

const told = (after: Song | string, before: Song) => (typeof after === 'string' ? before : after);

describe('songs that hold everything', () => {
  test('are sound, and meet the others: mixes, sections, touches, energy and fills', () => {
    const seen = new Map<string, number>();
    const saw = (what: string, is: boolean) => seen.set(what, (seen.get(what) ?? 0) + Number(is));
    const songs = fc.sample(anyWholeSong, { numRuns: 60, seed: 20260 });
    for (const song of songs) {
      expect(checkSong(song)).toEqual([]);
      const strips = stripsOf(song);
      saw(
        'a mute',
        strips.some(({ mute }) => mute),
      );
      saw(
        'a solo',
        strips.some(({ solo }) => solo),
      );
      saw(
        'a send',
        strips.some(({ sends }) => sends.length > 0),
      );
      saw(
        'dynamics',
        strips.some(({ dynamics }) => dynamics),
      );
      saw(
        'a ramp',
        song.sections.some(({ mix }) => mix?.strips.some(({ ramp }) => ramp)),
      );
      saw(
        'energy',
        song.places.some(({ energy }) => energy),
      );
      saw(
        'a fill',
        song.places.some(({ overlay }) => overlay.length > 0),
      );
      saw(
        'a touch',
        timeline(song).some(({ touch }) => touch),
      );
      saw(
        'a glide',
        song.sections.some(({ tempos }) => tempos.some(({ glide }) => glide)),
      );
      saw(
        'a bounce or a loop',
        song.kit.pieces.some(({ design }) => design?.layers),
      );
    }
    for (const [what, count] of seen) expect([what, count >= 4]).toEqual([what, true]);
  });
});

describe('nothing that is heard is changed', () => {
  const keeps = (change: (song: Song, placed: { place: string; bar: number }) => Song | string) =>
    fc.assert(
      fc.property(anyPlaced, fc.nat(8), ({ song, laid }, bar) => {
        if (!laid) return;
        const after = told(change(song, { place: laid.place.id, bar }), song);
        expect(checkSong(after)).toEqual([]);
        expect(heardKeys(after)).toEqual(heardKeys(song));
      }),
    );

  test('by unlinking a place', () => keeps((song, { place }) => onItsOwn(song, place, 'unlinked')));

  test('by merging two sections, or it is refused', () =>
    keeps((song, { place }) => mergeNext(song, place)));

  test('by giving each track a pattern of its own', () =>
    keeps((song, { bar }) => ownTracks(song, song.patterns[bar % song.patterns.length].id)));

  test('by saving and opening', () =>
    keeps((song) => salvage(JSON.parse(JSON.stringify(song))).song!));

  test('by splitting a place and merging its parts again', () =>
    keeps((song, { place, bar }) => {
      const split = splitPlace(song, place, bar);
      return split === song ? song : mergeNext(split, place);
    }));
});

test('splitting a place at a bar changes no hit, and no track that has no ramp there', () => {
  fc.assert(
    fc.property(anyPlaced, fc.integer({ min: 1, max: 3 }), ({ song, laid }, bar) => {
      if (!laid) return;
      const plain = {
        ...song,
        sections: song.sections.map((section) => ({
          ...section,
          ...(section.mix && {
            mix: { strips: section.mix.strips.map(({ ramp: _, ...strip }) => strip) },
          }),
        })),
      };
      expect(heardKeys(splitPlace(plain, laid.place.id, bar))).toEqual(heardKeys(plain));
    }),
  );
});

test('tracks that are joined lose no hit, and what was silent only for a solo that went is heard', () => {
  fc.assert(
    fc.property(anyWholeSong, fc.nat(9), fc.nat(9), (song, one, other) => {
      const { tracks } = layoutOf(song);
      const [from, to] = [tracks[one % tracks.length].id, tracks[other % tracks.length].id];
      const joined = told(joinTracks(song, from, to, 'joined'), song);
      expect(checkSong(joined)).toEqual([]);
      const times = (of: Song) => heard(of).hits.map(({ at, velocity }) => `${at} ${velocity}`);
      expect(times(joined)).toEqual(times(song));
      const strips = stripsOf(joined);
      const soloed = strips.some(({ solo }) => solo);
      for (const { track, mute, solo } of strips) {
        if (!mute && (solo || !soloed)) expect(heardTracks(joined)).toContain(track);
      }
    }),
  );
});
