import fc from 'fast-check';
import { emptyPattern, type Pattern } from '../model';
import { barTicks } from '../time';
import { anyPattern } from '../testing/arbitraries';
import {
  heardAt,
  secondsOf,
  setSwing,
  SWING_UNITS,
  swingHits,
  swingOf,
  swingUnitOf,
} from './swing';

/** A pattern with hats at these ticks. */
const hats = (ats: readonly number[]): Pattern => ({
  ...emptyPattern({ id: 'p', name: 'Hats' }),
  strands: [
    {
      piece: 'hihat',
      hits: ats.map((at) => ({ id: `h${at}`, at, push: 0, velocity: 90, articulation: 'closed' })),
    },
  ],
});

const every = (step: number) => Array.from({ length: 3840 / step }, (_, i) => i * step);

test('eighths swing where hits lie on eighths, sixteenths where they lie between', () => {
  expect(swingUnitOf(hats(every(480)))).toBe(480);
  expect(swingUnitOf(hats(every(240)))).toBe(240);
  // A few ghosts between do not make it a shuffle of sixteenths.
  expect(swingUnitOf(hats([...every(480), 720]))).toBe(480);
  expect(swingUnitOf(setSwing(hats(every(480)), { unit: 120, percent: 60 }))).toBe(120);
});

test('the seconds of pairs are heard late, and the firsts where they were', () => {
  fc.assert(
    fc.property(anyPattern(), fc.constantFrom(...SWING_UNITS), (pattern, unit) => {
      const { swing: _, ...straight } = pattern;
      const swung = setSwing(straight, { unit, percent: 66 });
      const bar = barTicks(straight.meter);
      let late = 0;
      for (const hit of straight.strands.flatMap(({ hits }) => hits)) {
        const inPair = (hit.at % bar) % (2 * unit);
        const by = heardAt(swung, hit) - heardAt(straight, hit);
        if (inPair === 0) expect(by).toBeCloseTo(0);
        if (inPair === unit) late += Number(by > 0);
      }
      // The last note of a bar without a partner stays where it is.
      expect(late).toBeLessThanOrEqual(secondsOf(straight, unit));
      if (bar % (2 * unit) === 0) expect(late).toBe(secondsOf(straight, unit));
    }),
  );
});

test('some hits swing by themselves, the others stay, and what each was off its step stays too', () => {
  fc.assert(
    fc.property(anyPattern(), fc.integer({ min: 51, max: 75 }), (pattern, percent) => {
      const [piece] = pattern.strands.filter(({ hits }) => hits.length > 0).map((s) => s.piece);
      if (!piece) return;
      const ids = new Set(pattern.strands.find((s) => s.piece === piece)!.hits.map(({ id }) => id));
      const swung = swingHits(pattern, ids, { percent, unit: 240 });
      const set = { ...pattern, swing: { percent, unit: 240 } };
      swung.strands.forEach((strand, s) =>
        strand.hits.forEach((hit, i) => {
          const before = pattern.strands[s].hits[i];
          const by = strand.piece === piece ? swingOf(set, before.at) : 0;
          expect(hit.push - before.push).toBeCloseTo(by, 6);
        }),
      );
    }),
  );
});
