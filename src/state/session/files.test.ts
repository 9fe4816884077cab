import { importMidi, type Imported } from '@/core/midi';
import { fileOf } from '@/core/testing/arbitraries';
import { demoSongs } from '@/demo';
import { importAside } from '@/workers';
import { platform, setPlatform } from '../platform';
import { undo } from './edit';
import * as files from './files';
import { addSong } from './session';
import { openSongNow, useWorkbench } from '../store';
import { openBench } from '../testing';

jest.mock('@/workers');
jest.mock('./session', () => ({ addSong: jest.fn(async () => 'new-id') }));

const [song] = demoSongs();
const state = () => useWorkbench.getState();
const said = () => state().notices.at(-1)?.message;
const cancel = jest.fn();
const saveFile = jest.fn();
setPlatform({ ...platform, saveFile });

beforeEach(() => {
  jest.clearAllMocks();
  openBench(song);
  jest.mocked(importAside).mockImplementation((bytes, name, options) => ({
    result: Promise.resolve(importMidi(bytes, name, options)),
    cancel,
  }));
});

const note = (tick: number, key: number, channel: number) => ({
  tick,
  note: key,
  velocity: 90,
  duration: 10,
  channel,
});
const twoParts = () =>
  new File(
    [fileOf([note(0, 36, 9), note(96, 38, 9), note(0, 40, 2)], { ppq: 96 }) as BlobPart],
    'sketch.mid',
  );

describe('a file that comes in', () => {
  test('is looked at before anything is changed, its drums chosen already', async () => {
    await files.receiveFile(twoParts());
    const { incoming } = state();
    expect(incoming?.reading).toBe(false);
    expect(incoming?.report?.sources.map(({ channel, taken }) => [channel, taken])).toEqual(
      expect.arrayContaining([
        [9, true],
        [2, false],
      ]),
    );
    expect(incoming?.report?.hits).toBe(2);
    expect(openSongNow()).toBe(song);
  });

  test('is read again with other parts', async () => {
    await files.receiveFile(twoParts());
    const all = state().incoming!.report!.sources.map(({ id }) => id);
    await files.askOfIncoming({ sources: all });
    expect(state().incoming?.report?.hits).toBe(3);
    await files.askOfIncoming({ notes: { map: 'octave-lower' } });
    expect(state().incoming?.report).toMatchObject({ hits: 3, through: { map: 'octave-lower' } });
  });

  test('has a guide as well as drums, and a part is never both', async () => {
    await files.receiveFile(twoParts());
    const { sources } = state().incoming!.report!;
    const bass = sources.find(({ channel }) => channel === 2)!;
    await files.askOfIncoming({ sources: sources.map(({ id }) => id) });
    await files.toggleIncomingGuide(bass.id);
    expect(state().incoming).toMatchObject({ guides: [bass.id], report: { hits: 2 } });
    await files.takeAsSong();
    expect(addSong).toHaveBeenLastCalledWith(
      expect.objectContaining({
        guides: [expect.objectContaining({ notes: [expect.anything()] })],
      }),
    );
  });

  test('becomes a song of its own, or patterns of the open one in one step', async () => {
    await files.receiveFile(twoParts());
    expect(await files.takeAsSong()).toBe('new-id');
    expect(addSong).toHaveBeenCalledWith(expect.objectContaining({ name: 'sketch' }));
    expect(state().incoming).toBeUndefined();

    await files.receiveFile(twoParts());
    files.takeAsPatterns();
    expect(openSongNow().patterns.length).toBe(song.patterns.length + 1);
    expect(state().patternId).toBe(openSongNow().patterns.at(-1)!.id);
    expect(said()).toMatch(/is on the shelf/);
    undo();
    expect(openSongNow()).toEqual(song);
  });

  test('that is put aside, or too large, or gone, changes nothing', async () => {
    await files.receiveFile(twoParts());
    files.dropIncoming();
    expect(state().incoming).toBeUndefined();
    await files.receiveFile({ name: 'huge.mid', size: 1e9 } as File);
    expect(state().incoming?.report?.error).toMatch(/huge\.mid” is \d+ MB/);
    files.dropIncoming();
    const gone = { name: 'gone.mid', size: 9, arrayBuffer: () => Promise.reject(new Error('no')) };
    await files.receiveFile(gone as unknown as File);
    expect(said()).toMatch(/gone\.mid” could not be read/);
    expect(await files.takeAsSong()).toBeUndefined();
    expect(openSongNow()).toBe(song);
  });

  test('that is never read to its end is given up after a minute, and named', async () => {
    jest.mocked(importAside).mockImplementationOnce(() => ({
      result: new Promise(() => {}),
      cancel,
    }));
    const file = twoParts();
    const bytes = await file.arrayBuffer();
    jest.useFakeTimers();
    const reading = files.receiveFile({
      name: file.name,
      size: file.size,
      arrayBuffer: async () => bytes,
    } as File);
    await jest.advanceTimersByTimeAsync(60_000);
    jest.useRealTimers();
    await reading;
    expect(state().incoming?.report?.error).toMatch(/takes longer than a minute/);
    expect(cancel).toHaveBeenCalled();
  });

  test('gives way to a file that comes while it is still read', async () => {
    let slow: (read: Imported) => void = () => {};
    jest.mocked(importAside).mockImplementationOnce(() => ({
      result: new Promise((done) => (slow = done)),
      cancel,
    }));
    const first = files.receiveFile(twoParts());
    await new Promise((later) => setTimeout(later));
    await files.receiveFile(new File([fileOf([note(0, 36, 9)], { ppq: 96 }) as BlobPart], 'b.mid'));
    expect(cancel).toHaveBeenCalled();
    slow(importMidi(new Uint8Array(), 'late.mid'));
    await first;
    expect(state().incoming?.name).toBe('b.mid');
  });
});
