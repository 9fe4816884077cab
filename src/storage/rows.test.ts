import 'fake-indexeddb/auto';
import fc from 'fast-check';
import { USUAL_DELIVERY } from '@/core/deliver';
import { grooveOfPattern } from '@/core/library';
import { DEFAULT_KIT, neutralStrip } from '@/core/model';
import { demoSongs } from '@/demo';
import { restoreBackup, writeBackup } from './backup';
import { LoomDb } from './db';
import { keptDeliveries, keepDelivery, lastDelivery } from './deliveries';
import { keepKit, keepPreset, keptKits, keptPresets } from './kits';
import * as library from './library/library';
import { liveSetting } from './liveRoutes';
import { keepSample, readSamples } from './samples';
import { keepPoint, listPoints } from './savePoints';
import { backupFolder, isTourShown, lastBackup } from './settings';
import * as songs from './songs';
import { UndoLog } from './undoLog';

const [demo, other] = demoSongs();
let count = 0;
const open: LoomDb[] = [];
afterEach(() => Promise.all(open.splice(0).map((at) => at.delete())));

/** A browser with something in every table. */
async function filled(): Promise<LoomDb> {
  const at = new LoomDb(`rows-${++count}`);
  open.push(at);
  await songs.saveSong(demo, undefined, at);
  await songs.saveSong(other, undefined, at);
  await songs.deleteSong(other.id, at);
  await songs.saveView(demo.id, { [demo.patterns[0].id]: { hidden: ['crash'] } }, at);
  await keepPoint(demo, { name: 'before', note: '', why: 'by hand' }, at);
  await keepKit({ id: 'k', name: 'shed', kit: DEFAULT_KIT }, at);
  await keepPreset({ id: 'p', name: 'dry', strip: neutralStrip('snare') }, at);
  await keepDelivery({ name: 'to the drummer', delivery: USUAL_DELIVERY }, at);
  await keepSample({ hash: 'ab', name: 'door', left: Float32Array.of(0.5, -0.5) }, at);
  const [pattern] = demo.patterns;
  const row = { id: 'own/pattern/x', family: 'mine' };
  await library.putOwnPattern(grooveOfPattern(pattern, 120, row), pattern, at);
  await at.grooveFiles.put({
    id: 'own/a',
    path: 'a.tab',
    bytes: new TextEncoder().encode('HH |x-x-|'),
  });
  await at.sources.put({ path: 'a.tab', size: 9, modified: 1, reason: 'it is one of another' });
  await library.saveRemark({ id: row.id, stars: 3 }, at);
  await at.noteMaps.put({ family: 'mine', map: 'pads' });
  await library.saveJob({ id: 'j', name: 'folder', total: 3 }, at);
  return at;
}

/** All that is read of a browser. */
async function readAll(at: LoomDb) {
  const log = new UndoLog(demo.id, () => at);
  const read = await songs.loadSong(demo.id, at);
  if ('problem' in read) throw new Error(read.problem);
  return {
    list: (await songs.listSongs(at)).filter(({ id }) => id === demo.id).length,
    song: read.song,
    bin: (await songs.binnedSongs(at)).filter(({ id }) => id === other.id).length,
    points: (await listPoints(demo.id, at)).filter(({ name }) => name === 'before').length,
    kits: (await keptKits(at)).filter(({ id }) => id === 'k'),
    presets: (await keptPresets(at)).filter(({ id }) => id === 'p'),
    deliveries: (await keptDeliveries(at)).filter(({ name }) => name === 'to the drummer'),
    samples: [...(await readSamples(['ab'], at))].map(([, { left }]) => [...left]),
    grooves: (await library.ownGrooves(at)).filter(({ id }) => id === 'own/pattern/x').length,
    own: (await library.patternsOf('own/pattern/x', at)).length,
    file: (await library.patternsOf('own/a', at)).length,
    remark: (await library.allRemarks(at)).get('own/pattern/x')?.stars,
    unlisted: (await library.unlisted(at)).filter(({ path }) => path === 'a.tab').length,
    past: (await log.read(read.song, read.n)).past.length,
    settings: [
      await lastBackup(at),
      await backupFolder(at),
      await isTourShown(at),
      await liveSetting(at),
      await lastDelivery(at),
    ],
  };
}

const anyJunk = fc.oneof(
  fc.anything({ withDate: true, withTypedArray: true, maxDepth: 2 }),
  fc.constantFrom(null, undefined, '', -1, NaN, 1e300, [], {}, 'x'.repeat(5000)),
);

/** The table, and what is put into it: a row of nothing that belongs there, but for its key. */
const anyJunkRow = fc.record({
  table: fc.constantFrom(...new LoomDb('tables').tables.map(({ name }) => name)),
  key: fc.oneof(
    fc.constantFrom(
      '0',
      'zz',
      'last backup',
      'backup folder',
      'tour shown',
      'live midi',
      'last delivery',
    ),
    fc.integer(),
    fc.date({ noInvalidDate: true }),
  ),
  fields: fc.dictionary(
    fc.constantFrom(
      ...[
        'name',
        'song',
        'body',
        'head',
        'kit',
        'strip',
        'delivery',
        'value',
        'left',
        'bytes',
        'path',
        'made',
      ],
      ...[
        'deleted',
        'changed',
        'stars',
        'map',
        'family',
        'pattern',
        'total',
        'difference',
        'label',
        'back',
        'why',
      ],
    ),
    anyJunk,
  ),
});

test('a row of anything in any table takes nothing else away, and all of it is backed up and restored', async () => {
  const at = await filled();
  const before = await readAll(at);
  expect(before).toMatchObject({
    list: 1,
    bin: 1,
    points: 1,
    grooves: 1,
    own: 1,
    file: 1,
    remark: 3,
    unlisted: 1,
  });
  await fc.assert(
    fc.asyncProperty(fc.array(anyJunkRow, { minLength: 1, maxLength: 6 }), async (rows) => {
      const put: [string, unknown][] = [];
      for (const { table, key, fields } of rows) {
        const { primKey } = at.table(table).schema;
        const path = primKey.keyPath;
        const whole = Array.isArray(path)
          ? { ...fields, [path[0]]: demo.id, [path[1]]: 10_000 + put.length }
          : { ...fields, [path as string]: key };
        // A database refuses some values altogether.
        const kept = await at
          .table(table)
          .put(whole)
          .catch(() => undefined);
        if (kept !== undefined) put.push([table, kept]);
      }
      const after = await readAll(at);
      expect({ ...after, settings: 0 }).toEqual({ ...before, settings: 0 });
      await library.openJob(at);
      const copy = new LoomDb(`rows-${++count}`);
      open.push(copy);
      expect(await restoreBackup(await writeBackup(at), 'x', copy)).toMatchObject({
        songs: expect.any(Number),
      });
      expect((await keptKits(copy)).some(({ id }) => id === 'k')).toBe(true);
      for (const [table, key] of put) await at.table(table).delete(key as string);
    }),
  );
});
