import 'fake-indexeddb/auto';
import { onsetsOf } from '@/core/loops';
import { checkSong, noteOf, samplesOf, type KitPiece } from '@/core/model';
import { seeded } from '@/core/random';
import { hashOfSound } from '@/core/sound';
import { chainOf, FIRST_DYNAMICS, stripOf } from '@/core/tracks';
import { demoSongs } from '@/demo';
import { onsetsAside } from '@/workers';
import { setPlatform, platform } from '../platform';
import { commitGesture, undo } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import * as chain from './chain';
import * as loop from './loop';
import * as numbers from './numbers';
import * as pieces from './pieces';
import { loadFiles } from './samples';
import { ALL_DRUMS } from './slice';

jest.mock('@/storage/songs');
jest.mock('@/workers');

/** Files as a browser would decode them: what a test says is in them. */
const decoded = new Map<string, Float32Array>();
jest.mock('@/audio/decode', () => ({
  SOUND_FILES: ['.wav'],
  isSoundFile: () => true,
  decodeSound: async (_: ArrayBuffer, name: string) => {
    const left = decoded.get(name);
    return left ? { left, hash: await hashOfSound({ left }) } : `“${name}” is no sound.`;
  },
}));

const RATE = 48_000;
const [demo] = demoSongs();
const bench = () => useWorkbench.getState();
const said = () => bench().notices.at(-1)?.message;
const piece = (id: string): KitPiece => openSongNow().kit.pieces.find((one) => one.id === id)!;
const saved: { content: string; name: string }[] = [];

beforeAll(() =>
  setPlatform({
    ...platform,
    saveFile: (content, name) => void saved.push({ content: content as string, name }),
  }),
);
beforeEach(() => {
  decoded.clear();
  openBench(demo, { stage: 'balance', trackId: 'snare' });
});
afterEach(() => expect(checkSong(openSongNow())).toEqual([]));

describe('the chain of what is chosen', () => {
  const now = () => chainOf(openSongNow(), bench().trackId === ALL_DRUMS ? undefined : 'snare');

  test('holds back, drives and goes dry beside the drum bus in steps, and takes each out again', () => {
    chain.toggleDynamics();
    expect(now().dynamics).toEqual(FIRST_DYNAMICS);
    chain.stepThreshold(-3);
    expect(now().dynamics?.threshold).toBe(FIRST_DYNAMICS.threshold - 3);
    chain.toggleDynamics();
    expect(now().dynamics).toBeUndefined();
    for (let i = 0; i < 30; i++) chain.stepDrive(0.05);
    expect(now().drive).toBe(1);
    for (let i = 0; i < 30; i++) chain.stepDrive(-0.05);
    expect(now().drive).toBeUndefined();
    chain.flipTrack();
    chain.stepDry(0.1);
    const strip = () => stripOf(openSongNow(), 'snare');
    expect(strip()).toMatchObject({ flip: true, dry: 0.1 });
    chain.flipTrack();
    expect(strip().flip).toBeUndefined();
  });

  test('has a tone that a drag moves from where it was when the drag began', () => {
    chain.slideTone('snare', 'mid', { gain: 4 });
    chain.slideTone('snare', 'mid', { frequency: 900 });
    // The second step of the drag does not build on the first.
    expect(now().tone?.mid).toMatchObject({ frequency: 900, gain: 0 });
    chain.flatTone();
    expect(now().tone).toBeUndefined();
  });

  test('is that of all drums where they are chosen', () => {
    useWorkbench.setState({ trackId: ALL_DRUMS });
    const before = now().drive ?? 0;
    chain.stepDrive(0.1);
    expect(now().drive).toBeCloseTo(before + 0.1, 5);
    chain.stepDry(0.1);
    expect(said()).toMatch(/choose a track first/);
  });
});

