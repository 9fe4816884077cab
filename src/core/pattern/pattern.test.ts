import fc from 'fast-check';
import { DEFAULT_KIT, findStrand, type Pattern, emptyPattern } from '../model';
import { anyMeter, anyPattern } from '../testing/arbitraries';
import { barTicks } from '../time';
import { clipAt, clipOf } from './clip';
import { barsOf, countedIn, setLength } from './length';
import { copyHits, moveHits } from './move';
import { placeHits, removeHits } from './hits';
import { spokenCell, spokenSelection } from './spoken';
import { summary } from './summary';
import { setVelocities } from './velocity';
import { nextArticulation } from './voice';
import { addStrand, chosenHits, hitCount, removeStrand } from './strands';

const allIds = (pattern: Pattern) =>
  new Set(pattern.strands.flatMap(({ hits }) => hits.map((hit) => hit.id)));

/** Some of the hits of a pattern, chosen by a number. */
const someIds = (pattern: Pattern, seed: number) =>
  new Set([...allIds(pattern)].filter((_, i) => (seed >> (i % 16)) & 1));

const pushes = (pattern: Pattern, ids: ReadonlySet<string>) =>
  new Map(chosenHits(pattern, ids).map(({ hit }) => [hit.id, hit.push]));

const hit = (at: number, rest = {}) => ({
  id: `h${at}`,
  at,
  push: 0,
  velocity: 90,
  articulation: 'usual',
  ...rest,
});

describe('moving hits', () => {
  test('keeps every push and every velocity, and nothing leaves the pattern', () => {
    fc.assert(
      fc.property(
        anyPattern(),
        fc.nat(0xffff),
        fc.integer({ min: -40, max: 40 }),
        fc.integer({ min: -9, max: 9 }),
        (pattern, seed, steps, rows) => {
          const ids = someIds(pattern, seed);
          const moved = moveHits(pattern, ids, { by: steps * 240, rows });
          expect(pushes(moved, ids)).toEqual(pushes(pattern, ids));
          for (const { hit: h } of chosenHits(moved, allIds(moved))) {
            expect(h.at).toBeGreaterThanOrEqual(0);
            expect(h.at).toBeLessThan(moved.length);
          }
        },
      ),
    );
  });

  test('keeps the distances between the hits that move', () => {
    fc.assert(
      fc.property(anyPattern(), fc.integer({ min: -40, max: 40 }), (pattern, steps) => {
        const ids = allIds(pattern);
        const moved = moveHits(pattern, ids, { by: steps * 240 });
        const ats = (p: Pattern) => chosenHits(p, ids).map(({ hit: h }) => h.at);
        const shifts = ats(moved).map((at, i) => at - ats(pattern)[i]);
        expect(new Set(shifts).size).toBeLessThanOrEqual(1);
      }),
    );
  });

  test('copies leave the originals where they are, with the same pushes', () => {
    const pattern = placeHits(emptyPattern({ id: 'p', name: 'p' }), [
      { piece: 'snare', hit: hit(0, { push: 7.5 }) },
    ]);
    const copied = copyHits(pattern, allIds(pattern), { by: 960 }, (id) => `c-${id}`);
    expect(findStrand(copied, 'snare')?.hits.map(({ at, push }) => [at, push])).toEqual([
      [0, 7.5],
      [960, 7.5],
    ]);
  });
});

describe('placing and removing', () => {
  test('a drum is struck once a step: a new hit takes the place of the old one', () => {
    const pattern = emptyPattern({ id: 'p', name: 'p' });
    const once = placeHits(pattern, [{ piece: 'kick', hit: hit(480) }]);
    const twice = placeHits(once, [{ piece: 'kick', hit: hit(480, { id: 'new', velocity: 30 }) }]);
    expect(findStrand(twice, 'kick')?.hits).toEqual([
      expect.objectContaining({ id: 'new', velocity: 30 }),
    ]);
  });

  test('removing what was placed gives back the pattern', () => {
    fc.assert(
      fc.property(anyPattern(), fc.nat(15), (pattern, step) => {
        const free = removeHits(
          pattern,
          new Set(findStrand(pattern, 'cowbell')?.hits.map((h) => h.id)),
        );
        const withRow = addStrand(free, 'cowbell');
        const placed = placeHits(withRow, [{ piece: 'cowbell', hit: hit(step * 60, { id: 'x' }) }]);
        expect(removeHits(placed, new Set(['x']))).toEqual(withRow);
      }),
    );
  });

  test('a strand that is added and taken out again leaves the others untouched', () => {
    fc.assert(
      fc.property(anyPattern(), (pattern) => {
        const bare = removeStrand(pattern, 'whistle');
        expect(removeStrand(addStrand(bare, 'whistle'), 'whistle')).toEqual(bare);
      }),
    );
  });
});

