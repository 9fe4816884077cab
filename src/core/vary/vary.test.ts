import fc from 'fast-check';
import { checkSong, type Song } from '../model';
import { editAt, laidPlaces, sameAgain, timeline, type TimedHit } from '../weave';
import { mapStrands } from '../pattern';
import { impossibles } from '../playing';
import { demoSongs } from '../../demo';
import { offers, takeOffer, type VaryOffer, type Wishes } from '.';

const [song] = demoSongs();
const ids = song.places.map(({ id }) => id);
const anyWishes: fc.Arbitrary<Wishes> = fc.record({
  places: fc.subarray(ids, { minLength: 1 }),
  count: fc.integer({ min: 1, max: 4 }),
  bold: fc.constantFrom(1, 2, 3),
  seed: fc.nat(10_000),
});
const taken = (from: Song, made: readonly VaryOffer[]) =>
  made.reduce((now, offer) => {
    const after = takeOffer(now, offer, 'place');
    return typeof after === 'string' ? now : after;
  }, from);

test('the same seed gives the same offers, at the places that were asked for', () => {
  fc.assert(
    fc.property(anyWishes, (wishes) => {
      const made = offers(song, wishes);
      expect(offers(song, wishes)).toEqual(made);
      expect(made.every(({ place }) => wishes.places.includes(place))).toBe(true);
      for (const id of wishes.places) {
        expect(made.filter(({ place }) => place === id).length).toBeLessThanOrEqual(wishes.count);
      }
    }),
  );
});

test('what is taken changes its bars and nothing else, and can be played', () => {
  const before = timeline(song);
  fc.assert(
    fc.property(anyWishes, (wishes) => {
      for (const offer of offers(song, wishes)) {
        const after = taken(song, [offer]);
        expect(checkSong(after)).toEqual([]);
        const { start } = laidPlaces(song).find(({ place }) => place.id === offer.place)!;
        const outside = (hits: TimedHit[]) =>
          hits
            .filter(({ home }) => home < start + offer.from || home >= start + offer.to)
            .map(({ tick, piece, velocity }) => `${tick} ${piece} ${velocity}`);
        expect(outside(timeline(after))).toEqual(outside(before));
        expect(after).not.toBe(song);
      }
    }),
  );
});

test('a song whose repeats are varied repeats itself less, and stays playable', () => {
  const wishes: Wishes = { places: ids, count: 3, bold: 2, seed: 7 };
  const varied = taken(song, offers(song, wishes));
  expect(sameAgain(varied).share).toBeLessThan(sameAgain(song).share);
  expect(impossibles(varied).length).toBeLessThanOrEqual(2);
});

test('it keeps off what is locked and off bars that were changed by hand', () => {
  const place = ids[1];
  const locked: Song = {
    ...song,
    places: song.places.map((p) => (p.id === place ? { ...p, locked: true } : p)),
  };
  expect(offers(locked, { places: [place], count: 4, bold: 2, seed: 1 })).toEqual([]);
  const mine = editAt(song, { place, from: 0, to: 3840 }, 'place', (woven) =>
    mapStrands(woven, ({ hits }) => hits.map((hit) => ({ ...hit, velocity: 50 }))),
  ) as Song;
  for (let seed = 0; seed < 20; seed++) {
    const made = offers(mine, { places: [place], count: 4, bold: 3, seed });
    expect(made.every(({ from }) => from >= 3840)).toBe(true);
  }
});

test('only pieces that may be touched are touched', () => {
  const wishes: Wishes = { places: ids, count: 4, bold: 3, seed: 3, pieces: ['kick'] };
  const made = offers(song, wishes);
  expect(made.length).toBeGreaterThan(0);
  const after = made.reduce((now, offer) => takeOffer(now, offer, 'place', ['kick']) as Song, song);
  const others = (s: Song) => timeline(s).filter(({ piece }) => piece !== 'kick').length;
  expect(others(after)).toBe(others(song));
});

test('it speaks as a drummer would', () => {
  const made = offers(song, { places: ids, count: 4, bold: 2, seed: 5 });
  for (const { says } of made) expect(says).toMatch(/^[a-z].* (before|in|of|from) \d+/);
});
