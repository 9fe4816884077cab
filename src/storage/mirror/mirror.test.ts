import 'fake-indexeddb/auto';
import fc from 'fast-check';
import type { Song } from '@/core';
import { DEFAULT_KIT } from '@/core/model';
import { demoSongs } from '@/demo';
import { restoreLost } from '.';
import { LoomDb } from '../db';
import * as songs from '../songs';
import { Mirror, type Shelf } from './mirror';
import { rowBytes, rowOf, rowsOfPack } from './packs';
import { isOfSong, MIRRORED } from './tables';

let count = 0;
const open: LoomDb[] = [];
const browser = () => {
  const at = new LoomDb(`mirrored-${++count}`);
  open.push(at);
  return at;
};
afterEach(() => Promise.all(open.splice(0).map((at) => at.delete())));

const [demo] = demoSongs();
const named = (id: string, name: string): Song => ({ ...demo, id, name });

function someShelf(): Shelf & { files: Map<string, Uint8Array> } {
  const files = new Map<string, Uint8Array>();
  return {
    files,
    names: async () => [...files.keys()],
    read: async (name, upTo) => files.get(name)!.slice(0, upTo),
    write: async (name, bytes) => void files.set(name, bytes),
    remove: async (name) => void files.delete(name),
  };
}

const mirrored = async (at: LoomDb, shelf: Shelf) => {
  const mirror = new Mirror(shelf, at);
  await mirror.open();
  await mirror.bringAll();
  return mirror;
};
const lost = (shelf: Shelf, at = browser()) =>
  restoreLost(
    () => {},
    at,
    async () => shelf,
  ).then((restored) => ({ restored, at }));
/** All rows that are mirrored, by table; zero is zero, whatever its sign. */
const rowsOf = async (at: LoomDb) =>
  Promise.all(
    MIRRORED.map(async (table): Promise<[string, unknown[]]> => [
      table,
      (await at.table(table).toArray()).map((row) => rowOf(rowBytes(row))),
    ]),
  );
const nameOf = async (id: string, at: LoomDb) =>
  ((await songs.loadSong(id, at)) as { song?: Song }).song?.name;

async function filled(): Promise<LoomDb> {
  const at = browser();
  await songs.saveSong(named('a', 'first'), undefined, at);
  await songs.saveSong(named('b', 'second'), undefined, at);
  await songs.saveView('a', { x: { hidden: ['crash'] } }, at);
  await at.kits.put({ id: 'k', name: 'shed', kit: DEFAULT_KIT });
  await at.samples.put({ hash: 'h', name: 'door.wav', left: Float32Array.of(0.5, -0.25) });
  await at.grooveFiles.put({ id: 'own/a', path: 'a.mid', bytes: Uint8Array.of(1, 2, 3) });
  await at.settings.put({ name: 'last backup', value: 7 });
  return at;
}

test('a row comes back as it was, with its arrays of numbers', () => {
  fc.assert(
    fc.property(
      fc.jsonValue(),
      fc.float32Array({ noNaN: true, maxLength: 9 }),
      fc.uint8Array({ maxLength: 9 }),
      (value, left, bytes) => {
        const row = JSON.parse(JSON.stringify({ value, left: 0, bytes: 0 })) as object;
        expect(rowOf(rowBytes({ ...row, left, bytes }))).toEqual({ ...row, left, bytes });
      },
    ),
  );
});

test('all that a browser threw away is back from the mirror, and what was newest is said', async () => {
  const here = await filled();
  const shelf = someShelf();
  await mirrored(here, shelf);
  const { restored, at } = await lost(shelf);
  expect(restored).toMatchObject({
    songs: 2,
    newest: { name: expect.stringMatching(/first|second/) },
  });
  expect(await rowsOf(at)).toEqual(await rowsOf(here));
  const rows = await rowsOf(at);
  const inAll = rows.reduce((sum, [, { length }]) => sum + length, 0);
  const ofSongs = rows.filter(([table]) => isOfSong(table));
  const [songRows, mark] = [ofSongs.reduce((sum, [, { length }]) => sum + length, 0), 1];
  expect(restored).toMatchObject({ others: inAll - songRows - mark, damaged: 0 });
  // It is known now: the next page has nothing to put back.
  expect((await lost(shelf, at)).restored).toBeUndefined();
});

test('a browser that lost nothing, or never had a mirror, is left as it is', async () => {
  const here = await filled();
  const shelf = someShelf();
  await mirrored(here, shelf);
  expect((await lost(shelf, here)).restored).toBeUndefined();
  expect((await lost(someShelf())).restored).toBeUndefined();
});

