import fc from 'fast-check';
import { emptyPattern } from '../model';
import { STEP_RATES } from '../time';
import { landing } from './record';
import { setSwing } from './swing';

const anyFrame = fc
  .record({
    step: fc.constantFrom(...STEP_RATES.map(({ ticks }) => ticks)),
    bars: fc.integer({ min: 1, max: 4 }),
  })
  .map(({ step, bars }) => ({
    ...emptyPattern({ id: 'p', name: 'P' }),
    step,
    length: bars * 3840,
  }));
const anyTick = fc.integer({ min: -480, max: 40_000 });

describe('where a played stroke lands', () => {
  test('is a step of the pattern, and not quantized it sounds where it was played', () => {
    fc.assert(
      fc.property(anyFrame, anyTick, (pattern, tick) => {
        const { at, push } = landing(pattern, 'kick', tick, 0);
        expect(at).toBeGreaterThanOrEqual(0);
        expect(at).toBeLessThan(pattern.length);
        expect(at % pattern.step).toBe(0);
        // The last step may be cut short by the end of the pattern.
        if (pattern.length % pattern.step === 0) {
          const off = (((at + push - tick) % pattern.length) + pattern.length) % pattern.length;
          expect(Math.min(off, pattern.length - off)).toBeLessThanOrEqual(0.5);
          expect(Math.abs(push)).toBeLessThanOrEqual(pattern.step / 2 + 0.5);
        }
      }),
    );
  });

  test('quantized wholly is on the step; half-way it is half as far off', () => {
    fc.assert(
      fc.property(anyFrame, anyTick, (pattern, tick) => {
        const free = landing(pattern, 'kick', tick, 0);
        const half = landing(pattern, 'kick', tick, 50);
        const whole = landing(pattern, 'kick', tick, 100);
        expect([half.at, whole.at, Math.abs(whole.push)]).toEqual([free.at, free.at, 0]);
        expect(Math.abs(half.push - free.push / 2)).toBeLessThanOrEqual(0.5);
      }),
    );
  });

  test('with a swing setting is measured from where the step sounds', () => {
    const straight = emptyPattern({ id: 'p', name: 'P' });
    const swung = setSwing(straight, { unit: 480, percent: 66 });
    const { at, push } = landing(swung, 'kick', 960 * 0.66, 0);
    expect([at, Math.abs(push)]).toEqual([480, expect.any(Number)]);
    expect(Math.abs(push)).toBeLessThanOrEqual(1);
    expect(landing(straight, 'kick', 960 * 0.66, 0).push).not.toBe(0);
  });

  test('on a row with a loop of its own is within that loop', () => {
    const pattern = emptyPattern({ id: 'p', name: 'P' });
    const strands = pattern.strands.map((strand) =>
      strand.piece === 'hihat' ? { ...strand, loopTicks: 5 * 240 } : strand,
    );
    const own = { ...pattern, strands };
    for (let step = 0; step < 16; step++) {
      expect(landing(own, 'hihat', step * 240 + 9, 100).at).toBe((step % 5) * 240);
    }
  });
});
