import { renderMix } from '../engine';
import { checkSong, findPattern, samplesOf, sectionOf, type Song } from '../model';
import { bareSong, BARE_BUS, peak, RATE, struck } from '../testing/engine';
import { timeline } from '../weave';
import { guessLength, onsetsOf, slicesAt, takeLoop, type SlicedLoop } from '.';

/** Two bars that someone played: kick, snare and hat, some of them late. */
const BPM = 97;
const PLAYED = [
  ...[0, 1440, 3840, 4800].map((at) => struck('kick', at, at === 1440 ? 14 : 0)),
  ...[960, 2880, 4801, 6720].map((at) =>
    struck('snare', at, 9, { velocity: at === 4801 ? 40 : 112 }),
  ),
  ...[480, 2400, 4320, 6240].map((at) => struck('hihat', at, -6, { velocity: 88 })),
].filter(({ hit }) => hit.at !== 4801);

function recorded(): Float32Array {
  const song = { ...bareSong(PLAYED), bpm: BPM };
  const seconds = (2 * 240) / BPM;
  return renderMix(song, { to: seconds }).left.subarray(0, Math.round(seconds * RATE));
}

const loop = recorded();
const marks = onsetsOf(loop, RATE, 0.1);
const HASH = 'b'.repeat(64);
const wanted = PLAYED.map(({ hit }) => ((hit.at + hit.push) / 960 / BPM) * 60).sort(
  (a, b) => a - b,
);

const taken = (change: Partial<SlicedLoop> = {}): SlicedLoop => {
  const { bars, bpm } = guessLength(marks, loop.length, RATE);
  const slices = slicesAt(loop, marks, bpm);
  return { id: 'loop', name: 'shed', hash: HASH, bars, bpm, slices, transcribed: false, ...change };
};

/** A song that is one pattern once, dry. */
function alone(song: Song, id: string, bpm: number): Song {
  const pattern = findPattern(song, id)!;
  return {
    ...song,
    bpm,
    sections: [sectionOf(pattern, { id: 'a', name: 'a', kind: 'verse' })],
    places: [{ id: 'x', section: 'a', overlay: [] }],
    mixes: song.mixes.map((mix) => ({ ...mix, drums: BARE_BUS })),
  };
}

test('every stroke is found within 4 ms, and none that is not there', () => {
  const found = marks.map((at) => at / RATE);
  expect(found).toHaveLength(wanted.length);
  found.forEach((at, i) => expect(Math.abs(at - wanted[i])).toBeLessThan(0.004));
  expect(onsetsOf(new Float32Array(RATE), RATE)).toEqual([]);
  expect(onsetsOf(new Float32Array(0), RATE)).toEqual([]);
});

test('a higher threshold finds no more strokes than a lower one', () => {
  const counts = [0, 0.3, 0.8].map((threshold) => onsetsOf(loop, RATE, threshold).length);
  expect([...counts].sort((a, b) => b - a)).toEqual(counts);
});

test('bars and tempo are guessed from where the strokes lie', () => {
  const { bars, bpm } = guessLength(marks, loop.length, RATE);
  expect(bars).toBe(2);
  expect(bpm).toBeCloseTo(BPM, 1);
  // The same a quarter faster.
  const faster = marks.map((at) => Math.round(at / 1.25));
  expect(guessLength(faster, loop.length / 1.25, RATE).bpm).toBeCloseTo(BPM * 1.25, 0);
});

test('slices are what was struck, softer ones at lower velocities', () => {
  const { slices } = taken();
  const kinds = slices.map(({ kind }) => kind).join(' ');
  expect(kinds).toBe('kick hat snare kick hat snare kick hat kick hat snare');
  expect(slices[0].from).toBe(0);
  slices.slice(1).forEach(({ from }, i) => expect(from).toBe(slices[i].to));
  expect(slices.at(-1)!.to).toBe(loop.length);
  const hardest = (kind: string) =>
    Math.max(...slices.filter((one) => one.kind === kind).map(({ velocity }) => velocity));
  expect(hardest('hat')).toBeLessThan(hardest('kick'));
});

test('its pattern renders the loop again, sample for sample at its own tempo', () => {
  const sliced = taken();
  const song = takeLoop(bareSong([]), sliced) as Song;
  expect(checkSong(song)).toEqual([]);
  expect(samplesOf(song.kit)).toEqual([HASH]);
  const files = new Map([[HASH, { left: loop }]]);
  const { left } = renderMix(alone(song, 'loop', sliced.bpm), { files, to: loop.length / RATE });
  const off = loop.reduce((most, x, i) => Math.max(most, Math.abs(x - left[i])), 0);
  expect(peak(loop)).toBeGreaterThan(0.3);
  expect(off).toBeLessThan(1e-5);
});

test('a transcription is played by the kit, and needs no file', () => {
  const song = takeLoop(bareSong([]), taken({ transcribed: true })) as Song;
  expect(samplesOf(song.kit)).toEqual([]);
  const pieces = new Set(timeline(alone(song, 'loop', BPM)).map(({ piece }) => piece));
  expect([...pieces].sort()).toEqual(['hihat', 'kick', 'snare']);
});

test('what cannot be taken is said, and changes nothing', () => {
  const song = bareSong([]);
  expect(takeLoop(song, taken({ slices: [] }))).toMatch(/no stroke/);
  const once = takeLoop(song, taken()) as Song;
  expect(takeLoop(once, taken())).toBe(once);
});
