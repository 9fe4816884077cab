import fc from 'fast-check';
import { demoSongs } from '../../demo';
import { checkSong, findPattern, layoutOf, type Song } from '../model';
import { allIds, heardAt, laidTogether, sameMusic } from '../pattern';
import { anyWholeSong } from '../testing/songs';
import { barTicks } from '../time';
import { laidPlaces, timeline } from '../weave';
import { chooseLayout, hitsOnTrack, liftTrack, ownTracks, READY_LAYOUTS } from '.';

const [demo] = demoSongs();
const [verse] = demo.patterns;

const sound = (result: Song | string): Song => {
  if (typeof result === 'string') throw new Error(result);
  expect(checkSong(result)).toEqual([]);
  return result;
};

/** Each stroke of a song as it is heard, wherever it comes from. */
const heard = (song: Song) =>
  timeline(song)
    .map(({ tick, piece, articulation, velocity }) =>
      [tick.toFixed(6), piece, articulation, velocity].join(' '),
    )
    .sort();

const lifted = (song: Song, track: string, cropped = false) =>
  findPattern(
    sound(liftTrack(song, { pattern: verse.id }, { track, cropped, newId: 'lifted' })),
    'lifted',
  )!;

test('a lifted track is the strokes of that track, on the shelf; what plays stays as it is', () => {
  const snare = lifted(demo, 'snare');
  expect(snare.strands.map(({ piece }) => piece)).toEqual(['snare']);
  expect(snare.strands[0].hits).toEqual(verse.strands.find((s) => s.piece === 'snare')!.hits);
  expect(snare.length).toBe(verse.length);
  expect(snare.name).toBe(`${verse.name}, Snare`);
  const after = sound(
    liftTrack(demo, { pattern: verse.id }, { track: 'snare', cropped: false, newId: 'x' }),
  );
  expect(timeline(after)).toEqual(timeline(demo));
  const nothing = liftTrack(
    demo,
    { pattern: verse.id },
    { track: 'whistle', cropped: false, newId: 'x' },
  );
  expect(nothing).toMatch(/has nothing on the track “Whistle”/);
});

test('cropped to its hits it begins on the beat of the first and ends with that of the last', () => {
  const only = {
    ...verse,
    strands: verse.strands.map((strand) =>
      strand.piece === 'snare'
        ? { ...strand, hits: strand.hits.filter(({ at }) => at >= 960 && at < 2 * 960) }
        : strand,
    ),
  };
  const song = { ...demo, patterns: [only, ...demo.patterns.slice(1)] };
  const cropped = lifted(song, 'snare', true);
  const whole = lifted(song, 'snare');
  expect(cropped.length).toBe(960);
  expect(cropped.strands[0].hits.map((hit) => heardAt(cropped, hit) + 960)).toEqual(
    whole.strands[0].hits.map((hit) => heardAt(whole, hit)),
  );
});

test('bars of the song are lifted over the joins of sections', () => {
  const [first, second] = laidPlaces(demo);
  const bar = barTicks(first.section.meters[0].meter);
  const from = second.start - bar;
  const to = second.start + bar;
  const song = sound(liftTrack(demo, { from, to }, { track: 'kick', cropped: false, newId: 'k' }));
  const kick = findPattern(song, 'k')!;
  expect(kick.length).toBe(2 * bar);
  const there = timeline(demo).filter(
    ({ piece, tick }) => piece === 'kick' && tick >= from - 40 && tick < to - 40,
  );
  const here = kick.strands[0].hits.map((hit) => Math.round(from + heardAt(kick, hit)));
  expect(here).toEqual(there.map(({ tick }) => Math.round(tick)));
});

test('tracks of their own sound as the whole did, which plays nowhere any more', () => {
  fc.assert(
    fc.property(anyWholeSong, fc.constantFrom(...READY_LAYOUTS), fc.nat(), (any, layout, n) => {
      const song = sound(chooseLayout(any, layout));
      const pattern = song.patterns[n % song.patterns.length];
      const result = ownTracks(song, pattern.id);
      if (typeof result === 'string') {
        const used = layoutOf(song).tracks.filter(
          ({ id }) => hitsOnTrack(song, pattern, id).size > 0,
        );
        expect(used.length).toBeLessThan(2);
        return;
      }
      sound(result);
      expect(heard(result)).toEqual(heard(song));
      expect(findPattern(result, pattern.id)).toBe(pattern);
      const plays = [
        ...result.sections.flatMap(({ spans }) => spans),
        ...result.places.flatMap(({ overlay }) => overlay),
      ];
      expect(plays.some((span) => span.pattern === pattern.id)).toBe(false);
    }),
  );
});

test('the parts of a pattern laid together are the identical pattern', () => {
  for (const layout of READY_LAYOUTS) {
    const song = sound(chooseLayout(demo, layout));
    for (const pattern of song.patterns) {
      const parts = layoutOf(song).tracks.flatMap(({ id: track }) => {
        const result = liftTrack(
          song,
          { pattern: pattern.id },
          { track, cropped: false, newId: 'part' },
        );
        return typeof result === 'string' ? [] : [findPattern(result, 'part')!];
      });
      if (parts.length < 2) continue;
      expect(parts.reduce((sum, part) => sum + allIds(part).size, 0)).toBe(allIds(pattern).size);
      const again = laidTogether(parts, { id: 'again', name: 'again', dye: 0 }, song.kit)!;
      expect(sameMusic(again, pattern)).toBe(true);
    }
  }
});

test('patterns of other lengths are not laid together, and a stroke that two have is struck once', () => {
  const head = { id: 'x', name: 'x', dye: 0 };
  const longer = { ...verse, length: verse.length * 2 };
  expect(laidTogether([verse, longer], head, demo.kit)).toBeUndefined();
  const twice = laidTogether([verse, verse], head, demo.kit)!;
  expect(sameMusic(twice, verse)).toBe(true);
});
