import fc from 'fast-check';
import {
  checkSong,
  emptyPattern,
  sectionOf,
  songWith,
  spanAtEnd,
  type Hit,
  type Kit,
  type Pattern,
  type Song,
} from '../model';
import { mapHits, mapStrands, placeHits } from '../pattern';
import { anyWholeSong } from '../testing/songs';
import { barNumber } from '../time';
import { addOverlay } from './arrange';
import { editAt, placesReached, REACHES, type Reach, type Spot } from './reach';
import { laidPlaces, stackOf } from './sections';
import { timeline, type TimedHit } from './timeline';
import { wovenOf, roundAt } from './woven';

/** A song, one of its places, and a stretch of that. */
const anySpot = fc
  .tuple(
    anyWholeSong.filter(({ places }) => places.length > 0),
    fc.nat(5),
    fc.nat(4),
    fc.integer({ min: 1, max: 3 }),
    fc.boolean(),
  )
  .map(([song, index, bar, bars, fill]) => {
    const woven = fill ? withFill(song) : song;
    const laid = laidPlaces(woven)[index % woven.places.length];
    const { meters } = laid.section;
    const first = bar % laid.section.bars;
    const from = barNumber(meters, first).start;
    const to = barNumber(meters, first + bars).start;
    return { song: woven, laid, spot: { place: laid.place.id, from, to } };
  });

function withFill(song: Song): Song {
  const [place] = song.places;
  return addOverlay(song, place.id, spanAtEnd(song.patterns.at(-1)!.id, 'fill', 1920));
}

const softer = (pattern: Pattern) =>
  mapStrands(pattern, ({ hits }) =>
    hits.map((hit) => ({ ...hit, velocity: Math.max(1, hit.velocity - 7) })),
  );
const thinner = (pattern: Pattern) =>
  mapStrands(pattern, ({ hits }) => hits.filter((_, i) => i % 2 === 0));
const fuller = (pattern: Pattern, kit?: Kit) =>
  placeHits(
    pattern,
    [{ piece: 'cowbell', hit: { id: 'new', at: 0, push: 5, velocity: 99, articulation: 'any' } }],
    kit,
  );
const anyChange = fc.constantFrom<(pattern: Pattern, kit?: Kit) => Pattern>(
  softer,
  thinner,
  fuller,
);

const heard = (song: Song, place?: string) =>
  timeline(song)
    .filter((hit) => place === undefined || hit.place === place)
    .map(({ tick, piece, velocity, articulation }) =>
      [Math.round(tick * 100) / 100, piece, velocity, articulation].join(' '),
    )
    .sort();

const changed = (
  song: Song,
  spot: Spot,
  reach: Reach,
  change: (pattern: Pattern, kit: Kit) => Pattern,
) => editAt(song, spot, reach, (pattern) => change(pattern, song.kit)) as Song;

test('what a stretch plays, as one pattern, sounds as the stretch does', () => {
  fc.assert(
    fc.property(anySpot, ({ song: timed, laid, spot }) => {
      // How far a grace note leads depends on the tempo at its stroke: here there is one.
      const song = {
        ...timed,
        sections: timed.sections.map((section) => ({ ...section, tempos: [] })),
        places: timed.places.map(({ tempos: _, ...place }) => place),
      };
      const { pattern } = wovenOf(song, laid, spot, 'place');
      const from = laid.start + spot.from;
      const there = timeline(song).filter(
        ({ place, home }) => place === spot.place && home >= from && home < laid.start + spot.to,
      );
      const alone: Song = {
        ...song,
        patterns: [pattern],
        sections: [sectionOf(pattern, { id: 'alone', name: 'alone', kind: 'part' })],
        places: [{ id: 'x', section: 'alone', overlay: [] }],
      };
      // Before the start of a song nothing is struck.
      const lines = (hits: readonly TimedHit[], start: number) =>
        hits
          .map(({ tick, ...rest }) => {
            const { hit: _, pattern: __, place: ___, home: ____, ...struck } = rest;
            return JSON.stringify([Math.round(Math.max(0, tick - start) * 100) / 100, struck]);
          })
          .sort();
      const once = timeline(alone).filter(({ home }) => home < pattern.length);
      expect(lines(once, 0)).toEqual(lines(there, from));
    }),
  );
});

test('an edit of this place changes this place as it says, and no other one', () => {
  fc.assert(
    fc.property(anySpot, anyChange, ({ song, spot, laid }, change) => {
      const after = changed(song, spot, 'place', change);
      expect(checkSong(after)).toEqual([]);
      for (const { id } of song.places) {
        if (id !== spot.place) expect(heard(after, id)).toEqual(heard(song, id));
      }
      const wanted = change(wovenOf(song, laid, spot, 'place').pattern, song.kit);
      const now = laidPlaces(after)[laid.index];
      expect(hitsOf(wovenOf(after, now, spot, 'place').pattern)).toEqual(hitsOf(wanted));
    }),
  );
});

const hitsOf = (pattern: Pattern) =>
  pattern.strands
    .flatMap(({ piece, hits }) => hits.map((h) => `${piece} ${h.at} ${h.push} ${h.velocity}`))
    .sort();

test('an edit of this place writes only bars and pieces that changed', () => {
  fc.assert(
    fc.property(anySpot, ({ song, spot, laid }) => {
      const { pattern } = wovenOf(song, laid, spot, 'place');
      const struck = pattern.strands.find(({ hits }) => hits.length > 0);
      if (!struck) return;
      const after = changed(song, spot, 'place', (woven) =>
        mapHits(woven, new Set([struck.hits[0].id]), (hit) => ({
          ...hit,
          velocity: (hit.velocity % 127) + 1,
        })),
      );
      const fresh = after.places[laid.index].overlay.slice(laid.place.overlay.length);
      expect(fresh).toHaveLength(1);
      expect(fresh[0].pieces).toEqual([struck.piece]);
      expect(after.sections).toBe(song.sections);
      expect(after.patterns.slice(0, song.patterns.length)).toEqual(song.patterns);
    }),
  );
});

