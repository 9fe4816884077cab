import { barTicks, swungBy } from '../time';
import { songOfPattern, timeline } from '../weave';
import fc from 'fast-check';
import { anyPattern } from '../testing/arbitraries';
import { type Feel, type Hit, type Pattern, emptyPattern, emptySong } from '../model';
import { applyFeel, takeFeel, unmappedHits } from './feel';
import { humanize } from './humanize';
import { layBack, straighten } from './nudge';
import { placeHits } from './hits';
import { quantize } from './quantize';
import { allIds } from './strands';
import { playedSwing, setSwing, takeOutSwing, writeSwing } from './swing';

const sounds = (hit: Hit) => hit.at + hit.push;
const anyShare = fc.integer({ min: 2, max: 4 });

/** Some of a pattern's hits. */
const some = (pattern: Pattern, every: number) =>
  new Set([...allIds(pattern)].filter((_, i) => i % every === 0));

const timings: Record<string, (p: Pattern, ids: ReadonlySet<string>, n: number) => Pattern> = {
  quantize: (p, ids, n) =>
    quantize(p, ids, {
      strength: n % 101,
      grid: [0, 160, 480][n % 3],
      swing: 50 + (n % 26),
      window: 0,
    }),
  humanize: (p, ids, n) =>
    humanize(p, ids, { timing: n % 400, velocity: 9, bias: (n % 200) - 100, seed: n }),
  'push or lay back': (p, ids, n) => layBack(p, ids, { by: n - 500 }),
  straighten: (p, ids, n) => straighten(p, ids, { percent: n % 101 }),
};

describe.each(Object.entries(timings))('%s', (_, change) => {
  test('lets nothing cross its neighbour on the same strand', () => {
    fc.assert(
      fc.property(anyPattern(), anyShare, fc.nat(1000), (pattern, every, n) => {
        const after = change(pattern, some(pattern, every), n);
        pattern.strands.forEach(({ hits }, i) => {
          const order = [...hits].sort((a, b) => sounds(a) - sounds(b)).map((hit) => hit.id);
          const now = new Map(after.strands[i].hits.map((hit) => [hit.id, sounds(hit)]));
          const places = order.map((id) => now.get(id)!);
          places.forEach((place, k) =>
            expect(place).toBeGreaterThanOrEqual(places[k - 1] ?? -Infinity),
          );
        });
      }),
    );
  });

  test('lets nothing leave the pattern, and loses no hit', () => {
    fc.assert(
      fc.property(anyPattern(), fc.nat(1000), (pattern, n) => {
        const straight = straighten(pattern, allIds(pattern), { percent: 100 });
        const after = change(straight, allIds(straight), n);
        expect(allIds(after)).toEqual(allIds(pattern));
        for (const { hits } of after.strands) {
          for (const hit of hits) {
            // What belongs to the first step may be played before it, as a drummer does.
            expect(sounds(hit)).toBeGreaterThanOrEqual(hit.at === 0 ? -pattern.length / 2 : 0);
            expect(sounds(hit)).toBeLessThan(pattern.length);
          }
        }
      }),
    );
  });

  test('leaves alone what is not chosen', () => {
    fc.assert(
      fc.property(anyPattern(), anyShare, fc.nat(1000), (pattern, every, n) => {
        const ids = some(pattern, every);
        const after = change(pattern, ids, n);
        const rest = (p: Pattern) => p.strands.flatMap((s) => s.hits.filter((h) => !ids.has(h.id)));
        expect(rest(after)).toEqual(rest(pattern));
      }),
    );
  });
});

test('after quantize at 100 nothing is off the grid, straight or swung', () => {
  fc.assert(
    fc.property(
      anyPattern(),
      fc.constantFrom(120, 160, 240, 480),
      fc.integer({ min: 50, max: 75 }),
      (pattern, grid, swing) => {
        const after = quantize(pattern, allIds(pattern), { strength: 100, grid, swing, window: 0 });
        for (const hit of after.strands.flatMap((strand) => strand.hits)) {
          expect(hit.at % grid).toBe(0);
          expect(hit.push).toBeCloseTo(
            swungBy(hit.at, { unit: grid, percent: swing }, barTicks(pattern.meter)),
            5,
          );
        }
      },
    ),
  );
});

test('quantize at half strength goes half the way, and a window leaves what is farther off', () => {
  const pattern = placeHits(emptyPattern({ id: 'p', name: 'p' }), [
    { piece: 'snare', hit: { id: 'near', at: 960, push: 20, velocity: 90, articulation: '' } },
    { piece: 'snare', hit: { id: 'far', at: 1920, push: 80, velocity: 90, articulation: '' } },
  ]);
  const after = quantize(pattern, allIds(pattern), {
    strength: 50,
    grid: 240,
    swing: 50,
    window: 40,
  });
  expect(after.strands[3].hits.map((hit) => hit.push)).toEqual([10, 80]);
});

