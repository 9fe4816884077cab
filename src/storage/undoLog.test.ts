import 'fake-indexeddb/auto';
import fc from 'fast-check';
import { applyCommand } from '@/core';
import { advance, newHistory, redo, undo, type History } from '@/core/commands';
import { anySong } from '@/core/testing/arbitraries';
import { anyCommand } from '@/core/testing/commands';
import { LoomDb } from './db';
import { keepPoint, listPoints, putBackPoint, removePoint, remarkPoint } from './savePoints';
import { UndoLog } from './undoLog';

let at: LoomDb;
let count = 0;
beforeEach(() => {
  at = new LoomDb(`undo-${++count}`);
});
afterEach(() => at.delete());

const labels = ({ past, future }: History) => [
  past.map((s) => s.label),
  future.map((s) => s.label),
];

describe('the steps of undo', () => {
  test('are there again after a reload, whatever was done, undone and redone', async () => {
    await fc.assert(
      fc.asyncProperty(
        anySong,
        fc.array(fc.oneof(anyCommand, fc.constantFrom('undo', 'redo')), { maxLength: 14 }),
        async (song, doings) => {
          const own = { ...song, id: `song-${++count}` };
          const log = new UndoLog(own.id, () => at);
          let history = await log.read(own, 0);
          let n = 0;
          for (const doing of doings) {
            const before = history;
            if (doing === 'undo') history = undo(history);
            else if (doing === 'redo') history = redo(history);
            else if (typeof doing !== 'string') {
              history = advance(history, applyCommand(history.song, doing), doing.type);
            }
            if (history !== before) await log.follow(history, ++n);
          }
          const again = await new UndoLog(own.id, () => at).read(history.song, n);
          expect(labels(again)).toEqual(labels(history));
          expect(again.past.map((step) => step.song)).toEqual(history.past.map((s) => s.song));
          expect(again.future.map((step) => step.song)).toEqual(history.future.map((s) => s.song));
        },
      ),
    );
  });

  test('that a crash kept from being written follow from what was noted', async () => {
    const [song] = fc.sample(anySong, 1);
    const log = new UndoLog(song.id, () => at);
    let history = await log.read(song, 0);
    history = advance(history, { ...song, name: 'one' }, 'rename song');
    await log.follow(history, 1);
    const later = [history.song, { ...song, name: 'two' }, { ...song, name: 'three' }];
    const trail = later.map((one, i) => ({ n: i + 1, song: one }));
    const again = await new UndoLog(song.id, () => at).read(later[2], 3, trail);
    expect(again.song).toBe(later[2]);
    expect(again.past.map((step) => step.song.name)).toEqual([song.name, 'one', 'two']);
    expect(again.past.map((step) => step.label)).toEqual(['rename song', 'a change', 'a change']);
  });

  test('of another state of the song are forgotten, and never led to', async () => {
    const [song] = fc.sample(anySong, 1);
    const log = new UndoLog(song.id, () => at);
    await log.read(song, 0);
    await log.follow(advance(newHistory(song), { ...song, name: 'one' }, 'rename song'), 1);
    const other = await new UndoLog(song.id, () => at).read({ ...song, name: 'elsewhere' }, 7);
    expect(other.past).toEqual([]);
  });
});

describe('save points', () => {
  const point = { name: 'first', note: '', why: 'by hand' } as const;

  test('are whole copies, the newest first, with what is noted of them', async () => {
    const [song] = fc.sample(anySong, 1);
    const one = await keepPoint(song, point, at);
    await keepPoint({ ...song, name: 'later' }, { ...point, name: 'second' }, at);
    await remarkPoint(one.id, { name: 'first', note: 'before the bridge' }, at);
    const points = await listPoints(song.id, at);
    expect(points.find(({ id }) => id === one.id)).toMatchObject({
      body: song,
      note: 'before the bridge',
    });
    expect(points).toHaveLength(2);
    expect(await listPoints('another song', at)).toEqual([]);
  });

  test('that were made by themselves make room for newer ones; those made by hand stay', async () => {
    const [song] = fc.sample(anySong, 1);
    await keepPoint(song, point, at);
    for (let i = 0; i < 40; i++) {
      await keepPoint(song, { ...point, name: `${i}`, why: 'an hour of work' }, at);
    }
    const points = await listPoints(song.id, at);
    expect(points.filter(({ why }) => why === 'by hand')).toHaveLength(1);
    expect(points.length).toBeLessThanOrEqual(31);
  });

  test('are removed and put back', async () => {
    const [song] = fc.sample(anySong, 1);
    const { id } = await keepPoint(song, point, at);
    const row = await removePoint(id, at);
    expect(await listPoints(song.id, at)).toEqual([]);
    await putBackPoint(row!, at);
    expect(await listPoints(song.id, at)).toHaveLength(1);
  });
});
