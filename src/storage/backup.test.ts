import 'fake-indexeddb/auto';
import { strToU8, zipSync } from 'fflate';
import type { Song } from '@/core';
import { grooveOfPattern } from '@/core/library';
import { USUAL_DELIVERY } from '@/core/deliver';
import { emptySong, neutralStrip } from '@/core/model';
import { hashOfSound } from '@/core/sound';
import { demoSongs } from '@/demo';
import { restoreBackup, writeBackup, type Restored } from './backup';
import { LoomDb } from './db';
import { keepDelivery } from './deliveries';
import { keepKit, keepPreset } from './kits';
import { putOwnPattern } from './library/library';
import { keepSample } from './samples';
import { keepPoint, listPoints } from './savePoints';
import * as songs from './songs';

let count = 0;
const open: LoomDb[] = [];
const browser = () => {
  const at = new LoomDb(`backup-${++count}`);
  open.push(at);
  return at;
};
afterEach(() => Promise.all(open.splice(0).map((at) => at.delete())));

const [demo, other] = demoSongs();
const restore = async (bytes: Uint8Array, at: LoomDb) =>
  (await restoreBackup(bytes, 'x.backup.zip', at)) as Restored;
const names = async (at: LoomDb) => (await songs.listSongs(at)).map(({ name }) => name).sort();

async function filled(): Promise<LoomDb> {
  const at = browser();
  for (const song of [demo, other]) await songs.saveSong(song, undefined, at);
  await songs.saveView(demo.id, { [demo.patterns[0].id]: { hidden: ['crash'] } }, at);
  const groove = grooveOfPattern(demo.patterns[0], 120, { id: 'own/a.mid', family: 'mine' });
  await at.grooves.put(groove);
  await at.grooveFiles.put({ id: 'own/a.mid', path: 'a.mid', bytes: Uint8Array.of(1, 2, 3) });
  await at.remarks.put({ id: 'own/a.mid', stars: 4, note: 'for the bridge' });
  await at.noteMaps.put({ family: 'mine', map: 'pads' });
  const id = 'own/pattern/x';
  const own = JSON.parse(JSON.stringify({ ...demo.patterns[1], id: 'own' }));
  await putOwnPattern(grooveOfPattern(own, 120, { id, family: 'mine' }), own, at);
  return at;
}

test('everything of one browser is in another after it', async () => {
  const here = await filled();
  const there = browser();
  const restored = await restore(await writeBackup(here), there);
  expect(restored).toEqual({ songs: 2, copies: 0, same: 0, grooves: 2, problems: [] });
  const kept = ['views', 'grooves', 'grooveFiles', 'remarks', 'noteMaps', 'ownPatterns'] as const;
  for (const table of kept) {
    const rows = await here.table(table).toArray();
    expect(await there.table(table).toArray()).toEqual(expect.arrayContaining(rows));
  }
  const read = await songs.loadSong(demo.id, there);
  expect(read).toMatchObject({ song: { name: demo.name }, lost: [] });
  expect(JSON.stringify((read as { song: Song }).song)).toBe(JSON.stringify(demo));
});

test('save points, sounds, kits, presets and deliveries are in it too', async () => {
  const here = await filled();
  const left = Float32Array.from({ length: 64 }, (_, i) => Math.sin(i));
  const hash = await hashOfSound({ left });
  await keepSample({ hash, name: 'clank', left }, here);
  await keepPoint(demo, { name: 'before the bridge', note: 'good', why: 'by hand' }, here);
  await keepKit({ id: 'k', name: 'mine', kit: demo.kit }, here);
  await keepPreset({ id: 'p', name: 'dry', strip: neutralStrip('all') }, here);
  await keepDelivery({ name: 'to them', delivery: USUAL_DELIVERY }, here);
  const there = browser();
  const restored = await restore(await writeBackup(here), there);
  expect(restored.problems).toEqual([]);
  for (const table of ['kits', 'presets', 'deliveries'] as const) {
    expect(await there.table(table).toArray()).toEqual(await here.table(table).toArray());
  }
  const [point] = await listPoints(demo.id, there);
  expect(point).toMatchObject({ name: 'before the bridge', note: 'good', body: { id: demo.id } });
  const [sound] = await there.samples.toArray();
  expect([sound.hash, sound.name, [...sound.left]]).toEqual([hash, 'clank', [...left]]);
});

test('of a backup that is cut off what is whole is put back, and that it is cut is told', async () => {
  const whole = await writeBackup(await filled());
  const there = browser();
  const restored = await restore(whole.slice(0, -400), there);
  expect(restored.songs).toBe(2);
  expect(restored.problems[0]).toMatch(/“x.backup.zip” is cut off/);
  expect(await names(there)).toEqual([demo.name, other.name].sort());
  // Cut in its first song, it holds none.
  const none = await restore(whole.slice(0, 3000), browser());
  expect(none).toMatchObject({ songs: 0, problems: [expect.stringMatching(/is cut off/)] });
});

test('twice is as good as once', async () => {
  const here = await filled();
  const bytes = await writeBackup(here);
  expect(await restore(bytes, here)).toMatchObject({ songs: 0, copies: 0, same: 2, grooves: 0 });
  expect(await names(here)).toEqual([demo.name, other.name].sort());
});

test('what is here and is another by now stays, and the one of the backup comes beside it', async () => {
  const here = await filled();
  const bytes = await writeBackup(here);
  await songs.saveSong({ ...demo, name: 'worked on' }, undefined, here);
  await here.remarks.put({ id: 'own/a.mid', stars: 1 });
  expect(await restore(bytes, here)).toMatchObject({ songs: 0, copies: 1, same: 1 });
  expect(await names(here)).toContain('worked on');
  expect(await names(here)).toContain(`${demo.name}, from a backup`);
  expect(await here.remarks.get('own/a.mid')).toEqual({ id: 'own/a.mid', stars: 1 });
});

test('a damaged song is in the backup as it was found, and is told when it comes back', async () => {
  const here = browser();
  const torn = structuredClone(demo) as unknown as { patterns: { length: number }[] };
  torn.patterns[0].length = 1e12;
  await here.bodies.put({ id: demo.id, song: torn as unknown as Song });
  await here.bodies.put({ id: 'gone', song: { format: 4, patterns: 7 } as unknown as Song });
  const restored = await restore(await writeBackup(here), browser());
  expect(restored.songs).toBe(1);
  expect(restored.problems).toHaveLength(2);
});

test('what is no backup is none, and hostile parts change nothing', async () => {
  const at = browser();
  await songs.saveSong(emptySong('mine', 'mine', 'p'), undefined, at);
  expect(await restoreBackup(zipSync({ 'a.mid': strToU8('x') }), 'x', at)).toBeUndefined();
  expect(await restoreBackup(strToU8('PK'), 'x', at)).toHaveProperty('problem');
  for (const library of [
    '7',
    '{"grooves":7}',
    '{"grooves":[null,{"id":"a"}],"remarks":[{"id":3}]}',
  ]) {
    const bytes = zipSync({
      'backup.json': strToU8('{}'),
      'songs/mine.json': strToU8('{"song":null}'),
      'library.json': strToU8(library),
    });
    expect(await restore(bytes, at)).toMatchObject({ songs: 0, copies: 0, grooves: 0 });
  }
  expect(await names(at)).toEqual(['mine']);
  expect(await at.grooves.count()).toBe(0);
});
