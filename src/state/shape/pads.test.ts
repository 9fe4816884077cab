import { findStrand } from '@/core';
import { emptySong } from '@/core/model';
import { PPQ } from '@/core/time';
import { undo } from '../session/edit';
import * as pads from './pads';
import { initial, openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';
import * as transport from '../transport/transport';

jest.mock('@/storage/songs');
jest.mock('../transport/transport', () => ({
  strike: jest.fn(),
  playhead: jest.fn(() => 0),
  setHear: jest.fn(),
  play: jest.fn(),
}));

const STEP = PPQ / 4;
/** At 120 bpm. */
const TICKS_PER_MS = 1.92;

beforeEach(() => {
  jest.useFakeTimers();
  openBench(emptySong('s', 'Song', 'p'), {
    playing: true,
    audio: 'running',
    patternId: 'p',
    pads: { ...initial.pads, quantize: 100, latency: 0 },
  });
});
afterEach(() => {
  if (useWorkbench.getState().pads.recording) pads.toggleRecording();
  jest.useRealTimers();
});

const padOf = (piece: string) =>
  useWorkbench.getState().pads.sounds.findIndex((sound) => sound.piece === piece);
const hits = (piece: string) =>
  findStrand(openSongNow().patterns[0], piece)!.hits.map(({ at, push, velocity }) => ({
    at,
    push,
    velocity,
  }));
/** Lets the transport stand at a tick, and the page look where it is. */
const playTo = (tick: number) => {
  jest.mocked(transport.playhead).mockReturnValue(tick);
  jest.advanceTimersByTime(50);
};
const strike = (piece: string, tick: number, velocity = 90) => {
  playTo(tick);
  pads.strikePad(padOf(piece), velocity);
};

describe('what is played on the pads', () => {
  test('sounds, and is written down only while it is recorded', () => {
    strike('kick', 0);
    expect(transport.strike).toHaveBeenLastCalledWith('kick', expect.any(String), 90);
    expect(hits('kick')).toEqual([]);
    pads.toggleRecording();
    strike('kick', 10);
    expect(hits('kick')).toEqual([{ at: 0, push: 0, velocity: 90 }]);
  });

  test('is brought to its step as far as it is asked to be', () => {
    pads.toggleRecording();
    pads.setQuantizeIn(0);
    strike('kick', 4 * STEP + 30);
    pads.setQuantizeIn(50);
    strike('snare', 8 * STEP + 30);
    expect(hits('kick')).toEqual([{ at: 4 * STEP, push: 30, velocity: 90 }]);
    expect(hits('snare')).toEqual([{ at: 8 * STEP, push: 15, velocity: 90 }]);
  });

  test('belongs where it was struck, not where it arrived', () => {
    pads.toggleRecording();
    pads.setQuantizeIn(0);
    pads.setLatency(25);
    strike('kick', 4 * STEP + 25 * TICKS_PER_MS);
    expect(hits('kick')[0].at).toBe(4 * STEP);
    expect(Math.abs(hits('kick')[0].push)).toBeLessThanOrEqual(1);
  });

  test('a little early at the end of the loop belongs to its first step', () => {
    pads.toggleRecording();
    pads.setQuantizeIn(0);
    strike('kick', 4 * PPQ - 20);
    jest.advanceTimersByTime(1000);
    expect(hits('kick')).toEqual([{ at: 0, push: -20, velocity: 90 }]);
  });

  test('velocities stay within what MIDI has', () => {
    pads.toggleRecording();
    strike('kick', 0, 400);
    strike('snare', 0, 0);
    expect([hits('kick')[0].velocity, hits('snare')[0].velocity]).toEqual([127, 1]);
  });
});

test('click and count-in are what they were once recording ends', () => {
  useWorkbench.setState({ playing: false, click: false, countIn: true });
  pads.toggleRecording();
  expect(useWorkbench.getState()).toMatchObject({ click: true, countIn: true });
  pads.toggleRecording();
  expect(useWorkbench.getState()).toMatchObject({ click: false, countIn: true });
});

describe('a stroke just before recording stops', () => {
  test('is written down, though the playhead is not past its step yet', () => {
    pads.toggleRecording();
    strike('kick', 4 * STEP - 20);
    expect(hits('kick')).toEqual([]);
    pads.toggleRecording();
    expect(hits('kick').map(({ at }) => at)).toEqual([4 * STEP]);
    jest.advanceTimersByTime(1000);
    expect(hits('kick')).toHaveLength(1);
  });
});

describe('a pass of the loop', () => {
  test('that is still running is taken back by undo, and recording goes on', () => {
    pads.toggleRecording();
    strike('kick', 10);
    playTo(15 * STEP);
    playTo(20);
    strike('snare', 4 * STEP + 10);
    undo();
    expect([hits('kick').length, hits('snare').length]).toEqual([1, 0]);
    strike('snare', 8 * STEP + 10);
    pads.toggleRecording();
    expect([hits('kick').length, hits('snare').length]).toEqual([1, 1]);
  });

  test('is one step of undo, and the next pass another', () => {
    pads.toggleRecording();
    strike('kick', 10);
    strike('kick', 8 * STEP + 10);
    playTo(15 * STEP);
    playTo(20);
    strike('snare', 4 * STEP + 10);
    pads.toggleRecording();
    expect([hits('kick').length, hits('snare').length]).toEqual([2, 1]);
    undo();
    expect([hits('kick').length, hits('snare').length]).toEqual([2, 0]);
    undo();
    expect(hits('kick')).toEqual([]);
  });

  test('overdub adds; replace clears the rows that are played and no others', () => {
    pads.toggleRecording();
    strike('kick', 10);
    strike('snare', 4 * STEP + 10);
    pads.toggleRecording();
    pads.toggleRecordMode();
    playTo(0);
    pads.toggleRecording();
    strike('kick', 8 * STEP + 10);
    expect(hits('kick').map(({ at }) => at)).toEqual([8 * STEP]);
    expect(hits('snare').map(({ at }) => at)).toEqual([4 * STEP]);
    pads.toggleRecording();
    pads.toggleRecordMode();
    playTo(0);
    pads.toggleRecording();
    strike('kick', 2 * STEP + 10);
    expect(hits('kick').map(({ at }) => at)).toEqual([2 * STEP, 8 * STEP]);
  });
});

test('a song that another tab holds cannot be recorded into, and that is said', () => {
  useWorkbench.setState({ readOnly: true });
  pads.toggleRecording();
  expect(useWorkbench.getState().pads.recording).toBe(false);
  expect(useWorkbench.getState().notices.at(-1)?.message).toMatch(/nothing can be recorded/);
});

test('recording into silence starts the loop with click and count-in', () => {
  useWorkbench.setState({ playing: false });
  pads.toggleRecording();
  const { click, countIn } = useWorkbench.getState();
  expect([click, countIn]).toEqual([true, true]);
  expect(transport.play).toHaveBeenCalled();
});

test('a pad is given another sound, and closing the pads ends the recording', () => {
  pads.assignPad(0, 'cowbell', '');
  pads.strikePad(0, 80);
  expect(transport.strike).toHaveBeenLastCalledWith('cowbell', '', 80);
  pads.toggleRecording();
  pads.togglePads();
  const { open, recording } = useWorkbench.getState().pads;
  expect([open, recording]).toEqual([false, false]);
});

describe('a controller', () => {
  const note = (...data: number[]) => ({ data: Uint8Array.from(data), timeStamp: 0 });

  const allow = (navigator: object) =>
    Object.defineProperty(globalThis, 'navigator', { value: navigator, configurable: true });
  afterAll(() => allow({}));

  test('plays like the pads; note offs and other messages are not strokes', async () => {
    const input = { name: 'made-up pads', onmidimessage: (_: unknown) => {} };
    const inputs = new Map([['a', input]]);
    allow({ requestMIDIAccess: async () => ({ inputs }) });
    await pads.connectController();
    expect(useWorkbench.getState().pads.controller).toBe('made-up pads');
    pads.toggleRecording();
    playTo(10);
    for (const message of [
      note(0x99, 38, 101),
      note(0x99, 38, 0),
      note(0x89, 38, 64),
      note(0xb9, 7, 9),
    ]) {
      input.onmidimessage(message);
    }
    expect(hits('snare')).toEqual([{ at: 0, push: 0, velocity: 101 }]);
  });

  test('that is not allowed, or not known to the browser, is said in words', async () => {
    allow({ requestMIDIAccess: () => Promise.reject(new Error('no')) });
    await pads.connectController();
    expect(useWorkbench.getState().notices.at(-1)?.message).toMatch(/was not allowed/);
    allow({ requestMIDIAccess: undefined });
    await pads.connectController();
    expect(useWorkbench.getState().notices.at(-1)?.message).toMatch(/cannot listen/);
  });
});
