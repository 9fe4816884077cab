import 'fake-indexeddb/auto';
import { fileOf } from '@/core/testing/arbitraries';
import { emptySong } from '@/core/model';
import { db } from '@/storage/db';
import { readInto } from '@/storage/library/reading';
import * as gather from './gather';
import { useGather } from './gather';
import { openNoteMap, readFamilyThrough, useNoteMap } from './noteMaps';
import { useWorkbench } from '../store';
import { openBench } from '../testing';

jest.mock('@/workers');

const low = fileOf(
  [24, 30, 26, 9].map((note, i) => ({ tick: i * 96, note, velocity: 90, duration: 9, channel: 9 })),
  { ppq: 96 },
);
const found = (path: string) => ({ path, size: 1, modified: 1, bytes: async () => low });
const said = () => useWorkbench.getState().notices.at(-1)?.message;
const dialog = () => useWorkbench.getState().dialog;
const [pieces, through] = [
  () => useGather.getState().grooves[0].pieces,
  () => useGather.getState().grooves[0].through,
];

beforeEach(async () => {
  openBench(emptySong('s', 'Song', 'p'), { stage: 'gather' });
  await Promise.all([db().grooves.clear(), db().sources.clear(), db().noteMaps.clear()]);
  const calm = { go: async () => {}, cancelled: () => false, begin: () => {}, tell: () => {} };
  await readInto(db(), [found('quay/low.mid')], calm);
  const grooves = await db().grooves.toArray();
  useGather.setState({ ...useGather.getInitialState(), status: 'ready', grooves }, true);
});

test('counts the notes of the folder and says which map seems to fit', async () => {
  await gather.chooseGroove(useGather.getState().grooves[0].id, false);
  await openNoteMap();
  const { family, files, counts, guess } = useNoteMap.getState();
  expect([dialog(), family, files, guess]).toEqual(['note map', 'quay', 1, 'octave-lower']);
  expect([counts![24], counts![9], counts![36]]).toEqual([1, 1, 0]);
});

test('reads the folder again as it is told, keeps the choice, and guesses again', async () => {
  const [{ id }] = useGather.getState().grooves;
  await gather.chooseGroove(id, false);
  await openNoteMap();
  await readFamilyThrough({ map: 'octave-lower', changes: { 9: 56 } });
  expect(pieces()).toContain('cowbell');
  expect([dialog(), said()]).toEqual([
    undefined,
    expect.stringMatching(/“quay” was read again: 1 groove\./),
  ]);
  expect(gather.chosenPattern()?.strands.map(({ piece }) => piece)).toContain('kick');

  await openNoteMap();
  await readFamilyThrough(undefined);
  expect(pieces()).toEqual(['hihat', 'snare', 'kick', 'note-9']);
  expect(through()).toEqual({ map: 'octave-lower' });
  expect(useGather.getState().grooves[0].id).toBe(id);
});

test('is for one’s own files alone', async () => {
  await openNoteMap();
  expect([dialog(), said()]).toEqual([undefined, expect.stringMatching(/for your own files/)]);
});
