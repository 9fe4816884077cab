import 'fake-indexeddb/auto';
import Dexie from 'dexie';
import { readFileSync } from 'node:fs';
import fc from 'fast-check';
import { emptySong } from '@/core/model';
import { anySong } from '@/core/testing/arbitraries';
import { demoSongs } from '@/demo';
import { LoomDb } from './db';
import { readSong } from './songRecord';
import * as songs from './songs';

let at: LoomDb;
let count = 0;
beforeEach(() => {
  at = new LoomDb(`test-${++count}`);
});
afterEach(() => at.delete());

const named = (id: string, name: string) => emptySong(id, name, 'p');
const names = async () => (await songs.listSongs(at)).map((head) => head.name);

describe('songs in storage', () => {
  test('come back as the values they were', async () => {
    await fc.assert(
      fc.asyncProperty(anySong, async (song) => {
        await songs.saveSong(song, undefined, at);
        expect(await songs.loadSong(song.id, at)).toMatchObject({ song, lost: [], view: {} });
      }),
    );
  });

  test('are listed with the last changed first', async () => {
    await songs.saveSong(named('a', 'first'), undefined, at);
    await new Promise((later) => setTimeout(later, 5));
    await songs.saveSong(named('b', 'second'), undefined, at);
    expect(await names()).toEqual(['second', 'first']);
  });

  test('that are deleted are gone, and undone are as before', async () => {
    await songs.saveSong(named('a', 'kept aside'), undefined, at);
    const deleted = await songs.deleteSong('a', at);
    expect(await names()).toEqual([]);
    expect(await songs.loadSong('a', at)).toEqual({ problem: expect.stringContaining('list') });
    await songs.undelete(deleted!.id, at);
    expect(await songs.loadSong('a', at)).toMatchObject({
      song: named('a', 'kept aside'),
      lost: [],
      view: {},
    });
  });

  test('are the demo where there were none, and only there', async () => {
    await songs.demoIfEmpty(at);
    expect(await names()).toEqual(demoSongs().map((song) => song.name));
    await songs.deleteSong(demoSongs()[0].id, at);
    await songs.demoIfEmpty(at);
    expect(await names()).toHaveLength(demoSongs().length - 1);
  });

  test('are all of the demo or nothing of it, when the page goes while they are stored', async () => {
    at.bodies.hook('creating', (id) => {
      if (id === demoSongs()[0].id) throw new Error('the page is gone');
    });
    await expect(songs.demoIfEmpty(at)).rejects.toThrow();
    expect(await names()).toEqual([]);
  });

  test('of one’s own stay when the demo is restored', async () => {
    const own = named('mine', 'mine');
    const [demo] = demoSongs();
    await songs.saveSong(own, undefined, at);
    await songs.saveSong({ ...demo, name: 'changed' }, undefined, at);
    await songs.restoreDemo(at);
    expect(await songs.loadSong('mine', at)).toMatchObject({ song: own });
    expect(await songs.loadSong(demo.id, at)).toMatchObject({ song: demo, lost: [] });
  });
});

describe('what is read from storage', () => {
  const [demo] = demoSongs();

  test('is a song when it is sound', () => {
    expect(readSong(structuredClone(demo))).toMatchObject({ song: demo, lost: [] });
  });

  test.each<[string, (song: Record<string, unknown>) => void, RegExp]>([
    ['a newer form', (s) => (s.format = 5), /newer Verse Loom \(form 5/],
    ['an older form', (s) => (s.format = 0), /early trial/],
    ['no patterns', (s) => delete s.patterns, /damaged at “patterns”/],
    ['a pattern that is text', (s) => (s.patterns = ['beat']), /none of its patterns can be read/],
  ])('%s is said in words and left as it is', (_, spoil, sentence) => {
    const stored = structuredClone(demo) as unknown as Record<string, unknown>;
    spoil(stored);
    const read = readSong(stored);
    expect('problem' in read && read.problem).toMatch(sentence);
    expect('problem' in read && read.problem).toContain('It was left as it is');
  });

  test('and is sound but for some parts is opened without those, and kept as it was found', async () => {
    const stored = structuredClone(demo);
    const [gone] = stored.patterns[0].strands.find(({ hits }) => hits.length > 0)!.hits;
    gone.velocity = 900;
    await at.bodies.put({ id: demo.id, song: stored });
    const read = await songs.loadSong(demo.id, at);
    if ('problem' in read) throw new Error(read.problem);
    expect(read.lost.map(({ what }) => what)).toEqual([expect.stringMatching(/1 to 127/)]);
    await songs.keepDamaged(demo.id, at);
    await songs.saveSong(read.song, undefined, at);
    expect(await songs.loadSong(demo.id, at)).toMatchObject({ lost: [] });
    expect(await songs.storedForm(demo.id, at)).toEqual(stored);
  });

  test.each([[undefined], [null], [7], ['song'], [[]]])('%p is no song', (stored) => {
    expect(readSong(stored)).toHaveProperty('problem');
  });
});

test('a database of the version before is brought to this one, with all its songs and views', async () => {
  const name = `old-${count}`;
  const old = new Dexie(name);
  old.version(2).stores({
    heads: 'id, changed',
    bodies: 'id',
    grooves: 'id',
    grooveFiles: 'id',
    sources: 'path',
    remarks: 'id',
    noteMaps: 'family',
    jobs: 'id',
  });
  for (const form of [1, 2, 3]) {
    const song = JSON.parse(readFileSync(`src/storage/fixtures/song-${form}.json`, 'utf8'));
    await old.table('bodies').put({ id: `song-${form}`, song });
  }
  await old.table('bodies').put({ id: 'torn', song: { format: 3, patterns: 7 } });
  await old.table('bodies').put({ id: 'later', song: { format: 9 } });
  await old.table('remarks').put({ id: 'shipped/funk/3', stars: 4 });
  await old.table('remarks').put({ id: 'own/x.mid#0', note: 'mine' });
  old.close();
  const now = new LoomDb(name);
  for (const form of [1, 2, 3]) {
    expect(await songs.loadSong(`song-${form}`, now)).toMatchObject({ lost: [] });
  }
  const third = await songs.loadSong('song-3', now);
  expect('view' in third && third.view).toMatchObject({ verse: { hidden: ['crash'] } });
  expect(await songs.loadSong('torn', now)).toHaveProperty('problem');
  expect((await now.bodies.get('later'))?.song).toEqual({ format: 9 });
  expect(await now.remarks.toArray()).toEqual([
    { id: 'own/x.mid#0', note: 'mine' },
    { id: 'shipped/funk/ghosts-arrive', stars: 4 },
  ]);
  await now.delete();
});
