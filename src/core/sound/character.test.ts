import {
  alike,
  bandLevel,
  centroid,
  level,
  peaksPerKilohertz,
  share,
  t60,
  thirds,
} from '../testing/measures';
import { synthesise } from './kit';
import { gainOf, type KitSound } from './kitSound';

const RATE = 48_000;
const sounds = new Map<number, KitSound>();

/** One stroke of the usual kit, as the engine mixes its layers. */
function stroke(note: number, velocity = 127, alternate = 0): Float32Array {
  if (!sounds.has(note)) sounds.set(note, synthesise(note, RATE));
  const [body, edge] = sounds.get(note)!.zones[0].alternates[alternate];
  const [low, high] = [body, edge].map((layer) => gainOf(layer, velocity));
  return body.left.map((x, i) => low * x + high * (edge.left[i] ?? 0));
}

const [KICK, SNARE, TOM, CLOSED, PEDAL, OPEN, CRASH, RIDE] = [36, 38, 41, 42, 44, 46, 49, 51];
type Range = readonly [low: number, high: number];

/** What was measured of recordings of real drums, and must be so here too. */
const FACTS: readonly [says: string, measure: () => number, range: Range][] = [
  ['a kick is over soon: 50 to 200 ms beside its first 10, dB', () => falls(KICK), [-25, -12]],
  ['a kick has a shell: T60 at 1 kHz, s', () => t60(stroke(KICK), RATE, 1000), [0.12, 0.6]],
  ['a snare falls: 50 to 200 ms beside its first 10, dB', () => falls(SNARE), [-22, -15]],
  [
    'a snare is no hiss: its share above 8 kHz, dB',
    () => share(stroke(SNARE), RATE, [8000, 24_000], 0.01, 0.05),
    [-30, -14],
  ],
  ['a snare has a ring: T60 at 500 Hz, s', () => t60(stroke(SNARE), RATE, 500), [0.35, 0.9]],
  [
    'a tom is more than a tone: 600 to 2400 Hz in its tail, dB',
    () => share(stroke(TOM), RATE, [600, 2400], 0.05, 0.2),
    [-36, -20],
  ],
  ['a tom begins with the stick: centroid, Hz', () => onset(TOM, 0.05), [500, 2500]],
  [
    'a closed hat has a metal body: 200 to 2000 Hz, dB',
    () => share(stroke(CLOSED), RATE, [200, 2000], 0.01, 0.05),
    [-22, -8],
  ],
  ['a closed hat is short: T60 at 1 kHz, s', () => t60(stroke(CLOSED), RATE, 1000), [0.2, 0.4]],
  ['and so in its top: T60 at 8 kHz, s', () => t60(stroke(CLOSED), RATE, 8000), [0.2, 0.4]],
  [
    'a foot closes hats without a stick: 10 to 50 ms beside the first 10, dB',
    () => level(stroke(PEDAL), RATE, 0.01, 0.05) - level(stroke(PEDAL), RATE, 0, 0.01),
    [-1.5, 6],
  ],
  ['an open hat rings: T60 at 4 kHz, s', () => t60(stroke(OPEN), RATE, 4000), [2.5, 5]],
  [
    'and gets darker: late over early centroid',
    () => centroid(stroke(OPEN), RATE, 0.4, 0.7) / onset(OPEN, 0.05),
    [0.5, 0.8],
  ],
  ['a crash begins dark: centroid of its first 10 ms, Hz', () => onset(CRASH, 0.01), [1500, 3200]],
  [
    'and blooms: centroid from 50 to 200 ms beside that',
    () => centroid(stroke(CRASH), RATE, 0.05, 0.2) / onset(CRASH, 0.01),
    [1.6, 5],
  ],
  [
    'its shimmer comes later: 4 to 9 kHz, dB',
    () =>
      bandLevel(stroke(CRASH), RATE, [4000, 9000], 0.05, 0.2) -
      bandLevel(stroke(CRASH), RATE, [4000, 9000], 0, 0.01),
    [5, 16],
  ],
  [
    'and stays: 200 to 1000 ms beside its first 50, dB',
    () => level(stroke(CRASH), RATE, 0.2, 1) - level(stroke(CRASH), RATE, 0, 0.05),
    [-7.5, 0],
  ],
  ['a crash rings: T60 at 8 kHz, s', () => t60(stroke(CRASH), RATE, 8000), [3.3, 5]],
  ['a crash is dense: partials a kHz', () => peaksPerKilohertz(stroke(CRASH), RATE), [38, 90]],
  ['a ride is dense: partials a kHz', () => peaksPerKilohertz(stroke(RIDE), RATE), [50, 90]],
  ['hats are dense: partials a kHz', () => peaksPerKilohertz(stroke(OPEN), RATE), [50, 90]],
  ['a ride keeps its partials', () => alike(stroke(RIDE), RATE, [4000, 10_000]), [0.6, 1]],
  ['a crash is half noise', () => alike(stroke(CRASH), RATE, [4000, 10_000]), [0.25, 0.72]],
  [
    'a ride is a ping over a wash: early over late centroid',
    () => onset(RIDE, 0.05) / centroid(stroke(RIDE), RATE, 0.4, 0.7),
    [1.6, 3],
  ],
];

