import fc from 'fast-check';
import {
  bendReaching,
  designOf,
  DEFAULT_KIT,
  redesigned,
  struckAs,
  type SampleLayer,
} from '../model';
import { peak, RATE } from '../testing/engine';
import { designed, type Pcm } from './designed';
import { synthesise } from './kit';
import { resampled } from './resample';
import { levelOfFile, outlineOf, spreadFiles } from './spread';

const TOM = 45;
const HASH = 'e'.repeat(64);
const sine = (hertz: number, seconds: number) =>
  Float32Array.from(
    { length: seconds * RATE },
    (_, i) => 0.5 * Math.sin((2 * Math.PI * hertz * i) / RATE),
  );
const files = new Map<string, Pcm>([[HASH, { left: sine(440, 0.5) }]]);
const layer: SampleLayer = {
  id: 'l',
  from: 'files',
  name: 'a.wav',
  level: 1,
  tune: 0,
  velocities: [1, 127],
  files: [{ hash: HASH, name: 'a.wav', velocities: [1, 127] }],
  start: 0,
  fadeIn: 0,
  fadeOut: 0,
};
const of = (design: Parameters<typeof redesigned>[1], sound = 38) => {
  const pieces = DEFAULT_KIT.pieces.map((piece) =>
    piece.articulations.some(({ note }) => note === sound) ? redesigned(piece, design) : piece,
  );
  return designed(designOf({ ...DEFAULT_KIT, pieces }, sound), RATE, files);
};
/** How often samples rise through zero, in hertz. */
function crossings(samples: Float32Array, rate: number): number {
  const rises = samples.reduce((n, x, i) => (i > 0 && samples[i - 1] < 0 && x >= 0 ? n + 1 : n), 0);
  return (rises * rate) / samples.length;
}
/** The strokes that are heard at a velocity. */
const struck = (sound: ReturnType<typeof designed>, velocity: number) =>
  sound.zones.find(({ velocities: [from, to] }) => velocity >= from && velocity <= to)!.alternates;

test('a piece that nothing is designed of has the sound of its kit, sample for sample', () => {
  expect(of({})).toEqual(synthesise(38, RATE));
});

test('tuning moves every partial by the same ratio, and what is resampled keeps its level', () => {
  for (const cents of [-1200, -500, 700]) {
    const out = resampled(sine(440, 0.5), 2 ** (cents / 1200));
    const middle = out.subarray(2000, out.length - 2000);
    expect(crossings(middle, RATE)).toBeCloseTo(440 * 2 ** (cents / 1200), -1);
    expect(peak(middle)).toBeCloseTo(0.5, 2);
  }
  const [usual, lower] = [of({}, TOM), of({ tune: -1200 }, TOM)].map(
    (one) => struck(one, 100)[0][0],
  );
  expect(lower.left.length / usual.left.length).toBeCloseTo(2, 1);
});

test('damping shortens the ring and leaves the attack', () => {
  const [usual, damped] = [of({}, TOM), of({ damping: 0.8 }, TOM)].map(
    (one) => struck(one, 100)[0][0].left,
  );
  const early = (samples: Float32Array) => peak(samples.subarray(0, RATE / 200));
  const late = (samples: Float32Array) => peak(samples.subarray(RATE / 4));
  expect(early(damped) / early(usual)).toBeGreaterThan(0.8);
  expect(late(damped) / late(usual)).toBeLessThan(0.1);
});

test('a file is one more layer, at its velocities only, and alone where the piece is bare', () => {
  const both = of({ layers: [{ ...layer, velocities: [100, 127] }] });
  expect(struck(both, 90)[0]).toHaveLength(2);
  expect(struck(both, 110)[0]).toHaveLength(3);
  expect(struck(both, 110)[3][2].left).toEqual(files.get(HASH)!.left);
  const alone = of({ bare: true, layers: [layer] });
  expect(struck(alone, 64)).toHaveLength(1);
  expect(struck(alone, 64)[0]).toHaveLength(1);
});

test('a file that is missing is silent, and the rest of the piece is heard', () => {
  const gone = { ...layer, files: [{ ...layer.files[0], hash: 'f'.repeat(64) }] };
  expect(struck(of({ layers: [gone] }), 100)[0]).toHaveLength(2);
  expect(struck(of({ bare: true, layers: [gone] }), 100)[0]).toEqual([]);
});

