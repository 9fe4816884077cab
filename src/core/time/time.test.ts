import fc from 'fast-check';
import { barTicks, clickTicks, isMeter } from './meter';
import { barAt, barNumber, ticksOfBars } from './bars';
import { STEP_RATES } from './steps';
import { swungBy } from './swing';
import { compileTempo, TempoMap, type TempoChange } from './tempo';

const tempoMap = (changes: readonly TempoChange[]) => new TempoMap(compileTempo(changes));

const anyTempo = fc
  .array(
    fc.record({
      at: fc.nat(20_000),
      bpm: fc.double({ min: 20, max: 400, noNaN: true }),
      glide: fc.constantFrom(true as const, undefined),
    }),
    { maxLength: 6 },
  )
  .map((changes): TempoChange[] => [
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

test('a glide from one tempo to another takes the time of the tempos it passes through', () => {
  const map = tempoMap([
    { at: 0, bpm: 60, glide: true },
    { at: 3840, bpm: 120 },
  ]);
  expect(map.bpmAt(1920)).toBeCloseTo(90, 9);
  // The sum of many short steps, each at its own tempo.
  let seconds = 0;
  for (let tick = 0; tick < 3840; tick++) seconds += 60 / (960 * (60 + (60 * (tick + 0.5)) / 3840));
  expect(map.secondsAt(3840)).toBeCloseTo(seconds, 5);
  expect(map.secondsAt(4800)).toBeCloseTo(seconds + 0.5, 5);
});

test('bars are counted through changes of meter inside a stretch', () => {
  const meters = [
    { bar: 0, meter: { beats: 4, unit: 4 } },
    { bar: 2, meter: { beats: 7, unit: 8 } },
  ];
  expect(ticksOfBars(meters, 3)).toBe(2 * 3840 + 3360);
  fc.assert(
    fc.property(fc.nat(40), fc.nat(3000), (bar, more) => {
      const { start } = barNumber(meters, bar);
      expect(barAt(meters, start).bar).toBe(bar);
      expect(barAt(meters, start + more).start).toBe(start);
    }),
  );
});

test('every bar swings alike, and a last note without a partner is straight', () => {
  const swing = { percent: 64, unit: 480 };
  for (const at of [480, 720, 1440, 3000]) {
    expect(swungBy(at + 3360, swing, 3360)).toBe(swungBy(at, swing, 3360));
  }
  expect(swungBy(480, swing, 3360)).toBeCloseTo(134.4, 6);
  expect(swungBy(2880, swing, 3360)).toBe(0);
  expect(swungBy(3120, swing, 3360)).toBe(0);
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