const onset = (note: number, to: number, velocity = 127) =>
  centroid(stroke(note, velocity), RATE, 0, to);
const falls = (note: number) =>
  level(stroke(note), RATE, 0.05, 0.2) - level(stroke(note), RATE, 0, 0.01);

test.each(FACTS)('%s', (_, measure, [low, high]) => {
  const value = measure();
  expect(value).toBeGreaterThanOrEqual(low);
  expect(value).toBeLessThanOrEqual(high);
});

const BRIGHTER: readonly [name: string, note: number, range: Range][] = [
  ['kick', KICK, [1.8, 3]],
  ['tom', TOM, [1.8, 3]],
  ['snare', SNARE, [2, 4]],
  ['crash', CRASH, [2, 3.5]],
  ['ride', RIDE, [1.3, 2]],
  ['closed hat', CLOSED, [1.1, 1.7]],
  ['open hat', OPEN, [1.1, 1.7]],
];

describe.each(BRIGHTER)('the %s', (_, note, [low, high]) => {
  test('is brighter the harder it is struck', () => {
    const centroids = [30, 60, 90, 127].map((velocity) => onset(note, 0.05, velocity));
    expect(centroids).toEqual([...centroids].sort((a, b) => a - b));
    const ratio = centroids[3] / centroids[0];
    expect(ratio).toBeGreaterThan(low);
    expect(ratio).toBeLessThan(high);
  });

  test('is 22 to 31 dB louder at 127 than at 30', () => {
    const range = level(stroke(note), RATE, 0, 0.5) - level(stroke(note, 30), RATE, 0, 0.5);
    expect(range).toBeGreaterThan(22);
    expect(range).toBeLessThan(31);
  });

  test('is never struck twice alike, and never quite differently', () => {
    const strokes = [0, 1, 2, 3].map((alternate) => stroke(note, 127, alternate));
    const levels = strokes.map((samples) => level(samples, RATE, 0, 0.5));
    const mean = levels.reduce((sum, x) => sum + x, 0) / 4;
    const spread = Math.sqrt(levels.reduce((sum, x) => sum + (x - mean) ** 2, 0) / 3);
    expect(spread).toBeGreaterThan(0.15);
    expect(spread).toBeLessThan(0.9);
    const heard = strokes.map((samples) => thirds(samples, RATE));
    for (const [i, one] of heard.entries()) {
      for (const other of heard.slice(i + 1)) {
        const apart = apartBy(one, other);
        expect(apart).toBeGreaterThan(0.9);
        expect(apart).toBeLessThan(4);
      }
    }
  });
});

/** How far two spectra are apart in what can be heard of them, in dB. */
function apartBy(one: readonly number[], other: readonly number[]): number {
  const heard = one.map((_, i) => i).filter((i) => one[i] > Math.max(...one) - 40);
  return heard.reduce((sum, i) => sum + Math.abs(one[i] - other[i]), 0) / heard.length;
}
