import fc from 'fast-check';
import { barTicks, clickTicks, isMeter } from './meter';
import { STEP_RATES } from './steps';
import { tempoMap } from './tempo';

const anyTempo = fc
  .array(fc.record({ at: fc.nat(20_000), bpm: fc.double({ min: 20, max: 400, noNaN: true }) }), {
    maxLength: 6,
  })
  .map((changes) => [
    { at: 0, bpm: 120 },
    ...[...new Map(changes.filter((c) => c.at > 0).map((c) => [c.at, c])).values()].sort(
      (a, b) => a.at - b.at,
    ),
  ]);

test('ticks to seconds and back is the same tick, through any changes of tempo', () => {
  fc.assert(
    fc.property(anyTempo, fc.nat(40_000), (changes, tick) => {
      const map = tempoMap(changes);
      expect(map.tickAt(map.secondsAt(tick))).toBeCloseTo(tick, 4);
    }),
  );
});

test('time never runs backwards', () => {
  fc.assert(
    fc.property(anyTempo, fc.nat(40_000), fc.nat(500), (changes, tick, more) => {
      const map = tempoMap(changes);
      expect(map.secondsAt(tick + more)).toBeGreaterThanOrEqual(map.secondsAt(tick));
    }),
  );
});

test('at 120 a bar of four lasts two seconds, and at half the tempo from there on four', () => {
  const map = tempoMap([
    { at: 0, bpm: 120 },
    { at: 3840, bpm: 60 },
  ]);
  expect([map.secondsAt(3840), map.secondsAt(7680)]).toEqual([2, 6]);
  expect([map.bpmAt(3839), map.bpmAt(3840)]).toEqual([120, 60]);
});

test('the click counts simple meters by beats and compound ones by dotted beats', () => {
  expect(clickTicks({ beats: 4, unit: 4 })).toEqual([0, 960, 1920, 2880]);
  expect(clickTicks({ beats: 7, unit: 8 })).toHaveLength(7);
  expect(clickTicks({ beats: 12, unit: 8 })).toEqual([0, 1440, 2880, 4320]);
  expect(clickTicks({ beats: 3, unit: 4 })).toHaveLength(3);
});

test('a triplet step goes three times into what its straight step goes into twice', () => {
  for (const { name, ticks } of STEP_RATES.filter((rate) => rate.name.endsWith('triplet'))) {
    const straight = STEP_RATES.find((rate) => rate.name === name.split(' ')[0])!;
    expect(ticks * 3).toBe(straight.ticks * 2);
  }
});

test('meters that cannot be counted are none', () => {
  expect([0, 3.5, 65].map((beats) => isMeter({ beats, unit: 4 }))).toEqual([false, false, false]);
  expect(isMeter({ beats: 4, unit: 3 })).toBe(false);
  expect(barTicks({ beats: 15, unit: 16 })).toBe(3600);
});