describe('humanize', () => {
  test('with amounts of 0 is the identity', () => {
    fc.assert(
      fc.property(
        anyPattern(),
        fc.nat(),
        fc.integer({ min: -100, max: 100 }),
        (pattern, seed, bias) => {
          const options = { timing: 0, velocity: 0, bias, seed };
          expect(humanize(pattern, allIds(pattern), options)).toBe(pattern);
        },
      ),
    );
  });

  test('with the same seed repeats, with another one strays otherwise', () => {
    fc.assert(
      fc.property(anyPattern(), fc.nat(), (pattern, seed) => {
        const options = { timing: 30, velocity: 20, bias: 0, seed };
        const once = humanize(pattern, allIds(pattern), options);
        expect(humanize(pattern, allIds(pattern), options)).toEqual(once);
        if (allIds(pattern).size > 8) {
          expect(humanize(pattern, allIds(pattern), { ...options, seed: seed + 1 })).not.toEqual(
            once,
          );
        }
      }),
    );
  });

  test('leans late with a late bias', () => {
    const hits = Array.from({ length: 16 }, (_, i) => ({
      piece: 'hihat',
      hit: { id: `h${i}`, at: i * 240, push: 0, velocity: 90, articulation: '' },
    }));
    const pattern = placeHits(emptyPattern({ id: 'p', name: 'p' }), hits);
    const after = humanize(pattern, allIds(pattern), {
      timing: 20,
      velocity: 0,
      bias: 100,
      seed: 4,
    });
    const pushes = after.strands.flatMap((s) => s.hits.map((hit) => hit.push));
    expect(Math.min(...pushes)).toBeGreaterThanOrEqual(0);
    expect(Math.max(...pushes)).toBeLessThanOrEqual(20);
    expect(Math.max(...pushes)).toBeGreaterThan(0);
  });
});

describe('a feel', () => {
  const feelOf = (pattern: Pattern) => takeFeel(pattern, allIds(pattern), { id: 'f', name: 'f' });

  test('taken from a pattern and applied to it is the identity', () => {
    fc.assert(
      fc.property(anyPattern(), fc.integer({ min: 0, max: 100 }), (pattern, percent) => {
        const feel = feelOf(pattern);
        expect(applyFeel(pattern, allIds(pattern), { feel, percent })).toBe(pattern);
      }),
    );
  });

  test('makes a straightened copy of its pattern play as the pattern does', () => {
    const played = [0, 240, 480, 960].map((at, i) => ({
      piece: 'snare',
      hit: { id: `s${i}`, at, push: 3 * i, velocity: 60 + i * 9, articulation: 'centre' },
    }));
    const pattern = placeHits(emptyPattern({ id: 'p', name: 'p' }), played);
    const typed = placeHits(
      pattern,
      played.map(({ piece, hit }) => ({ piece, hit: { ...hit, push: 0, velocity: 90 } })),
    );
    expect(applyFeel(typed, allIds(typed), { feel: feelOf(pattern), percent: 100 })).toEqual(
      pattern,
    );
    const half = applyFeel(typed, allIds(typed), { feel: feelOf(pattern), percent: 50 });
    expect(half.strands[3].hits.map((hit) => hit.push)).toEqual([0, 1.5, 3, 4.5]);
  });

  test('of straight steps says which triplet steps it cannot map', () => {
    const at = (ats: number[]) =>
      placeHits(
        emptyPattern({ id: 'p', name: 'p' }),
        ats.map((tick) => ({
          piece: 'hihat',
          hit: { id: `h${tick}`, at: tick, push: 5, velocity: 80, articulation: '' },
        })),
      );
    const feel: Feel = feelOf(at([0, 480, 960, 1440]));
    const triplets = at([0, 320, 640, 960]);
    expect(unmappedHits(triplets, allIds(triplets), feel)).toEqual({
      count: 2,
      first: { piece: 'hihat', at: 320 },
    });
  });
});

describe('swing', () => {
  const anySwing = fc.record({
    percent: fc.integer({ min: 51, max: 75 }),
    unit: fc.constantFrom(240, 480),
  });

  test('puts the second of two notes where its percentage says, and keeps the order of all', () => {
    expect(swungBy(480, { percent: 75, unit: 480 }, 3840)).toBe(240);
    expect(swungBy(480, { percent: 200 / 3, unit: 480 }, 3840)).toBeCloseTo(160);
    fc.assert(
      fc.property(anySwing, fc.nat(4000), fc.nat(4000), (swing, a, b) => {
        const [low, high] = a < b ? [a, b] : [b, a];
        expect(low + swungBy(low, swing, 3840)).toBeLessThanOrEqual(
          high + swungBy(high, swing, 3840) + 1e-9,
        );
      }),
    );
  });

  test('written into the hits sounds as the setting did', () => {
    fc.assert(
      fc.property(anyPattern(), anySwing, (pattern, swing) => {
        const swung = setSwing(pattern, swing);
        const heard = (p: Pattern) =>
          timeline(songOfPattern(emptySong('s', 's', 'x'), p)).map((hit) => [hit.hit, hit.tick]);
        const ticks = new Map(heard(writeSwing(swung)) as [string, number][]);
        for (const [id, tick] of heard(swung) as [string, number][]) {
          expect(ticks.get(id)).toBeCloseTo(tick, 6);
        }
        expect(writeSwing(swung).swing).toBeUndefined();
      }),
    );
  });

  test('taken out of hits that were swung is the setting again', () => {
    fc.assert(
      fc.property(anyPattern(), anySwing, (pattern, swing) => {
        const straight = straighten(pattern, allIds(pattern), { percent: 100 });
        const setting = setSwing(straight, swing);
        const written = writeSwing(setting);
        if (!playedSwing(written, swing.unit)) return;
        expect(takeOutSwing(written, swing.unit)).toEqual(setting);
      }),
    );
  });
});
