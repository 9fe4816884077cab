import fc from 'fast-check';
import { checkSong, emptyPattern, emptySong, findStrand } from '../model';
import { anyMeter, anyPattern } from '../testing/arbitraries';
import { barTicks } from '../time';
import { placeHits } from './hits';
import { barsOf } from './length';
import { inMeter, lostInMeter, METER_FITS } from './meterFit';
import { musicKey, sameMusic } from './sameMusic';

const hit = (id: string, at: number, push = 0) => ({
  piece: 'snare',
  hit: { id, at, push, velocity: 90, articulation: 'centre' },
});
const seven = { beats: 7, unit: 8 };
const rock = placeHits(emptyPattern({ id: 'p', name: 'p', bars: 2 }), [
  hit('a', 960, 24),
  hit('b', 3600),
  hit('c', 3840 + 960),
]);
const ats = (pattern: typeof rock) =>
  findStrand(pattern, 'snare')!.hits.map(({ at, push }) => [at, push]);

test('cut to another meter, bars begin where its bars do, and lose what has no room', () => {
  expect(lostInMeter(rock, seven)).toBe(1);
  const cut = inMeter(rock, seven, 'cut');
  expect([cut.length, ats(cut)]).toEqual([
    2 * 3360,
    [
      [960, 24],
      [3360 + 960, 0],
    ],
  ]);
});

test('stretched to another meter, strokes stay as far into their bar as they were', () => {
  const stretched = inMeter(rock, seven, 'stretch');
  expect(ats(stretched)).toEqual([
    [840, 21],
    [3150, 0],
    [3360 + 840, 0],
  ]);
});

test('any pattern in any meter is sound, with as many bars; stretching loses nothing, cutting what is said', () => {
  fc.assert(
    fc.property(anyPattern(), anyMeter, fc.constantFrom(...METER_FITS), (pattern, meter, fit) => {
      const fitted = inMeter(pattern, meter, fit);
      expect(checkSong({ ...emptySong('s', 's', 'x'), patterns: [fitted] })).toEqual([]);
      expect(barsOf(fitted)).toBeCloseTo(barsOf(pattern), 6);
      const lost = fit === 'cut' ? lostInMeter(pattern, meter) : 0;
      if (barTicks(meter) !== barTicks(pattern.meter)) {
        const all = hits(inMeter(pattern, meter, 'stretch'));
        expect(hits(fitted)).toBe(all - lost);
      }
    }),
  );
});

const hits = (pattern: typeof rock) =>
  pattern.strands.reduce((sum, strand) => sum + strand.hits.length, 0);

describe('the same music', () => {
  test('is the same under another name, with other ids, rows and notes', () => {
    fc.assert(
      fc.property(anyPattern(), (pattern) => {
        const renamed = {
          ...pattern,
          id: 'q',
          name: 'other',
          notes: 'x',
          strands: pattern.strands.map((strand) => ({
            ...strand,
            hits: strand.hits.map((one) => ({ ...one, id: `q${one.id}` })),
          })),
        };
        expect(sameMusic(pattern, renamed)).toBe(true);
        expect(musicKey(pattern)).toBe(musicKey(renamed));
      }),
    );
  });

  test('is another one with one stroke louder, later, gone, or in another meter', () => {
    const [first, ...rest] = rock.strands.find(({ piece }) => piece === 'snare')!.hits;
    const withHits = (changed: typeof rest) => ({
      ...rock,
      strands: rock.strands.map((strand) =>
        strand.piece === 'snare' ? { ...strand, hits: changed } : strand,
      ),
    });
    for (const other of [
      withHits([{ ...first, velocity: 91 }, ...rest]),
      withHits([{ ...first, push: 25 }, ...rest]),
      withHits(rest),
      { ...rock, meter: { beats: 2, unit: 2 } },
    ]) {
      expect(sameMusic(rock, other)).toBe(false);
      expect(musicKey(rock)).not.toBe(musicKey(other));
    }
  });
});
