import 'fake-indexeddb/auto';
import { findStrand } from '@/core';
import { demoSongs } from '@/demo';
import { db } from '@/storage/db';
import { listSongs, loadSong, saveSong } from '@/storage/songs';
import { edit, undo } from './edit';
import * as session from './session';
import { openSongNow, useWorkbench } from '../store';
import { dismissNotice } from '../notices/notices';

jest.mock('@/workers');

const [demo] = demoSongs();

beforeEach(async () => {
  await session.closeSong();
  await Promise.all([db().heads.clear(), db().bodies.clear()]);
  await saveSong(demo);
  useWorkbench.setState({ notices: [] });
});
afterAll(async () => {
  await session.closeSong();
  db().close();
});

const notices = () => useWorkbench.getState().notices;
const stored = async (id: string) => {
  const read = await loadSong(id);
  return 'song' in read ? read.song : undefined;
};

describe('opening', () => {
  test('shows the song as it is stored, with nothing to undo', async () => {
    await session.openSong(demo.id);
    expect(useWorkbench.getState().status).toBe('ready');
    expect(openSongNow()).toEqual(demo);
    undo();
    expect(openSongNow()).toEqual(demo);
  });

  test('a song that is not there says so and leaves nothing half open', async () => {
    await session.openSong('nowhere');
    expect(useWorkbench.getState()).toMatchObject({
      status: 'problem',
      problem: expect.stringContaining('not in this browser'),
    });
    expect(useWorkbench.getState().history).toBeUndefined();
  });

  test('another song saves the first one before it goes', async () => {
    await session.openSong(demo.id);
    edit({ type: 'rename song', name: 'Kelp' });
    const other = await session.newSong();
    await session.openSong(other);
    expect((await stored(demo.id))?.name).toBe('Kelp');
    expect(openSongNow().name).toBe('New song');
    expect(useWorkbench.getState().selection).toEqual([]);
  });
});

describe('saving', () => {
  test('an edit is in storage within half a second, and undo is too', async () => {
    await session.openSong(demo.id);
    const before = findStrand(demo.patterns[0], 'kick')!.hits;
    const ids = before.map((hit) => hit.id);
    edit({ type: 'remove hits', pattern: demo.patterns[0].id, ids });
    await new Promise((later) => setTimeout(later, 500));
    expect(findStrand((await stored(demo.id))!.patterns[0], 'kick')!.hits).toEqual([]);
    undo();
    await new Promise((later) => setTimeout(later, 500));
    expect(await stored(demo.id)).toEqual(demo);
  });

  test('opening a song does not write it', async () => {
    const [{ changed }] = await listSongs();
    await session.openSong(demo.id);
    await session.closeSong();
    expect((await listSongs())[0].changed).toBe(changed);
  });
});

describe('the list', () => {
  test('a duplicate is a song of its own', async () => {
    const id = (await session.duplicateSong(demo.id))!;
    expect(id).not.toBe(demo.id);
    const copy = (await stored(id))!;
    expect(copy).toEqual({ ...demo, id, name: `${demo.name}, copy` });
  });

  test('a renamed song keeps everything else', async () => {
    await session.renameSong(demo.id, 'Tar');
    expect(await stored(demo.id)).toEqual({ ...demo, name: 'Tar' });
  });

  test('a song that is still open is renamed where it is, and keeps its name when opened again', async () => {
    await session.openSong(demo.id);
    await session.renameSong(demo.id, 'Tar');
    await session.openSong(demo.id);
    expect(openSongNow().name).toBe('Tar');
    expect((await stored(demo.id))?.name).toBe('Tar');
  });

  test('a song that is still open does not come back by itself once it is deleted', async () => {
    await session.openSong(demo.id);
    await session.deleteSong(demo.id);
    await session.openSong(demo.id);
    expect(useWorkbench.getState().status).toBe('problem');
    expect(await listSongs()).toEqual([]);
  });

  test('a deleted song is brought back by the notice’s undo', async () => {
    await session.deleteSong(demo.id);
    expect(await listSongs()).toEqual([]);
    const [notice] = notices();
    expect(notice.action?.label).toBe('undo');
    notice.action!.run();
    await new Promise((later) => setTimeout(later, 50));
    expect(await stored(demo.id)).toEqual(demo);
    dismissNotice(notice.id);
    expect(notices()).toEqual([]);
  });

  test('restoring the demo opens it anew where it was open', async () => {
    await session.openSong(demo.id);
    edit({ type: 'rename song', name: 'Mine now' });
    await session.restoreDemo();
    expect(openSongNow()).toEqual(demo);
    expect(notices()[0].message).toContain('as they were shipped');
  });
});

test('a song that cannot be stored lives on in the tab, and that is said', async () => {
  const put = jest
    .spyOn(db().bodies, 'put')
    .mockRejectedValue(new DOMException('', 'QuotaExceededError'));
  const id = await session.newSong();
  expect(useWorkbench.getState().unsaved).toMatchObject([
    { song: { id }, why: expect.stringContaining('full') },
  ]);
  await session.openSong(id);
  expect(openSongNow().name).toBe('New song');
  edit({ type: 'rename song', name: 'Kelp' });
  put.mockRestore();
  await session.saveNow();
  expect(useWorkbench.getState()).toMatchObject({ unsaved: [], saving: { state: 'saved' } });
  expect((await stored(id))?.name).toBe('Kelp');
});