describe('a piece', () => {
  test('is tuned, damped and choked with keys, within what it can be', () => {
    for (let i = 0; i < 60; i++) pieces.stepTune(50);
    expect(piece('snare').design?.tune).toBe(2400);
    pieces.setDesign(piece('snare'), { tune: 0 });
    expect(piece('snare').design).toBeUndefined();
    pieces.stepDamping(0.3);
    expect(piece('snare').design?.damping).toBe(0.3);
    pieces.nextChoke();
    expect(piece('snare').articulations.every(({ choke }) => choke === 1)).toBe(true);
    expect(said()).toBe('Snare: choke group 1.');
  });

  test('is set together with its family where that is wanted', () => {
    useWorkbench.setState({ trackId: 'tom-high' });
    pieces.toggleFamily();
    pieces.stepTune(-100);
    const toms = openSongNow().kit.pieces.filter(({ family }) => family === 'toms');
    expect(toms.length).toBeGreaterThan(3);
    for (const { design } of toms) expect(design).toEqual({ tune: -100 });
    expect(piece('snare').design).toBeUndefined();
    pieces.setChoke(piece('tom-high'), 3);
    pieces.slidePiece(piece('tom-high'), { level: 0.5 });
    commitGesture();
    pieces.slidePiece(piece('tom-high'), { pan: -0.9 });
    commitGesture();
    const now = toms.map(({ id }) => piece(id));
    for (const { level, articulations } of now) {
      expect([level, articulations[0].choke]).toEqual([0.5, 3]);
    }
    expect(now.filter(({ pan }) => pan === -0.9).map(({ id }) => id)).toEqual(['tom-high']);
  });

  test('has every sound of its family in every kit, gone round with the keys', () => {
    const sounds = pieces.soundsFor(piece('snare'));
    expect(new Set(sounds.map(({ name }) => name)).size).toBe(sounds.length);
    for (let i = 0; i < sounds.length; i++) pieces.stepSound(1);
    expect(piece('snare').design).toBeUndefined();
    pieces.stepSound(-1);
    expect(pieces.soundNow(piece('snare'), sounds)).toBe(sounds.length - 1);
  });

  test('gets layers, and its own sound is off and on again', () => {
    pieces.addLayer();
    const [layer] = piece('snare').design!.layers!;
    pieces.setLayer(piece('snare'), { ...layer, level: 0.25, velocities: [90, 127] });
    expect(piece('snare').design!.layers).toEqual([
      { ...layer, level: 0.25, velocities: [90, 127] },
    ]);
    pieces.toggleOwn(piece('snare'));
    expect(piece('snare').design?.bare).toBe(true);
    pieces.toggleOwn(piece('snare'));
    pieces.removeLayer();
    expect(piece('snare').design).toBeUndefined();
    pieces.removeLayer();
    expect(said()).toBe('Snare has no layers.');
  });

  test('plays files by their level, in one step of undo; what is no sound is said', async () => {
    decoded.set('soft.wav', new Float32Array(4800).fill(0.05));
    decoded.set('hard.wav', new Float32Array(4800).fill(0.8));
    const files = ['hard.wav', 'soft.wav', 'note.wav'].map((name) => new File(['x'], name));
    await loadFiles('snare', files, 'sound');
    const { design } = piece('snare');
    expect(design?.bare).toBe(true);
    const [layer] = design!.layers!;
    expect(layer).toMatchObject({
      files: [
        { name: 'soft.wav', velocities: [1, expect.any(Number)] },
        { name: 'hard.wav', velocities: [expect.any(Number), 127] },
      ],
    });
    expect(samplesOf(openSongNow().kit)).toHaveLength(2);
    expect(bench().notices.some(({ message }) => message === '“note.wav” is no sound.')).toBe(true);
    undo();
    expect(openSongNow()).toBe(demo);
  });

  test('that plays files and is given another sound plays the other only', async () => {
    decoded.set('one.wav', new Float32Array(4800).fill(0.3));
    decoded.set('two.wav', new Float32Array(4800).fill(0.4));
    const names = () =>
      piece('snare').design?.layers?.flatMap((layer) => (layer.from === 'files' ? layer.name : []));
    await loadFiles('snare', [new File(['x'], 'one.wav')], 'sound');
    await loadFiles('snare', [new File(['x'], 'two.wav')], 'sound');
    expect(names()).toEqual(['two.wav']);
    expect(piece('snare').design?.bare).toBe(true);
    const sounds = pieces.soundsFor(piece('snare'));
    pieces.chooseSound(piece('snare'), sounds[1]);
    expect(names()).toBeUndefined();
    expect(pieces.soundNow(piece('snare'), sounds)).toBe(1);
    undo();
    expect(names()).toEqual(['two.wav']);
    // A layer beside its own sound stays where the own sound becomes another.
    pieces.chooseSound(piece('snare'), sounds[0]);
    await loadFiles('snare', [new File(['x'], 'one.wav')], 'layer');
    pieces.chooseSound(piece('snare'), sounds[1]);
    expect(names()).toEqual(['one.wav']);
  });
});

