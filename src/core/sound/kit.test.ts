import { CHARACTER_IDS, DEFAULT_KIT, noteOf, type FilterSetting } from '../model';
import { Biquad, coefficients, filtered } from './biquad';
import { synthesise } from './kit';
import { between, seeded } from '../random';

const RATE = 16_000;

const energy = (samples: Float32Array) => samples.reduce((sum, x) => sum + x * x, 0);
/** The largest sample of a sound and a share of another; not a number where one of them is none. */
function peak(samples: Float32Array, other: Float32Array = new Float32Array(0), share = 0) {
  let top = 0;
  for (let i = 0; i < samples.length; i++) {
    const size = Math.abs(samples[i] + (i < other.length ? share * other[i] : 0));
    if (!(size <= top)) top = size;
  }
  return top;
}

/** Seconds until a sound stays below a hundredth of its peak. */
function ring(samples: Float32Array): number {
  const limit = peak(samples) / 100;
  return samples.findLastIndex((x) => Math.abs(x) > limit) / RATE;
}

/** The strokes of a note: the samples of their two layers. */
const strokesOf = (note: number, rate = RATE, seed = 1) =>
  synthesise(note, rate, 'warm', seed).zones[0].alternates.map(([b, edge]) => ({
    body: b.left,
    edge: edge.left,
  }));

const body = (piece: string, articulation = '') => strokesOf(noteOf(piece, articulation))[0].body;

describe('the computed kit', () => {
  const notes = DEFAULT_KIT.pieces.flatMap((piece) =>
    piece.articulations.map((a) => [a.note, piece.name]),
  );

  test.each(notes)(
    'note %i, %s, has four strokes that sound, start at once and die away',
    (note) => {
      const alternates = strokesOf(note as number);
      expect(alternates).toHaveLength(4);
      for (const { body: b, edge } of alternates) {
        for (const layer of [b, edge]) {
          expect(Number.isFinite(peak(layer))).toBe(true);
          expect(Math.abs(layer[layer.length - 1])).toBeLessThan(0.01);
        }
        for (const share of [0.3, 1]) {
          expect(peak(b, edge, share)).toBeLessThanOrEqual(1);
        }
        const audible = peak(b) / 10;
        const onset = b.findIndex((x) => Math.abs(x) > audible);
        expect(onset / RATE).toBeLessThan(0.06);
      }
    },
  );

  test('is the same for the same seed and another for another', () => {
    expect(synthesise(38, RATE, 'warm', 3)).toEqual(synthesise(38, RATE, 'warm', 3));
    expect(strokesOf(38, RATE, 3)[0].body).not.toEqual(strokesOf(38, RATE, 4)[0].body);
  });

  test.each(CHARACTER_IDS)('is whole in the kit “%s”', (character) => {
    for (const note of [36, 38, 41, 42, 49, 51]) {
      const [[b, e]] = synthesise(note, RATE, character).zones[0].alternates;
      expect(peak(b.left, e.left, 1)).toBeGreaterThan(0.1);
      expect(peak(b.left, e.left, 1)).toBeLessThanOrEqual(1);
    }
  });

  test('has six kicks that are not alike', () => {
    const kicks = CHARACTER_IDS.map((id) =>
      ring(synthesise(36, RATE, id).zones[0].alternates[0][0].left),
    );
    expect(new Set(kicks).size).toBe(CHARACTER_IDS.length);
  });

  test('rings as the pieces do: open hats longer than closed, crashes longer than splashes', () => {
    expect(ring(body('hihat', 'open'))).toBeGreaterThan(3 * ring(body('hihat', 'closed')));
    expect(ring(body('crash'))).toBeGreaterThan(1.5 * ring(body('splash')));
    expect(ring(body('triangle', 'open'))).toBeGreaterThan(3 * ring(body('triangle', 'muted')));
  });

  test('is tuned as a kit is: each tom lower than the one before it', () => {
    const toms = ['high', 'hi-mid', 'low-mid', 'low', 'high-floor', 'low-floor'];
    const pitches = toms.map((tom) => {
      const samples = body(`tom-${tom}`).subarray(RATE * 0.08, RATE * 0.3);
      let crossings = 0;
      for (let i = 1; i < samples.length; i++) {
        if (samples[i - 1] < 0 && samples[i] >= 0) crossings++;
      }
      return crossings / (samples.length / RATE);
    });
    expect(pitches).toEqual([...pitches].sort((a, b) => b - a));
    expect(new Set(pitches.map(Math.round)).size).toBe(toms.length);
  });

  test('only hats choke hats', () => {
    const choke = (id: string) =>
      DEFAULT_KIT.pieces.find((piece) => piece.id === id)!.articulations.map((a) => a.choke);
    const hats = choke('hihat');
    expect(new Set(hats).size).toBe(1);
    expect(hats[0]).toBeGreaterThan(0);
    for (const id of ['kick', 'snare', 'crash', 'ride']) expect(choke(id)).not.toContain(hats[0]);
  });

  test('has a sound for a note outside General MIDI, higher for a higher note', () => {
    expect(energy(strokesOf(28)[0].body)).toBeGreaterThan(0);
    expect(strokesOf(20)[0].body).not.toEqual(strokesOf(28)[0].body);
  });
});

