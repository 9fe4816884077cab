import fc from 'fast-check';
import { heardAt, TRIPLET_SWING } from '../pattern';
import { notationOf } from '../notation';
import { seeded } from '../random';
import { fileOf, type FileNote } from '../testing/arbitraries';
import { COMMON_TIME, type Meter, type Ticks } from '../time';
import { importMidi } from './import';
import { stepsOf } from './steps';

const BEAT = 960;

/** The step of each of some strokes, and the swing. */
function found(ticks: readonly Ticks[], meter: Meter = COMMON_TIME) {
  const sorted = [...ticks].sort((a, b) => a - b);
  const notes = { ticks: Float64Array.from(sorted), notes: new Uint8Array(sorted.length).fill(42) };
  const stretch = { start: 0, end: 1e9, bars: 1e5, meter };
  const { homes, swing } = stepsOf(notes, { from: 0, to: sorted.length }, stretch, 120);
  return { homes: [...homes], swing };
}

/** Strokes as hands play them: off by up to some ticks. */
const played = (ticks: readonly Ticks[], by: Ticks, seed = 1) => {
  const random = seeded(seed);
  return ticks.map((tick) => Math.max(0, tick + (2 * random() - 1) * by));
};

const everySlot = (slots: number, beats: number, start = 0) =>
  Array.from({ length: slots * beats }, (_, i) => start + (i * BEAT) / slots);

test('each beat has the division it was played in, whatever the others have', () => {
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom(2, 3, 4, 5, 6, 8), { minLength: 1, maxLength: 12 }),
      fc.nat(),
      (divisions, seed) => {
        const steps = divisions.flatMap((slots, beat) => everySlot(slots, 1, beat * BEAT));
        expect(found(steps).homes).toEqual(steps);
        // Half a stroke of 32nds is 60 ticks: hands stray by less.
        const { homes } = found(played(steps, 14, seed));
        homes.forEach((home, i) => expect(home).toBeCloseTo(steps[i], 6));
      },
    ),
  );
});

test('straight eighths and sixteenths that are played are straight, and do not swing', () => {
  fc.assert(
    fc.property(fc.constantFrom(1, 2, 4), fc.nat(), (slots, seed) => {
      const steps = everySlot(slots, 32);
      const { homes, swing } = found(played(steps, 40, seed));
      expect(swing).toBeUndefined();
      expect(homes).toEqual(steps);
    }),
  );
});

test('a shuffle with one roll of 32nds swings, on straight eighths, and the roll is a roll', () => {
  const shuffle = Array.from({ length: 31 }, (_, beat) => [beat * BEAT, beat * BEAT + 640]).flat();
  const roll = everySlot(8, 1, 31 * BEAT);
  const { homes, swing } = found([...shuffle, ...roll]);
  expect(swing).toEqual({ unit: 480, percent: TRIPLET_SWING });
  expect(homes).toEqual([...everySlot(2, 31), ...roll]);
});

test('a note in the middle of a shuffled beat makes a triplet of that beat', () => {
  const shuffle = Array.from({ length: 16 }, (_, beat) => [beat * BEAT, beat * BEAT + 640]).flat();
  const { homes, swing } = found([...shuffle, 3 * BEAT + 320]);
  expect(swing).toEqual({ unit: 480, percent: TRIPLET_SWING });
  expect(homes.slice(4, 10)).toEqual([1920, 2400, 2880, 3200, 3520, 3840]);
});

test('sixteenths swing by as much as they are played late', () => {
  const steps = everySlot(4, 16);
  const late = steps.map((step, i) => (i % 2 ? step + 38 : step));
  const { homes, swing } = found(played(late, 8));
  expect(homes).toEqual(steps);
  expect(swing?.unit).toBe(240);
  expect(swing?.percent).toBeCloseTo(50 + (50 * 38) / 240, -0.5);
});

test('in 12/8 the triplet is the beat’s own, and nothing swings', () => {
  const meter = { beats: 12, unit: 8 };
  const steps = Array.from({ length: 16 }, (_, beat) => [beat * 1440, beat * 1440 + 960]).flat();
  expect(found(played(steps, 20), meter)).toEqual({ homes: steps, swing: undefined });
});

test('four bars of triplets in a file of sixteenths are triplets on paper, and sound as they did', () => {
  const bar = 4 * 480;
  const hats = (n: number, slots: number) =>
    Array.from({ length: slots }, (_, i): FileNote => ({
      tick: n * bar + (i * bar) / slots,
      note: 42,
      velocity: 90,
      duration: 20,
      channel: 9,
    }));
  const notes = [...Array(8).keys()].flatMap((n) => hats(n, n < 4 ? 16 : 12));
  const { song } = importMidi(fileOf(notes, { ppq: 480 }), 'mixed.mid');
  const values = notationOf(song!).bars.map(({ voices }) =>
    voices.hands.map(({ base, tuplet }) => (tuplet ? `${tuplet.actual}:${base}` : `${base}`)),
  );
  for (const bars of values.slice(0, 4)) expect(bars).toEqual(Array(16).fill('16'));
  for (const bars of values.slice(4)) expect(bars).toEqual(Array(12).fill('3:8'));
  const [pattern] = song!.patterns;
  const heard = pattern.strands.flatMap(({ hits }) => hits.map((hit) => heardAt(pattern, hit)));
  expect(heard.map(Math.round)).toEqual(notes.map(({ tick }) => 2 * tick));
});