test('a change that is taken back leaves nothing behind', () => {
  fc.assert(
    fc.property(anySpot, anyChange, ({ song, spot, laid }, change) => {
      const { pattern } = wovenOf(song, laid, spot, 'place');
      const there = changed(song, spot, 'place', change);
      const back = changed(there, spot, 'place', () => pattern);
      expect(back.places).toEqual(song.places);
      expect(back.patterns).toEqual(song.patterns);
    }),
  );
});

test('a change at one place survives an edit of what lies under it', () => {
  fc.assert(
    fc.property(anySpot, anyChange, ({ song, spot, laid }, change) => {
      const there = changed(song, spot, 'place', fuller);
      const edited = changed(there, spot, 'section', change);
      const now = wovenOf(edited, laidPlaces(edited)[laid.index], spot, 'place').pattern;
      expect(now.strands.find(({ piece }) => piece === 'cowbell')!.hits[0]).toMatchObject({
        velocity: 99,
      });
    }),
  );
});

test('an edit of the section is heard in all its places alike, and in no other', () => {
  fc.assert(
    fc.property(anySpot, anyChange, ({ song, spot, laid }, change) => {
      const plain: Song = { ...song, places: song.places.map((p) => ({ ...p, overlay: [] })) };
      const after = changed(plain, spot, 'section', change);
      expect(checkSong(after)).toEqual([]);
      const relative = (place: string) => {
        const { start } = laidPlaces(after).find((one) => one.place.id === place)!;
        return timeline(after)
          .filter((hit) => hit.place === place && hit.home > start)
          .map(({ tick, piece, velocity }) => `${Math.round(tick - start)} ${piece} ${velocity}`);
      };
      for (const { id, section } of plain.places) {
        if (section === laid.section.id) expect(relative(id)).toEqual(relative(spot.place));
        else expect(heard(after, id)).toEqual(heard(plain, id));
      }
    }),
  );
});

test('an edit everywhere goes into the patterns and lays nothing over the song', () => {
  fc.assert(
    fc.property(anySpot, ({ song, spot }) => {
      const after = changed(song, spot, 'everywhere', softer);
      expect(checkSong(after)).toEqual([]);
      expect(after.places).toBe(song.places);
      expect(after.sections).toBe(song.sections);
      const untouched = after.patterns.filter((pattern, i) => pattern === song.patterns[i]);
      for (const { id } of untouched) {
        const of = (s: Song) => timeline(s).filter(({ pattern }) => pattern === id).length;
        expect(of(after)).toBe(of(song));
      }
    }),
  );
});

test('no reach changes more places than it said', () => {
  fc.assert(
    fc.property(
      anySpot,
      fc.constantFrom(...REACHES),
      anyChange,
      ({ song, spot }, reach: Reach, change) => {
        const after = changed(song, spot, reach, change);
        const reached = new Set(placesReached(song, spot, reach));
        for (const { id } of song.places) {
          if (!reached.has(id)) expect(heard(after, id)).toEqual(heard(song, id));
        }
      },
    ),
  );
});

test('the round that is opened at a tick holds that tick', () => {
  fc.assert(
    fc.property(anySpot, fc.nat(40_000), ({ song, laid }, far) => {
      const tick = far % (laid.end - laid.start);
      const round = roundAt(song, laid, tick);
      const lies = stackOf(laid).some(({ from, to }) => tick >= from && tick < to);
      expect(round !== undefined).toBe(lies);
      if (!round) return;
      expect(round.from).toBeLessThanOrEqual(tick);
      expect(round.to).toBeGreaterThan(tick);
    }),
  );
});

test('what is pushed or moved everywhere is so once, however often its pattern goes round in the stretch', () => {
  const beat = placeHits(
    emptyPattern({ id: 'p', name: 'p', bars: 1 }),
    [0, 4, 8].map((step) => ({
      piece: 'snare',
      hit: { id: `s${step}`, at: step * 240, push: 0, velocity: 90, articulation: 'centre' },
    })),
  );
  const song: Song = {
    ...songWith({ id: 's', name: 's' }),
    patterns: [beat],
    sections: [{ ...sectionOf(beat, { id: 'a', name: 'a', kind: 'verse' }), bars: 4 }],
    places: [{ id: 'x', section: 'a', overlay: [] }],
  };
  const spot = { place: 'x', from: 0, to: 4 * 3840 };
  const snares = (of: Song) => of.patterns[0].strands.find(({ piece }) => piece === 'snare')!.hits;
  const each = (change: (hit: Hit) => Hit) => (pattern: Pattern) =>
    mapStrands(pattern, ({ hits }) => hits.map(change));
  const late = changed(
    song,
    spot,
    'everywhere',
    each((hit) => ({ ...hit, push: hit.push + 10 })),
  );
  expect(snares(late).map(({ push }) => push)).toEqual([10, 10, 10]);
  expect(timeline(late).map(({ tick }) => tick)).toEqual(
    timeline(song).map(({ tick }) => tick + 10),
  );
  // Each moves onto the step of the next, which moves on itself.
  const moved = changed(song, spot, 'everywhere', (pattern) =>
    mapStrands(pattern, ({ hits }) =>
      hits.map((hit) => ({ ...hit, at: (hit.at + 960) % pattern.length })),
    ),
  );
  expect(snares(moved).map(({ at }) => at)).toEqual([960, 1920, 2880]);
  expect(timeline(moved)).toHaveLength(timeline(song).length);
});
