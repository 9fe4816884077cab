import fc from 'fast-check';
import { demoSongs } from '../../demo';
import { checkSong, MOST, spanOver, type Song } from '../model';
import { mapStrands } from '../pattern';
import { anySong } from '../testing/arbitraries';
import { anyWholeSong } from '../testing/songs';
import { addOverlay } from './arrange';
import { lengthen, mergeNext, setMeterAt, splitPlace, whyNotMerged } from './cutting';
import { emptySection, fillIn, findSpan, reshapeSpan, silence, takeOut } from './fills';
import { asSection, differencesOf, linkPlace, makeSections, onItsOwn, whyNotLinked } from './links';
import { editAt } from './reach';
import { replacePattern } from './replace';
import { copyPlaces, movePlaces, pastePlaces } from './several';
import { laidPlaces, placesOf, songBars } from './sections';
import { timeline } from './timeline';

const heard = (song: Song, from = 0) =>
  timeline(song)
    .map(({ tick, piece, velocity, articulation }) =>
      [Math.round((tick - from) * 10) / 10, piece, velocity, articulation].join(' '),
    )
    .sort();
const at = (song: Song, place: string) => {
  const { start } = laidPlaces(song).find((laid) => laid.place.id === place)!;
  return timeline(song)
    .filter((hit) => hit.place === place)
    .map(
      ({ tick, piece, velocity }) =>
        `${Math.max(0, Math.round(tick - start))} ${piece} ${velocity}`,
    )
    .sort();
};

/** Songs some of whose places have a fill of another pattern at the end. */
const woven = (songs: fc.Arbitrary<Song>) =>
  fc
    .tuple(
      songs.filter(({ places }) => places.length > 0),
      fc.array(fc.nat(5), { maxLength: 3 }),
      fc.constantFrom('silent', 'time goes on'),
    )
    .map(([song, filled, others]) =>
      filled.reduce((now, i, n) => {
        const place = now.places[i % now.places.length].id;
        return fillIn(
          now,
          { place, pattern: 'c', whose: 'place', others: others as 'silent', crash: false },
          `fill-${n}`,
        );
      }, song),
    );
const placed = (songs: fc.Arbitrary<Song>) =>
  fc.tuple(songs, fc.nat(5)).map(([song, i]) => ({
    song,
    place: song.places[i % song.places.length].id,
    section: song.places[i % song.places.length].section,
  }));
/** Of three patterns that are there, and of all that a song can hold. */
const anyWoven = woven(anySong);
const anyHolding = woven(anyWholeSong);
const anyPlace = placed(anyHolding);

const softer = (song: Song, place: string) =>
  editAt(song, { place, from: 0, to: 3840 }, 'place', (woven) =>
    mapStrands(woven, ({ hits }) => hits.map((hit) => ({ ...hit, velocity: 3 }))),
  ) as Song;

test('splitting, and merging what was split, change nothing that sounds', () => {
  fc.assert(
    fc.property(anyPlace, fc.integer({ min: 1, max: 2 }), ({ song, place, section }, bar) => {
      const split = splitPlace(song, place, bar);
      expect(checkSong(split)).toEqual([]);
      expect(heard(split)).toEqual(heard(song));
      expect(songBars(split)).toBe(songBars(song));
      if (split === song) return;
      expect(split.places.length).toBe(song.places.length + placesOf(song, section));
      const merged = mergeNext(split, place);
      expect(checkSong(merged)).toEqual([]);
      expect(heard(merged)).toEqual(heard(song));
      expect(merged.places.length).toBe(song.places.length);
    }),
  );
});

test('merging any two neighbours changes nothing that sounds', () => {
  fc.assert(
    fc.property(anyPlace, ({ song, place }) => {
      if (whyNotMerged(song, place)) return;
      const merged = mergeNext(song, place);
      expect(checkSong(merged)).toEqual([]);
      expect(heard(merged)).toEqual(heard(song));
    }),
  );
});