describe('filters', () => {
  /** What is left of a sine after a filter, once it has settled. */
  function gainAt(setting: FilterSetting, frequency: number): number {
    const sine = Float32Array.from({ length: RATE }, (_, i) =>
      Math.sin((2 * Math.PI * frequency * i) / RATE),
    );
    return peak(filtered(sine, setting, RATE).subarray(RATE / 2));
  }

  test('let pass and hold back what they say', () => {
    const low: FilterSetting = { kind: 'lowpass', frequency: 500, q: 0.707 };
    const high: FilterSetting = { kind: 'highpass', frequency: 500, q: 0.707 };
    expect(gainAt(low, 50)).toBeCloseTo(1, 1);
    expect(gainAt(low, 5000)).toBeLessThan(0.02);
    expect(gainAt(high, 5000)).toBeCloseTo(1, 1);
    expect(gainAt(high, 50)).toBeLessThan(0.02);
    // At its corner a filter of this q is 3 dB down.
    expect(gainAt(low, 500)).toBeCloseTo(Math.SQRT1_2, 1);
  });

  test('raise and cut by their gain in decibels', () => {
    const bell: FilterSetting = { kind: 'peak', frequency: 1000, q: 1, gain: 6 };
    expect(gainAt(bell, 1000)).toBeCloseTo(10 ** (6 / 20), 1);
    expect(gainAt({ ...bell, gain: -6 }, 1000)).toBeCloseTo(10 ** (-6 / 20), 1);
    expect(gainAt({ kind: 'highshelf', frequency: 1000, q: 0.7, gain: -12 }, 7000)).toBeCloseTo(
      10 ** (-12 / 20),
      1,
    );
    expect(gainAt({ kind: 'bandpass', frequency: 1000, q: 2 }, 1000)).toBeCloseTo(1, 1);
  });

  test('two in one pass are the two one after the other', () => {
    const random = seeded(9);
    const noise = Float32Array.from({ length: 500 }, () => between(random, -1, 1));
    const [a, b] = [200, 3000].map((frequency) =>
      coefficients({ kind: 'peak', frequency, q: 1, gain: 4 }, RATE),
    );
    const apart = noise.slice();
    new Biquad(a).process(apart, 0, 500);
    new Biquad(b).process(apart, 0, 500);
    const [left, right] = [new Float32Array(500), new Float32Array(500)];
    const [first, second] = [new Biquad(a), new Biquad(b)];
    for (const [from, to] of [
      [0, 200],
      [200, 500],
    ]) {
      const part = noise.slice(from, to);
      const sides = [left.subarray(from, to), right.subarray(from, to)] as const;
      first.placeWith(second, part, ...sides, 1, 0.5, to - from);
      expect(part.every((x) => x === 0)).toBe(true);
    }
    left.forEach((x, i) => expect(x).toBeCloseTo(apart[i], 5));
    right.forEach((x, i) => expect(x).toBeCloseTo(apart[i] / 2, 5));
  });
});

test('a seeded source repeats and fills its range evenly', () => {
  const [a, b] = [seeded(7), seeded(7)];
  const values = Array.from({ length: 1000 }, () => a());
  expect(values).toEqual(Array.from({ length: 1000 }, () => b()));
  expect(values.every((x) => x >= 0 && x < 1)).toBe(true);
  expect(values.reduce((sum, x) => sum + x, 0) / 1000).toBeCloseTo(0.5, 1);
});
