import { guideOf } from '../model';
import { layoutOf } from '../model';
import { compileScore, renderMix, routesOf } from '../engine';
import { exportMidi, importMidi } from '../midi';
import { applyCommand } from '../commands';
import { demoSongs } from '../../demo';
import { fileOf } from '../testing/arbitraries';
import { isPluck, pluckedString, pluckOf } from '../sound';
import { readGuides } from './read';

const [song] = demoSongs();
const line = (tick: number, note: number, channel = 1) => ({
  tick,
  note,
  velocity: 90,
  duration: 48,
  channel,
});

test('a part of a file is read at its ticks, drums last among the parts', () => {
  const bytes = fileOf([line(0, 36, 9), line(48, 40), line(96, 43)], { ppq: 96 });
  const read = readGuides(bytes, 'x.mid');
  expect(read.sources.map(({ channel }) => channel)).toEqual([1, 9]);
  expect(read.notesOf(read.sources[0].id)).toEqual([
    { at: 480, length: 480, note: 40, velocity: 90 },
    { at: 960, length: 480, note: 43, velocity: 90 },
  ]);
});

test('a file without notes, or no file, is said in words', () => {
  expect(readGuides(new Uint8Array([1, 2]), 'x.mid').error).toMatch(/x\.mid/);
  expect(readGuides(fileOf([], { ppq: 96 }), 'x.mid').error).toMatch(/holds no notes/);
});

const { guideLane } = routesOf(song.kit, layoutOf(song));

test('a guide is heard, mutes, and never gets into the drums', () => {
  const { notes, lanes } = compileScore(song);
  const heard = [...lanes].filter((lane) => lane === guideLane).length;
  expect(heard).toBeGreaterThan(100);
  expect([...notes].filter((_, i) => lanes[i] === guideLane).every(isPluck)).toBe(true);
  const id = song.guides[0].id;
  const muted = applyCommand(song, { type: 'change reference part', id, muted: true });
  expect([...compileScore(muted).lanes]).not.toContain(guideLane);
  const bare = applyCommand(song, { type: 'remove reference part', id });
  const options = { ppq: 960, layout: 'one' } as const;
  expect(exportMidi(song, options)).toEqual(exportMidi(bare, options));
  expect(importMidi(exportMidi(song, options), 'x').report.hits).toBe(
    importMidi(exportMidi(bare, options), 'x').report.hits,
  );
});

test('a guide sounds at its own place, and stops when its note ends', () => {
  const empty = { ...song, patterns: song.patterns.map((p) => ({ ...p, strands: [] })) };
  const note = { at: 0, length: 960, note: 45, velocity: 110 };
  const alone = { ...empty, guides: [guideOf('g', 'G', 960, [note])] };
  const { left, sampleRate } = renderMix(alone, { to: 3 });
  const beat = (60 / 104) * sampleRate;
  const peak = (from: number, to: number) =>
    Math.max(...left.subarray(Math.round(from), Math.round(to)).map(Math.abs));
  expect(peak(0, beat - 2)).toBe(0);
  expect(peak(beat, 1.5 * beat)).toBeGreaterThan(0.02);
  expect(peak(2.2 * beat, 3 * sampleRate)).toBeLessThan(0.002);
});

test.each([33, 45, 69])('a plucked string is in tune: note %i', (note) => {
  const rate = 48_000;
  const samples = pluckedString(pluckOf(note), rate);
  const period = rate / (440 * 2 ** ((note - 69) / 12));
  // The lag at which the sound is most like itself is its period.
  const likeness = (lag: number) => {
    let sum = 0;
    for (let i = 9600; i < 19_200; i++) sum += samples[i] * samples[i + lag];
    return sum;
  };
  const near = Array.from({ length: 9 }, (_, i) => Math.round(period) - 4 + i);
  const best = near.reduce((a, b) => (likeness(b) > likeness(a) ? b : a));
  expect(Math.abs(best - period)).toBeLessThanOrEqual(1.5);
});
