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

function recorded(played = PLAYED): Float32Array {
  const song = { ...bareSong(played), bpm: BPM };
  const seconds = (2 * 240) / BPM;
  return renderMix(song, { to: seconds }).left.subarray(0, Math.round(seconds * RATE));
}

const loop = recorded();
const marks = onsetsOf(loop, RATE);
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

describe('two bars under a crash', () => {
  const bar = (at: number) => [
    ...[0, 1440, 1920].map((tick) => struck('kick', at + tick, 0, { velocity: 105 })),
    ...[960, 2880].map((tick) => struck('snare', at + tick, 0, { velocity: 108 })),
    ...[480, 960, 1440, 1920, 2400, 2880, 3360].map((tick) =>
      struck('hihat', at + tick, 0, { velocity: tick % 960 ? 70 : 88 }),
    ),
  ];
  const played = [struck('crash', 0, 0, { velocity: 110 }), ...bar(0), ...bar(3840)];
  const ghosts = [1680, 3600, 5520, 7440].map((at) => struck('snare', at, 0, { velocity: 32 }));
  const under = recorded(played);
  const withGhosts = recorded([...played.slice(1), ...ghosts]);
  const secondsOf = (at: number) => (at / 960 / BPM) * 60;
  const places = [...new Set(played.map(({ hit }) => hit.at))].sort((a, b) => a - b);
  const near = (found: readonly number[], at: number, off = 0.004) =>
    found.filter((one) => Math.abs(one / RATE - secondsOf(at)) < off);

  test('every stroke is found at the threshold that is there at first', () => {
    const found = onsetsOf(under, RATE);
    for (const at of places) expect(near(found, at)).toHaveLength(1);
    expect(found.length).toBeLessThanOrEqual(places.length + 1);
  });

  test('ghosts are found as well, the more the lower the threshold', () => {
    const counts = [0.5, 0.2, 0].map((threshold) => {
      const found = onsetsOf(withGhosts, RATE, threshold);
      return ghosts.filter(({ hit }) => near(found, hit.at, 0.012).length > 0).length;
    });
    expect([...counts].sort((a, b) => a - b)).toEqual(counts);
    expect(counts.at(-1)).toBeGreaterThanOrEqual(3);
  });

  test('the same stroke is of the same kind in both bars', () => {
    const slices = slicesAt(under, onsetsOf(under, RATE), BPM);
    const kindAt = (at: number) =>
      slices.find(({ from }) => Math.abs(from / RATE - secondsOf(at)) < 0.01)!.kind;
    const kinds = (from: number) =>
      [480, 960, 1440, 1920, 2400, 2880, 3360].map((at) => kindAt(from + at));
    expect(kinds(0)).toEqual(['hat', 'snare', 'kick', 'kick', 'hat', 'snare', 'hat']);
    expect(kinds(3840)).toEqual(kinds(0));
  });
});

test('a lower threshold finds all that a higher one does', () => {
  const found = [0, 0.3, 0.8].map((threshold) => onsetsOf(loop, RATE, threshold));
  expect(found[0]).toEqual(expect.arrayContaining(found[1]));
  expect(found[1]).toEqual(expect.arrayContaining(found[2]));
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
