import 'fake-indexeddb/auto';
import { fileOf } from '@/core/testing/arbitraries';
import { emptySong } from '@/core/model';
import { db } from '@/storage/db';
import { readInto } from '@/storage/library/reading';
import * as gather from './gather';
import { useGather } from './gather';
import { openNoteMap, openNoteMapOf, readFamilyThrough, useNoteMap } from './noteMaps';
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
  const { family, files, counts, through: now } = useNoteMap.getState();
  expect([dialog(), family, files, now]).toEqual(['note map', 'quay', 1, { map: 'octave-lower' }]);
  const { drums, channels } = counts!;
  expect([drums[24], drums[9], drums[36], channels[9][24], channels[0][24]]).toEqual([
    1, 1, 0, 1, 0,
  ]);
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

test('a file whose drums are on another channel is listed once that is chosen', async () => {
  const calm = { go: async () => {}, cancelled: () => false, begin: () => {}, tell: () => {} };
  const beat = [36, 42, 38, 42];
  const notes = beat.map((note, i) => ({ tick: i * 96, note, velocity: 90, duration: 9 }));
  const bytes = fileOf(
    notes.map((note) => ({ ...note, channel: 2 })),
    { ppq: 96 },
  );
  const moved = { ...found('jetty/moved.mid'), bytes: async () => bytes };
  expect(await readInto(db(), [moved], calm)).toMatchObject({ fresh: 0, unread: 1 });

  await openNoteMapOf('jetty/moved.mid');
  const { family, files, counts } = useNoteMap.getState();
  expect([family, files]).toEqual(['jetty', 1]);
  expect([counts!.drums[36], counts!.channels[2][36]]).toEqual([0, 1]);
  await readFamilyThrough({ map: 'gm' });
  expect(said()).toMatch(/0 grooves\. In 1 file no drums were found/);

  await openNoteMapOf('jetty/moved.mid');
  await readFamilyThrough({ map: 'gm', channel: 2 });
  const row = useGather.getState().grooves.find((groove) => groove.family === 'jetty')!;
  const [pattern] = await gather.patternsOf(row.id);
  expect(pattern.strands.flatMap(({ piece, hits }) => hits.map(({ at }) => [piece, at]))).toEqual([
    ['hihat', 960],
    ['hihat', 2880],
    ['snare', 1920],
    ['kick', 0],
  ]);
  // The folder's choice is what the dialog begins with: choosing once more loses nothing of it.
  await openNoteMapOf('jetty/another.mid');
  expect(useNoteMap.getState().through).toEqual({ map: 'gm', channel: 2 });
  // It is read no more than once, and what comes later into the folder is read like it.
  const later = { ...moved, path: 'jetty/later.mid' };
  expect(await readInto(db(), [moved, later], calm)).toMatchObject({
    fresh: 0,
    unread: 0,
    unchanged: 1,
    duplicates: 1,
  });
});

test('is for one’s own files alone', async () => {
  await openNoteMap();
  expect([dialog(), said()]).toEqual([undefined, expect.stringMatching(/for your own files/)]);
});
