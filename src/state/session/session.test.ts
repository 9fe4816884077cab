import 'fake-indexeddb/auto';
import { findStrand } from '@/core';
import { demoSongs } from '@/demo';
import { db } from '@/storage/db';
import { differenceOf } from '@/core/model';
import { TabChannel } from '@/storage/channel';
import * as storedSongs from '@/storage/songs';
import { listSongs, loadSong, saveSong } from '@/storage/songs';
import { commitGesture, edit, preview, undo } from './edit';
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
/** The kick of the first pattern as the database has it, without what the journal adds. */
const storedHits = async () => {
  const body = await db().bodies.get(demo.id);
  return body && findStrand(body.song.patterns[0], 'kick')!.hits;
};
const stored = async (id: string) => {
  const read = await loadSong(id);
  return 'song' in read ? read.song : undefined;
};

/** Looks again and again until what is seen is as it should be. */
const soon = async (look: () => void | Promise<void>) => {
  for (let tries = 0; ; tries++) {
    try {
      return await look();
    } catch (error) {
      if (tries > 2000) throw error;
      await new Promise((again) => setTimeout(again, 10));
    }
  }
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

  test('of a song that storage gives late: that is said, and it is shown when it comes', async () => {
    let comeLate!: () => void;
    const late = new Promise<void>((come) => (comeLate = come));
    const body = await db().bodies.get(demo.id);
    const slow = jest
      .spyOn(db().bodies, 'get')
      .mockImplementation((() => late.then(() => body)) as never);
    const opened = session.openSong(demo.id);
    await soon(() => expect(useWorkbench.getState().problem).toMatch(/does not answer/));
    comeLate();
    await opened;
    expect(useWorkbench.getState()).toMatchObject({ status: 'ready', problem: undefined });
    expect(openSongNow()).toEqual(demo);
    slow.mockRestore();
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
  test('an edit comes into storage by itself, and undo does too', async () => {
    await session.openSong(demo.id);
    const before = findStrand(demo.patterns[0], 'kick')!.hits;
    const ids = before.map((hit) => hit.id);
    edit({ type: 'remove hits', pattern: demo.patterns[0].id, ids });
    await soon(async () => {
      expect(await storedHits()).toEqual([]);
    });
    undo();
    await soon(async () => {
      expect(await storedHits()).toEqual(before);
    });
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
    await soon(async () => {
      expect(await stored(demo.id)).toEqual(demo);
    });
    dismissNotice(notice.id);
    expect(notices()).toEqual([]);
  });

  test('restoring the demo opens it anew where it was open', async () => {
    await session.openSong(demo.id);
    edit({ type: 'rename song', name: 'Mine now' });
    await session.restoreDemo();
    expect(openSongNow()).toEqual(demo);
    expect(notices()[0].message).toContain('as they were shipped');
    notices()[0].action!.run();
    await soon(async () => {
      expect((await stored(demo.id))?.name).toBe('Mine now');
      expect(openSongNow().name).toBe('Mine now');
    });
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

describe('another tab', () => {
  /** The line of a tab beside this one. */
  let line: TabChannel;
  let end: () => void;
  beforeEach(() => {
    line = new TabChannel();
    end = session.hearOtherTabs();
  });
  afterEach(() => {
    end();
    line.close();
  });
  test('that looks on gets each change, and reads the song anew where it missed one', async () => {
    await session.openSong(demo.id);
    useWorkbench.setState({ readOnly: true });
    const { n } = (await loadSong(demo.id)) as { n: number };
    const named = (name: string) => differenceOf({ name: '' }, { name })!;
    line.tell({ says: 'changed', id: demo.id, n: n + 1, difference: named('one') });
    await soon(() => expect(openSongNow().name).toBe('one'));
    line.tell({ says: 'changed', id: demo.id, n: n + 1, difference: named('late') });
    line.tell({ says: 'changed', id: 'other', n: n + 2, difference: named('other') });
    line.tell({ says: 'changed', id: demo.id, n: n + 5, difference: named('after a gap') });
    await soon(() => expect(openSongNow().name).toBe(demo.name));
  });

  test('that sends what no song can be is not followed', async () => {
    await session.openSong(demo.id);
    useWorkbench.setState({ readOnly: true });
    const difference = { fields: { bpm: { is: -1 } } };
    line.tell({ says: 'changed', id: demo.id, n: 1e6, difference });
    line.tell({ says: 'changed', id: demo.id, n: 1, difference });
    line.tell({ says: 'nonsense', id: demo.id } as never);
    await new Promise((later) => setTimeout(later, 50));
    await soon(() => expect(openSongNow()).toEqual(demo));
  });

  test('asks for another name, and it is given as a step of undo', async () => {
    await session.openSong(demo.id);
    line.tell({ says: 'rename', id: demo.id, name: 'Kelp' });
    await soon(() => expect(openSongNow().name).toBe('Kelp'));
    undo();
    expect(openSongNow().name).toBe(demo.name);
  });

  test('deletes the song: it is shown, not changed, and brought back only when asked', async () => {
    await session.openSong(demo.id);
    edit({ type: 'rename song', name: 'Kelp' });
    await session.saveNow();
    await storedSongs.deleteSong(demo.id);
    line.tell({ says: 'deleted', id: demo.id });
    await soon(() => expect(useWorkbench.getState().readOnly).toBe(true));
    await session.saveNow();
    expect(await listSongs()).toEqual([]);
    expect(useWorkbench.getState()).toMatchObject({ readOnly: true, gone: true });
    await session.bringOpenBack();
    await soon(async () => expect((await stored(demo.id))?.name).toBe('Kelp'));
    await soon(() => expect(useWorkbench.getState()).toMatchObject({ readOnly: false }));
  });

  test('tells of a song that was put back: it is read anew', async () => {
    await session.openSong(demo.id);
    await saveSong({ ...demo, name: 'as it was' });
    line.tell({ says: 'replaced', id: demo.id });
    await soon(() => expect(openSongNow().name).toBe('as it was'));
  });
});

test('what is only tried out is not kept', async () => {
  await session.openSong(demo.id);
  preview([{ type: 'rename song', name: 'tried out' }], 'a name');
  expect(openSongNow().name).toBe('tried out');
  await session.saveNow();
  expect((await stored(demo.id))?.name).toBe(demo.name);
  commitGesture();
  await session.saveNow();
  expect((await stored(demo.id))?.name).toBe('tried out');
});