test('a place on its own sounds as before, and edits of the section time it by', () => {
  fc.assert(
    fc.property(anyPlace, ({ song, place, section }) => {
      const alone = onItsOwn(song, place);
      expect(heard(alone)).toEqual(heard(song));
      if (placesOf(song, section) === 1) return expect(alone).toBe(song);
      const other = alone.places.find((one) => one.section === section)!.id;
      const longer = lengthen(alone, section, 1, 'go on') as Song;
      expect(at(longer, place)).toEqual(at(alone, place));
      expect(other).not.toBe(place);
    }),
  );
});

test('what one place has of its own is taken away, or carried to all', () => {
  fc.assert(
    fc.property(anyPlace, ({ song, place, section }) => {
      const plain: Song = { ...song, places: song.places.map((p) => ({ ...p, overlay: [] })) };
      const own = softer(plain, place);
      expect(at(asSection(own, place), place)).toEqual(at(plain, place));
      const all = makeSections(own, place);
      expect(checkSong(all)).toEqual([]);
      for (const one of all.places) {
        if (one.section === section) expect(at(all, one.id)).toEqual(at(own, place));
      }
    }),
  );
});

test('linked with its differences kept, a place sounds as before; without, as the section', () => {
  fc.assert(
    fc.property(anyPlace, fc.nat(5), ({ song, place }, j) => {
      const other = song.places[j % song.places.length];
      if (whyNotLinked(song, place, other.section)) return;
      const kept = linkPlace(song, place, other.section, true);
      expect(checkSong(kept)).toEqual([]);
      expect(heard(kept)).toEqual(heard(song));
      const bare = linkPlace(song, place, other.section, false);
      const alike = differencesOf(bare, place, other.section);
      expect(alike).toEqual([]);
      const differs = differencesOf(song, place, other.section).length > 0;
      expect(at(bare, place).join() === at(song, place).join()).toBe(!differs);
    }),
  );
});

test('a longer section goes on, begins its last bars again, or is silent there', () => {
  fc.assert(
    fc.property(anySong, fc.integer({ min: 1, max: 5 }), (song, more) => {
      const [section] = song.sections;
      const only: Song = { ...song, places: [{ id: 'one', section: section.id, overlay: [] }] };
      const [{ end }] = laidPlaces(only);
      const long = (how: 'go on' | 'repeat' | 'empty') =>
        lengthen(only, section.id, section.bars + more, how) as Song;
      for (const how of ['go on', 'repeat', 'empty'] as const) {
        expect(checkSong(long(how))).toEqual([]);
        const before = timeline(long(how)).filter(({ home }) => home < end);
        expect(before.length).toBe(timeline(only).length);
        const back = lengthen(long(how), section.id, section.bars, 'go on') as Song;
        expect(back.sections.find(({ id }) => id === section.id)?.bars).toBe(section.bars);
      }
      expect(timeline(long('empty')).length).toBe(timeline(only).length);
      const added = timeline(long('repeat')).filter(({ home }) => home >= end);
      const bars = Math.min(more, section.bars);
      const bar = end / section.bars;
      const last = timeline(only).filter(({ home }) => home >= end - bars * bar);
      const first = added.filter(({ home }) => home < end + bars * bar);
      expect(
        first.map(({ home, piece }) => `${Math.round(home - bars * bar)} ${piece}`).sort(),
      ).toEqual(last.map(({ home, piece }) => `${Math.round(home)} ${piece}`).sort());
    }),
  );
});

test('last bars over and over that are more than a section can hold are refused, and one less is not', () => {
  const [demo] = demoSongs();
  const { id } = demo.sections[1];
  const short = lengthen(demo, id, 1, 'go on') as Song;
  const spans = short.sections[1].spans.length;
  const rounds = Math.floor((MOST.spans - spans) / spans);
  const held = lengthen(short, id, 1 + rounds, 'repeat') as Song;
  // The last bar alone is repeated as often as bars are added.
  expect(held.sections[1].spans).toHaveLength(spans * (1 + rounds));
  expect(checkSong(held)).toEqual([]);
  expect(lengthen(held, id, 2 + rounds, 'repeat')).toMatch(/Add fewer bars/);
});

