import fc from 'fast-check';
import { DEFAULT_KIT, designOf, swellOf, type Hit } from '../model';
import { bareSong, bothSides, engineWith, jump, oneLayer, RATE, struck } from '../testing/engine';
import { compileScore, LONGEST_SWELL } from './score';
import { made } from './swell';

const COWBELL = 56;
const level = (samples: Float32Array, from: number, to: number) =>
  Math.sqrt(
    samples
      .subarray(Math.round(from * RATE), Math.round(to * RATE))
      .reduce((sum, x) => sum + x * x, 0) /
      ((to - from) * RATE),
  );

/** A cowbell on the third beat, at 120 bpm a second after the start. */
const song = (change: Partial<Hit>) => bareSong([struck('cowbell', 2 * 960, 0, change)]);

test('a swell grows out of nothing up to its stroke, and begins as long before it as was said', () => {
  const swell = made(designOf(DEFAULT_KIT, swellOf(COWBELL), 1), RATE);
  expect(swell.note).toBe(swellOf(COWBELL));
  const engine = engineWith(song({ swell: 960 }), [swell]);
  engine.play({ from: 0 });
  const { left } = bothSides(engine, 1.2);
  expect(level(left, 0, 0.49)).toBe(0);
  const steps = [0.55, 0.7, 0.85, 0.95].map((from) => level(left, from, from + 0.05));
  for (let i = 1; i < steps.length; i++) expect(steps[i]).toBeGreaterThan(steps[i - 1]);
  expect(steps[3]).toBeGreaterThan(6 * steps[0]);
  expect(jump(left.subarray(0.49 * RATE, 0.52 * RATE))).toBeLessThan(0.02);
  // What follows is the room that hears it, and no sound of its own.
  expect(level(left, 1.05, 1.2)).toBeLessThan(steps[3] / 3);
});

test('the stroke itself is struck where it was', () => {
  const click = oneLayer(COWBELL, Float32Array.of(0.5));
  const heard = (change: Partial<Hit>) => {
    const engine = engineWith(song(change), [click]);
    engine.play({ from: 0 });
    return bothSides(engine, 1.2).left;
  };
  expect(heard({ swell: 960 })).toEqual(heard({}));
});

test('every swell ends on its stroke, whatever its length and the tempo; its step stays that of the hit', () => {
  fc.assert(
    fc.property(
      fc.integer({ min: 0, max: 3839 }),
      fc.integer({ min: 60, max: 16 * 960 }),
      fc.integer({ min: 40, max: 300 }),
      (at, swell, bpm) => {
        const score = compileScore({ ...bareSong([struck('cowbell', at, 0, { swell })]), bpm });
        const i = score.notes.indexOf(swellOf(COWBELL));
        const hit = score.notes.indexOf(COWBELL);
        const [lasts, , , reversed] = score.touches.subarray((score.touch[i] - 1) * 6);
        const seconds = (tick: number) => (tick * 60) / bpm / 960;
        expect(reversed).toBe(1);
        expect(lasts).toBeLessThanOrEqual(LONGEST_SWELL);
        expect(score.ticks[i]).toBeGreaterThanOrEqual(0);
        if (at > 0) expect(seconds(score.ticks[i]) + lasts).toBeCloseTo(seconds(at), 4);
        expect(score.homes[i]).toBe(score.homes[hit]);
      },
    ),
  );
});
