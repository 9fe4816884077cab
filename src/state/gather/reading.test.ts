import {
  type HandedFile,
  type Progress,
  type ReadingResult,
  readFiles,
} from '@/storage/library/readFiles';
import * as library from '@/storage/library/library';
import type { Groove } from '@/core/library';
import { receiveFile } from '../session/files';
import { useGather } from './gather';
import * as reading from './reading';
import { useReading } from './reading';
import { initial, useWorkbench } from '../store';

jest.mock('@/storage/library/readFiles');
jest.mock('@/storage/library/library');
jest.mock('../session/files', () => ({
  receiveFile: jest.fn(),
  receiveSongFile: async () => false,
}));

const progress: Progress = { done: 2, total: 2, fresh: 2, duplicates: 0, unread: 0, unchanged: 0 };
const row = (id: string) => ({ id, name: id, family: 'pier' }) as Groove;
const file = (name: string) => new File(['x'], name);
const said = () => useWorkbench.getState().notices.at(-1)?.message;

/** A worker that is led by hand. */
let handed: readonly HandedFile[];
let tell: (progress: Progress, rows: Groove[]) => void;
let end: (result: ReadingResult) => void;
let fail: (error: Error) => void;
const worker = { pause: jest.fn(), resume: jest.fn(), cancel: jest.fn() };

beforeEach(() => {
  jest.useFakeTimers();
  jest.clearAllMocks();
  useWorkbench.setState({ ...initial, status: 'ready', stage: 'gather' });
  useGather.setState({
    ...useGather.getInitialState(),
    status: 'ready',
    grooves: [row('shipped/a')],
  });
  useReading.setState({ name: undefined, progress: undefined, report: undefined, paused: false });
  jest.mocked(readFiles).mockImplementation((files, told) => {
    handed = files;
    tell = told;
    const result = new Promise<ReadingResult>((done, failed) => {
      [end, fail] = [done, failed];
    });
    return { ...worker, result };
  });
});
afterEach(() => jest.useRealTimers());

const settle = () => jest.advanceTimersByTimeAsync(1000);
const listed = () => useGather.getState().grooves.map(({ id }) => id);

test('rows are listed while files are read, and the report comes at the end', async () => {
  void reading.readLoose([file('a.mid'), file('b.mid'), file('cover.png')]);
  await settle();
  expect(handed.map(({ path }) => path)).toEqual(['a.mid', 'b.mid']);
  expect(library.saveJob).toHaveBeenCalledWith({ id: 'reading', name: 'a.mid', total: 2 });
  tell({ ...progress, done: 1 }, [row('own/a')]);
  expect(useReading.getState().progress?.done).toBe(1);
  await settle();
  expect(listed()).toEqual(['shipped/a', 'own/a']);
  tell(progress, [row('own/b')]);
  end({ progress, problems: [], unlisted: [] });
  await settle();
  expect(listed()).toEqual(['shipped/a', 'own/a', 'own/b']);
  const { report, name } = useReading.getState();
  expect([report?.progress, name]).toEqual([progress, undefined]);
  expect(library.endJob).toHaveBeenCalled();
  reading.closeReport();
  expect(useReading.getState().report).toBeUndefined();
});

test('is paused, goes on, and is given up', async () => {
  void reading.readLoose([file('a.mid')]);
  await settle();
  reading.pauseReading();
  expect([useReading.getState().paused, worker.pause]).toEqual([true, expect.any(Function)]);
  expect(worker.pause).toHaveBeenCalledTimes(1);
  reading.pauseReading();
  expect(worker.resume).toHaveBeenCalledTimes(1);
  reading.cancelReading();
  expect(worker.cancel).toHaveBeenCalledTimes(1);
  end({ progress, problems: [], unlisted: [] });
  await settle();
});

test('one folder at a time, and a folder without anything is said', async () => {
  void reading.readLoose([file('a.mid')]);
  await settle();
  void reading.readLoose([file('b.mid')]);
  await settle();
  expect(said()).toMatch(/Another folder is being read/);
  end({ progress, problems: [], unlisted: [] });
  await settle();
  void reading.readLoose([file('cover.png')]);
  await settle();
  expect(said()).toMatch(/holds no MIDI files, tablature or zips/);
});

test('a reading that breaks off keeps what it brought, and says how to go on', async () => {
  void reading.readLoose([file('a.mid'), file('b.mid')]);
  await settle();
  tell({ ...progress, done: 1 }, [row('own/a')]);
  fail(new Error('the worker is gone'));
  await settle();
  expect(said()).toMatch(/broke off.*read the folder again to go on/);
  expect(listed()).toEqual(['shipped/a', 'own/a']);
  expect(useReading.getState()).toMatchObject({ name: undefined, report: undefined });
});

test('a reading that a reload cut short is found, and left when that is wished', async () => {
  jest.mocked(library.openJob).mockResolvedValue({ id: 'reading', name: 'pier', total: 9 });
  await reading.findUnfinished();
  expect(useReading.getState().unfinished?.name).toBe('pier');
  await reading.dismissUnfinished();
  expect(useReading.getState().unfinished).toBeUndefined();
  expect(library.endJob).toHaveBeenCalled();
});

test('one’s own files leave the library, the shipped ones stay, and all of it can be put back', async () => {
  useGather.setState({ grooves: [row('shipped/a'), row('own/a')] });
  const own = { grooves: [row('own/a')], files: [], sources: [] };
  jest.mocked(library.forgetOwn).mockResolvedValueOnce(own);
  await reading.forgetOwn();
  expect(listed()).toEqual(['shipped/a']);
  const { action } = useWorkbench.getState().notices.at(-1)!;
  expect(action?.label).toBe('put them back');
  action!.run();
  await settle();
  expect(library.remember).toHaveBeenCalledWith(own);
  expect(listed()).toEqual(['shipped/a', 'own/a']);
});

test('a folder that is dropped is a library, wherever one is, and its files know where in it they lie', async () => {
  useWorkbench.setState({ stage: 'shape' });
  const one = Object.assign(file('one.mid'), { path: './cove/deep/one.mid' });
  void reading.receiveFiles([one]);
  await settle();
  expect(handed.map(({ path }) => path)).toEqual(['cove/deep/one.mid']);
  expect(useReading.getState().name).toBe('cove');
  end({ progress, problems: [], unlisted: [] });
  await settle();
  expect(receiveFile).not.toHaveBeenCalled();
});

test('a single MIDI file outside of Gather is a song; several, or a zip, are a library', async () => {
  useWorkbench.setState({ stage: 'shape' });
  await reading.receiveFiles([file('song.mid')]);
  expect(receiveFile).toHaveBeenCalledTimes(1);
  void reading.receiveFiles([file('a.zip')]);
  await settle();
  expect(handed.map(({ path }) => path)).toEqual(['a.zip']);
  end({ progress, problems: [], unlisted: [] });
  await settle();
  expect(receiveFile).toHaveBeenCalledTimes(1);
});