test('an emptied section is silent in all its places, others sound as before, and no pattern of the shelf is lost', () => {
  fc.assert(
    fc.property(anyHolding, fc.nat(), (song, which) => {
      const { section } = song.places[which % song.places.length];
      const emptied = emptySection(song, section);
      expect(checkSong(emptied)).toEqual([]);
      const isLocked = song.sections.find(({ id }) => id === section)!.locked;
      for (const { id, section: of, locked } of song.places) {
        if (of === section && locked) continue;
        expect(at(emptied, id)).toEqual(of === section && !isLocked ? [] : at(song, id));
      }
      const shelf = ({ patterns }: Song) => patterns.filter(({ local }) => !local);
      expect(shelf(emptied)).toEqual(shelf(song));
      expect(emptySection(emptied, section)).toBe(emptied);
    }),
  );
});

test('a fill keeps its distance from the end, and what was under it comes back', () => {
  fc.assert(
    fc.property(
      placed(anyWoven),
      fc.integer({ min: 1, max: 6 }),
      ({ song, place, section }, bars) => {
        const before: Song = { ...song, places: song.places.map((p) => ({ ...p, overlay: [] })) };
        const wish = {
          place,
          pattern: 'c',
          whose: 'place',
          others: 'silent',
          crash: false,
        } as const;
        const filled = fillIn(before, { ...wish, length: 480 }, 'laid');
        const address = { of: 'place', id: place, span: 'laid' } as const;
        const from = findSpan(filled, address)!.span.from;
        expect(findSpan(lengthen(filled, section, bars, 'go on') as Song, address)!.span.from).toBe(
          from,
        );
        expect(heard(takeOut(filled, address))).toEqual(heard(before));
        const slid = reshapeSpan(filled, address, 0, 480);
        expect(checkSong(slid)).toEqual([]);
        expect(findSpan(slid, address)!.span.from + findSpan(slid, address)!.length).toBe(0);
      },
    ),
  );
});

test('a fill may let the time go on, and hands a crash to the next downbeat once', () => {
  const [song] = fc.sample(anySong, 1);
  const two: Song = {
    ...song,
    places: ['x', 'y'].map((id) => ({ id, section: 's-a', overlay: [] })),
  };
  const wish = {
    place: 'x',
    pattern: 'c',
    whose: 'place',
    others: 'all go on',
    crash: true,
  } as const;
  const once = fillIn(two, wish, 'one');
  expect(checkSong(once)).toEqual([]);
  const { start } = laidPlaces(once)[1];
  const crashes = (s: Song) =>
    timeline(s).filter(({ piece, home }) => piece === 'crash' && home === start);
  const had = crashes(two).length;
  expect(crashes(once)).toHaveLength(Math.max(1, had));
  expect(crashes(fillIn(once, wish, 'two'))).toHaveLength(Math.max(1, had));
});

test('a silent stretch is silent, in the pieces that were named and no others', () => {
  fc.assert(
    fc.property(anyPlace, ({ song, place }) => {
      const silent = silence(
        song,
        { place, from: 0, to: 1920, pieces: ['snare'], whose: 'place' },
        'hush',
      );
      expect(checkSong(silent)).toEqual([]);
      const { start } = laidPlaces(song).find((laid) => laid.place.id === place)!;
      const left = (s: Song, piece: boolean) =>
        timeline(s).filter(
          ({ home, ...hit }) =>
            home >= start && home < start + 1920 && (hit.piece === 'snare') === piece,
        );
      expect(left(silent, true)).toEqual([]);
      expect(left(silent, false).length).toBe(left(song, false).length);
    }),
  );
});