test('what of a file is heard: from, to, backwards, faded, dying away', () => {
  const heard = (change: Partial<SampleLayer>) =>
    struck(of({ bare: true, layers: [{ ...layer, ...change }] }), 100)[0][0].left;
  const { left } = files.get(HASH)!;
  expect(heard({ start: 1000, end: 3000 })).toEqual(left.slice(1000, 3000));
  expect(heard({ start: 3000, end: 1000 })).toHaveLength(0);
  expect(heard({ reverse: true })).toEqual(left.slice().reverse());
  expect(Math.abs(heard({ fadeIn: 0.1, fadeOut: 0.1 })[0])).toBe(0);
  expect(peak(heard({ fadeOut: 0.1 }).subarray(-100))).toBeLessThan(0.02);
  expect(peak(heard({ decay: 0.2 }).subarray(0.2 * RATE)) / 0.5).toBeLessThan(0.0011);
  expect(peak(heard({ lowpass: 44 }).subarray(RATE / 10))).toBeLessThan(0.02);
});

test('zones of any layers are all velocities, each once', () => {
  const range = fc.tuple(fc.integer({ min: 1, max: 127 }), fc.integer({ min: 1, max: 127 }));
  fc.assert(
    fc.property(fc.array(range, { maxLength: 4 }), fc.boolean(), (ranges, bare) => {
      const layers = ranges.map((velocities, i) => ({ ...layer, id: `${i}`, velocities }));
      const { zones } = of({ bare: bare || undefined, layers, alternates: 1 }, 60);
      let next = 1;
      for (const { velocities } of zones) {
        expect(velocities[0]).toBe(next);
        next = velocities[1] + 1;
      }
      expect(next).toBe(128);
      for (const [from, to] of ranges) {
        if (from <= to) expect(struck({ note: 60, zones }, from)[0].length).toBeGreaterThan(0);
      }
    }),
  );
});

test('a response rises with velocity, from its floor to the hardest', () => {
  const numbers = fc.record({
    floor: fc.integer({ min: 1, max: 127 }),
    bend: fc.double({ min: -1, max: 1, noNaN: true }),
  });
  fc.assert(
    fc.property(numbers, fc.integer({ min: 1, max: 126 }), (design, velocity) => {
      expect(struckAs(1, design)).toBeCloseTo(design.floor, 9);
      expect(struckAs(127, design)).toBeCloseTo(127, 9);
      expect(struckAs(velocity + 1, design)).toBeGreaterThanOrEqual(struckAs(velocity, design));
    }),
  );
  // The bend for a wanted stroke reaches it.
  for (const wanted of [40, 64, 100]) {
    expect(struckAs(64, { bend: bendReaching(64, wanted, 1) })).toBeCloseTo(wanted, 0);
  }
  expect(struckAs(64, { bend: 0 })).toBeCloseTo(64, 9);
  expect(struckAs(64, { bend: 0.5 })).toBeGreaterThan(80);
});

test('recordings of about one level take turns, and louder ones are harder strokes', () => {
  const spread = spreadFiles([
    { hash: 'c', name: 'hard.wav', level: -3 },
    { hash: 'a', name: 'soft 10.wav', level: -30 },
    { hash: 'b', name: 'soft 2.wav', level: -29 },
  ]);
  expect(spread.map(({ name, velocities }) => [name, ...velocities])).toEqual([
    ['soft 2.wav', 1, 64],
    ['soft 10.wav', 1, 64],
    ['hard.wav', 65, 127],
  ]);
  expect(levelOfFile(sine(1000, 0.2), RATE)).toBeCloseTo(-9.03, 1);
  expect(levelOfFile(new Float32Array(0), RATE)).toBeLessThan(-100);
});

test('an outline holds the highest and the lowest of each stretch', () => {
  const outline = outlineOf(Float32Array.of(0.1, -0.9, 0.5, 0.2), 2);
  expect([...outline].map((x) => Math.round(x * 10) / 10)).toEqual([0.1, -0.9, 0.5, 0]);
});