describe('the note map', () => {
  const snare = { piece: 'snare', articulation: 'centre' };
  const note = () => noteOf('snare', 'centre', openSongNow().noteMap, openSongNow().kit);

  test('is chosen, changed by number and learnt from what is struck', () => {
    numbers.setNote(snare, 61);
    expect(note()).toBe(61);
    numbers.learn(snare);
    numbers.learn(snare);
    expect(numbers.learnNote(70)).toBe(false);
    numbers.learn(snare);
    expect(numbers.learnNote(70)).toBe(true);
    expect([note(), openSongNow().noteMap.reads?.[70]]).toEqual([61, 'snare/centre']);
    undo();
    undo();
    expect(note()).toBe(38);
  });

  test('goes out as a file and comes back the same', async () => {
    numbers.setNote(snare, 61);
    for (const form of ['txt', 'csv', 'midnam'] as const) {
      numbers.saveNumbers(form);
      const { content, name } = saved.at(-1)!;
      expect(name.endsWith(`.${form}`)).toBe(true);
      expect(name).not.toMatch(/\.\./);
      numbers.setNote(snare, 38);
      setPlatform({ ...platform, chooseOne: async () => new File([content], name) });
      await numbers.loadNumbers();
      expect(note()).toBe(61);
    }
  });
});

describe('a recorded loop', () => {
  /** Two bars of 4/4 at 120: a stroke on each beat. */
  function beats(): Float32Array {
    const random = seeded(3);
    const samples = new Float32Array(4 * RATE);
    for (let beat = 0; beat < 8; beat++)
      for (let i = 0; i < RATE / 2; i++)
        samples[beat * (RATE / 2) + i] = 0.8 * (random() - 0.5) * Math.exp(-i / 1500);
    return samples;
  }

  beforeEach(async () => {
    (onsetsAside as jest.Mock).mockImplementation(async (...told: Parameters<typeof onsetsOf>) =>
      onsetsOf(...told),
    );
    decoded.set('shed.wav', beats());
    await loop.sliceFile(new File(['x'], 'shed.wav'));
  });

  test('is cut at its strokes; bars and tempo are guessed, and follow each other', () => {
    const { slices, bars, bpm, dialog } = { ...bench().slicing!, dialog: bench().dialog };
    expect(dialog).toBe('slice');
    expect(slices).toHaveLength(8);
    expect([bars, Math.round(bpm)]).toEqual([2, 120]);
  });

  test('is corrected by hand: marks are moved, added and taken away', () => {
    const froms = () => bench().slicing!.slices.map(({ from }) => from / RATE);
    loop.moveMark(1, 0.6);
    expect(froms()[1]).toBeCloseTo(0.6, 3);
    loop.addMark(0.75);
    expect(froms()).toHaveLength(9);
    loop.removeMark(2);
    expect(froms()).toHaveLength(8);
  });

  test('that is no sound is said, and nothing is opened', async () => {
    useWorkbench.setState({ slicing: undefined, dialog: undefined });
    await loop.sliceFile(new File(['x'], 'letter.wav'));
    expect(said()).toBe('“letter.wav” is no sound.');
    expect(bench().slicing).toBeUndefined();
  });
});