test('a pattern replaced by itself changes nothing; by another, its fills stay', () => {
  fc.assert(
    fc.property(
      anyWoven,
      fc.constantFrom('everywhere', 'from here on', 'chosen sections'),
      fc.nat(5),
      (song, scope, i) => {
        const places = [song.places[i % song.places.length].id];
        const wish = { pattern: 'a', scope: scope as 'everywhere', places };
        expect(replacePattern(song, { ...wish, by: 'a' })).toBe(song);
        const after = replacePattern(song, { ...wish, by: 'b' });
        expect(checkSong(after)).toEqual([]);
        const fills = (s: Song) =>
          s.places.flatMap(({ overlay }) => overlay.filter(({ pattern }) => pattern === 'c'));
        expect(fills(after)).toEqual(fills(song));
        const index = song.places.findIndex(({ id }) => id === places[0]);
        if (scope === 'from here on') {
          for (const { id } of song.places.slice(0, index))
            expect(at(after, id)).toEqual(at(song, id));
        }
        if (scope === 'everywhere') {
          expect(timeline(after).some(({ pattern }) => pattern === 'a')).toBe(false);
        }
      },
    ),
  );
});

test('one piece of a pattern is replaced, and every other stays as it is', () => {
  fc.assert(
    fc.property(anySong, (song) => {
      const after = replacePattern(song, {
        pattern: 'a',
        by: 'b',
        pieces: ['kick'],
        scope: 'everywhere',
        places: [],
      });
      expect(checkSong(after)).toEqual([]);
      const others = (s: Song) => timeline(s).filter(({ piece }) => piece !== 'kick').length;
      expect(others(after)).toBe(others(song));
      expect(
        timeline(after).some(({ piece, pattern }) => piece === 'kick' && pattern === 'a'),
      ).toBe(false);
    }),
  );
});

test('several places are pasted linked or on their own, and moved together', () => {
  fc.assert(
    fc.property(anyHolding, fc.nat(5), fc.boolean(), (song, i, linked) => {
      const ids = song.places.slice(0, 2).map(({ id }) => id);
      const copied = copyPlaces(song, ids);
      const newIds = ['new-x', 'new-y'].slice(0, ids.length);
      const linking = linked ? 'linked' : 'unlinked';
      const index = i % (song.places.length + 1);
      const after = pastePlaces(song, copied, { index, linking, newIds });
      expect(checkSong(after)).toEqual([]);
      newIds.forEach((id, n) => expect(at(after, id)).toEqual(at(song, ids[n])));
      expect(after.sections.length === song.sections.length).toBe(linked);
      const moved = movePlaces(song, ids, 99);
      expect(moved.places.slice(-ids.length).map(({ id }) => id)).toEqual(ids);
    }),
  );
});

test('a meter that changes inside a section changes its bars from there on', () => {
  const [song] = fc.sample(anySong, 1);
  const [{ id }] = song.sections;
  const four = setMeterAt(
    { ...song, sections: song.sections.map((s) => ({ ...s, bars: 4 })) },
    id,
    0,
    { beats: 4, unit: 4 },
  );
  const seven = setMeterAt(four, id, 2, { beats: 7, unit: 8 });
  expect(seven.sections[0].meters).toEqual([
    { bar: 0, meter: { beats: 4, unit: 4 } },
    { bar: 2, meter: { beats: 7, unit: 8 } },
  ]);
  expect(setMeterAt(seven, id, 2, { beats: 4, unit: 4 }).sections[0].meters).toEqual(
    four.sections[0].meters,
  );
  expect(setMeterAt(seven, id, 9, { beats: 4, unit: 4 })).toBe(seven);
});

test('an overlay that is taken away restores what was heard', () => {
  fc.assert(
    fc.property(anyPlace, ({ song, place }) => {
      const laid = addOverlay(
        song,
        place,
        spanOver('b', 'over', { role: 'change', pieces: ['kick', 'snare'] }),
      );
      expect(heard(takeOut(laid, { of: 'place', id: place, span: 'over' }))).toEqual(heard(song));
    }),
  );
});