test('a database that cannot be opened is made anew, but for one of a newer version', async () => {
  const shelf = someShelf();
  await mirrored(await filled(), shelf);
  const broken = (inner: string) => {
    const at = browser();
    const error = Object.assign(new Error(), { name: 'OpenFailedError', inner: { name: inner } });
    jest.spyOn(at.settings, 'get').mockRejectedValueOnce(error);
    return at;
  };
  expect((await lost(shelf, broken('UnknownError'))).restored).toMatchObject({ songs: 2 });
  await expect(lost(shelf, broken('VersionError'))).rejects.toThrow();
});

test('what a database lacks that was not restored is not taken for deleted', async () => {
  const shelf = someShelf();
  await mirrored(await filled(), shelf);
  const empty = browser();
  await songs.saveSong(named('c', 'a fresh demo'), undefined, empty);
  await expect(mirrored(empty, shelf)).rejects.toThrow(/restored/);
  const { at } = await lost(shelf, empty);
  expect(await Promise.all(['a', 'b', 'c'].map((id) => nameOf(id, at)))).toEqual([
    'first',
    'second',
    'a fresh demo',
  ]);
});

test('what was deleted does not come back, and what was done last does', async () => {
  const here = await filled();
  const shelf = someShelf();
  const mirror = await mirrored(here, shelf);
  await songs.deleteSong('b', here);
  await songs.saveSong(named('a', 'renamed'), undefined, here);
  await mirror.bring(
    new Map<string, Set<string> | 'all'>([
      ['bodies', new Set(['a', 'b'])],
      ['bin', 'all'],
    ]),
  );
  const { at } = await lost(shelf);
  expect(await nameOf('a', at)).toBe('renamed');
  expect(await nameOf('b', at)).toBeUndefined();
  expect(await songs.undelete('b', at)).toBe(true);
});

test('a damaged pack is passed over: the version before it comes back', async () => {
  const here = await filled();
  const shelf = someShelf();
  const mirror = await mirrored(here, shelf);
  await songs.saveSong(named('a', 'newer'), undefined, here);
  await mirror.bring(new Map([['bodies', new Set(['a'])]]));
  const last = shelf.files.get([...shelf.files.keys()].sort().at(-1)!)!;
  expect(await rowsOfPack(last)).toHaveLength(2);
  last[last.length - 9] ^= 1;
  expect(await rowsOfPack(last)).toBeUndefined();
  const { at, restored } = await lost(shelf);
  expect(await nameOf('a', at)).toBe('first');
  expect(restored).toMatchObject({ damaged: 1 });
});

test('the last versions of a song are kept and no more, also by a mirror that is opened anew', async () => {
  const here = await filled();
  const shelf = someShelf();
  let mirror = await mirrored(here, shelf);
  const sizes: number[] = [];
  for (let n = 0; n < 12; n++) {
    await songs.saveSong(named('a', `version ${n}`), undefined, here);
    if (n % 5 === 4) mirror = await mirrored(here, shelf);
    else await mirror.bring(new Map([['heads', new Set(['a'])]]));
    sizes.push(shelf.files.size);
  }
  expect(sizes.slice(5)).toEqual(sizes.slice(5).map(() => sizes[5]));
  expect(await nameOf('a', (await lost(shelf)).at)).toBe('version 11');
});

test('whatever is written, deleted and lost, what comes back is what was there', async () => {
  const anyAct = fc.record({
    id: fc.constantFrom('a', 'b', 'c'),
    does: fc.constantFrom('save', 'save', 'delete', 'undelete', 'reopen', 'setting'),
  });
  await fc.assert(
    fc.asyncProperty(fc.array(anyAct, { maxLength: 14 }), async (acts) => {
      const here = await filled();
      const shelf = someShelf();
      let mirror = await mirrored(here, shelf);
      let n = 0;
      for (const { id, does } of acts) {
        if (does === 'save') await songs.saveSong(named(id, `${id} ${++n}`), undefined, here);
        else if (does === 'delete') await songs.deleteSong(id, here);
        else if (does === 'undelete') await songs.undelete(id, here);
        else if (does === 'setting') await here.settings.put({ name: id, value: ++n });
        if (does === 'reopen') mirror = await mirrored(here, shelf);
        else {
          const keys = new Set([id]);
          await mirror.bring(
            new Map([
              ['bodies', keys],
              ['bin', keys],
              ['settings', keys],
            ]),
          );
        }
      }
      const { at } = await lost(shelf);
      expect(await rowsOf(at)).toEqual(await rowsOf(here));
    }),
    { numRuns: 15 },
  );
});

test('changes of songs that are nowhere any more are found and taken away, others stay', async () => {
  const at = await filled();
  const difference = { fields: {} };
  for (const song of ['a', 'gone', 'gone too'])
    for (const n of [1, 2]) await at.journal.put({ song, n, difference });
  await songs.deleteSong('b', at);
  await at.journal.put({ song: 'b', n: 1, difference });
  expect(await songs.dropOrphans(at)).toBe(4);
  expect((await at.journal.toArray()).map(({ song }) => song)).toEqual(['a', 'a', 'b']);
});