describe('velocity and articulation', () => {
  test('stay within what MIDI can say, whatever is asked for', () => {
    fc.assert(
      fc.property(anyPattern(), fc.integer({ min: -500, max: 500 }), (pattern, value) => {
        const set = setVelocities(pattern, new Map([...allIds(pattern)].map((id) => [id, value])));
        for (const { hit: h } of chosenHits(set, allIds(set))) {
          expect(h.velocity).toBe(Math.max(1, Math.min(127, value)));
        }
      }),
    );
  });

  test('turning a hat four times gives back the closed hat, at its time', () => {
    const pattern = placeHits(emptyPattern({ id: 'p', name: 'p' }), [
      { piece: 'hihat', hit: hit(240, { push: -3 }) },
    ]);
    const ids = allIds(pattern);
    const open = nextArticulation(pattern, ids);
    expect(findStrand(open, 'hihat')?.hits[0]).toMatchObject({ articulation: 'open', push: -3 });
    const round = [1, 2, 3].reduce((now) => nextArticulation(now, ids), open);
    expect(round).toEqual(pattern);
  });
});

describe('length and meter', () => {
  test('a pattern counted in another meter keeps all its hits in place, in as few bars as hold them', () => {
    fc.assert(
      fc.property(anyPattern(), anyMeter, (pattern, meter) => {
        const counted = countedIn(pattern, meter);
        if (pattern.length > 64 * barTicks(meter)) return;
        expect(Number.isInteger(barsOf(counted))).toBe(true);
        expect(counted.length - pattern.length).toBeLessThan(barTicks(meter));
        expect(chosenHits(counted, allIds(pattern))).toEqual(chosenHits(pattern, allIds(pattern)));
      }),
    );
  });

  test('a pattern made longer and shorter again is the same', () => {
    fc.assert(
      fc.property(anyPattern(), fc.integer({ min: 1, max: 5 }), (pattern, bars) => {
        const longer = setLength(pattern, pattern.length + bars * 3840);
        expect(setLength(longer, pattern.length)).toEqual(pattern);
      }),
    );
  });
});

describe('copy and paste', () => {
  test('puts the same hits elsewhere, with their pushes', () => {
    fc.assert(
      fc.property(anyPattern(), (pattern) => {
        const clip = clipOf(pattern, allIds(pattern));
        const longer = setLength(pattern, pattern.length * 2);
        if (!clip) return;
        const pasted = placeHits(
          longer,
          clipAt(clip, pattern.length, (i) => `new-${i}`),
        );
        expect(hitCount(pasted)).toBe(2 * hitCount(pattern));
        const news = chosenHits(pasted, allIds(pasted)).filter(({ hit: h }) =>
          h.id.startsWith('new'),
        );
        expect(news.map(({ hit: h }) => h.push).sort()).toEqual(
          chosenHits(pattern, allIds(pattern))
            .map(({ hit: h }) => h.push)
            .sort(),
        );
      }),
    );
  });
});

describe('what is said of the grid', () => {
  const pattern = placeHits(emptyPattern({ id: 'p', name: 'p', bars: 2 }), [
    { piece: 'snare', hit: hit(5760, { push: 23.04, velocity: 96 }) },
    { piece: 'hihat', hit: hit(240, { articulation: 'open' }) },
  ]);

  test('a step speaks of piece, place, strength and offset', () => {
    const snare = findStrand(pattern, 'snare')!.hits[0];
    expect(spokenCell(pattern, 'snare', 5760, snare, 120, DEFAULT_KIT)).toBe(
      'snare, bar 2 beat 3, velocity 96, 12 ms late',
    );
    expect(spokenCell(pattern, 'snare', 480, undefined, 120, DEFAULT_KIT)).toBe(
      'snare, bar 1 beat 1, step 3, empty',
    );
    const hat = findStrand(pattern, 'hihat')!.hits[0];
    expect(spokenCell(pattern, 'hihat', 240, hat, 120, DEFAULT_KIT)).toContain('open, velocity 90');
  });

  test('a selection says how many of what, so that one is sure of it', () => {
    const ids = new Set(['h5760']);
    expect(spokenSelection(pattern, summary(pattern, ids)!, DEFAULT_KIT)).toBe(
      '1 hit selected, snare only, bar 2 beat 3',
    );
    expect(summary(pattern, new Set(['gone']))).toBeUndefined();
  });
});
