import 'fake-indexeddb/auto';
import fc from 'fast-check';
import { applyCommand, type Song } from '@/core';
import { checkSong, emptySong } from '@/core/model';
import { anySong } from '@/core/testing/arbitraries';
import { anyCommand } from '@/core/testing/commands';
import { LoomDb } from './db';
import { NoAnswer, whyNot, withinPatience } from './failures';
import { Journal, withChanges, type Slips } from './journal';
import { Keeper, type Saving } from './keeper';
import * as songs from './songs';

let at: LoomDb;
let count = 0;
beforeEach(() => {
  at = new LoomDb(`keeper-${++count}`);
});
afterEach(() => at.delete());

/** Slips in memory; with `room`, only so many. */
function slips(room = Infinity): Slips & { kept: Map<string, string> } {
  const kept = new Map<string, string>();
  return {
    kept,
    getItem: (name) => kept.get(name) ?? null,
    setItem(name, text) {
      if (kept.size >= room) throw new DOMException('full', 'QuotaExceededError');
      kept.set(name, text);
    },
    removeItem: (name) => void kept.delete(name),
    key: (i) => [...kept.keys()][i] ?? null,
    get length() {
      return kept.size;
    },
  };
}

/** As JSON has it, which does not tell 0 from -0. */
const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value));
const named = (id: string, name: string) => emptySong(id, name, 'p');
const rename = (song: Song, name: string) => applyCommand(song, { type: 'rename song', name });

/** A tab: its keeper, what it was told, and what it may be kept from. */
function tab(slip = slips()) {
  const told: [string, Saving][] = [];
  const parted: [string, string][] = [];
  const disk = { fails: undefined as unknown, written: 0 };
  const journal = new Journal(
    () => at,
    () => slip,
  );
  const keeper = new Keeper(
    {
      saving: (song, saving) => void told.push([song.id, saving]),
      parted: (song, how) => void parted.push([song.name, how]),
    },
    async (song, follows) => {
      if (disk.fails) throw disk.fails;
      await songs.saveSong(song, follows, at);
      disk.written++;
    },
    journal,
  );
  const load = (id: string) => songs.loadSong(id, at, journal);
  const open = async (id: string) => {
    const read = await load(id);
    if ('problem' in read) throw new Error(read.problem);
    keeper.opened(read.song, read.n, read.stored);
    return read.song;
  };
  return { keeper, told, parted, disk, load, open, slip };
}

const FULL = new DOMException('no room', 'QuotaExceededError');

describe('a song that is worked on', () => {
  test('is written once for many changes, and told to be saved', async () => {
    await songs.saveSong(named('a', 'a'), undefined, at);
    const { keeper, told, disk, open } = tab();
    let song = await open('a');
    for (let i = 0; i < 20; i++) keeper.keep((song = rename(song, `name ${i}`)));
    expect(told.at(-1)).toEqual(['a', { state: 'waiting', noted: true }]);
    await keeper.flush();
    expect(disk.written).toBe(1);
    expect(told.at(-1)).toEqual(['a', { state: 'saved' }]);
    expect(await songs.loadSong('a', at)).toMatchObject({ song, n: 20, stored: 20 });
  });

  test('is as it was after every change, when the tab is gone before it was stored', async () => {
    await fc.assert(
      fc.asyncProperty(
        anySong,
        fc.array(anyCommand, { maxLength: 6 }),
        fc.nat(6),
        async (any, commands, writtenAfter) => {
          await songs.saveSong(any, undefined, at);
          const slip = slips();
          const first = tab(slip);
          let song = await first.open(any.id);
          for (const [i, command] of commands.entries()) {
            song = applyCommand(song, command);
            first.keeper.keep(song);
            if (i === writtenAfter) await first.keeper.flush();
          }
          first.keeper.drop(any.id);
          const again = (await tab(slip).load(any.id)) as { song?: Song };
          expect(plain(again.song)).toEqual(plain(song));
        },
      ),
    );
  });

  test('is as it was where the browser has slips only, or the database only', async () => {
    for (const where of ['slips', 'database'] as const) {
      await songs.saveSong(named('a', 'a'), undefined, at);
      const slip = slips(where === 'slips' ? Infinity : 0);
      const { keeper, told, open } = tab(slip);
      const song = rename(await open('a'), 'Kelp');
      keeper.keep(song);
      expect(told.at(-1)![1]).toEqual({ state: 'waiting', noted: where === 'slips' });
      keeper.drop('a');
      if (where === 'slips') await at.journal.clear();
      expect(await tab(slip).load('a')).toMatchObject({ song });
      await new Journal(
        () => at,
        () => slip,
      ).forget('a');
    }
  });

  test('leaves nothing in the journal once it is stored', async () => {
    await songs.saveSong(named('a', 'a'), undefined, at);
    const { keeper, open, slip } = tab();
    keeper.keep(rename(await open('a'), 'Kelp'));
    await keeper.flush();
    while (slip.kept.size + (await at.journal.count()) > 0) {
      await new Promise((again) => setTimeout(again, 5));
    }
  });

  test('is never written unsound', async () => {
    await songs.saveSong(named('a', 'a'), undefined, at);
    const { keeper, told, disk, open } = tab();
    const song = await open('a');
    keeper.keep({ ...song, bpm: NaN });
    await keeper.flush();
    expect(disk.written).toBe(0);
    expect(told.at(-1)).toEqual([
      'a',
      { state: 'failed', why: expect.stringMatching(/unsound.*Undo/) },
    ]);
    keeper.keep(rename(song, 'sound again'));
    await keeper.flush();
    expect(told.at(-1)).toEqual(['a', { state: 'saved' }]);
  });
});

describe('when there is no room', () => {
  test('what was done to one song is kept while another is worked on, and stored when there is', async () => {
    for (const id of ['a', 'b']) await songs.saveSong(named(id, id), undefined, at);
    const { keeper, disk, open } = tab();
    const a = rename(await open('a'), 'Kelp');
    disk.fails = FULL;
    keeper.keep(a);
    await keeper.close('a');
    const b = rename(await open('b'), 'Tar');
    keeper.keep(b);
    await keeper.flush();
    expect(keeper.allUnsaved().map(({ song, why }) => [song, why])).toEqual([
      [a, expect.stringContaining('full')],
      [b, expect.stringContaining('full')],
    ]);
    expect(keeper.isAtRisk).toBe(true);
    disk.fails = undefined;
    await keeper.flush();
    expect(keeper.isAtRisk).toBe(false);
    expect(await songs.loadSong('a', at)).toMatchObject({ song: a });
    expect(await songs.loadSong('b', at)).toMatchObject({ song: b });
  });

  test('a new song comes into storage as it is then, not as it was begun', async () => {
    const { keeper, disk } = tab();
    disk.fails = FULL;
    const song = named('new', 'new');
    keeper.adopt(song, whyNot(FULL));
    keeper.keep(rename(song, 'worked on'));
    disk.fails = undefined;
    await keeper.flush();
    expect(await songs.loadSong('new', at)).toMatchObject({ song: { name: 'worked on' } });
  });
});

describe('two tabs', () => {
  test('what one could not store never lies over what the other stored since', async () => {
    await songs.saveSong(named('a', 'a'), undefined, at);
    const one = tab();
    const mine = rename(await one.open('a'), 'mine');
    one.disk.fails = FULL;
    one.keeper.keep(mine);
    await one.keeper.flush();
    await writtenByAnother('theirs');
    one.disk.fails = undefined;
    await one.keeper.flush();
    expect(one.parted).toEqual([['mine', 'newer']]);
    expect(await songs.listSongs(at)).toMatchObject([{ name: 'theirs' }]);
  });

  test('a song that one deleted is not brought back by the other that has it open', async () => {
    await songs.saveSong(named('a', 'a'), undefined, at);
    const one = tab();
    const song = await one.open('a');
    await songs.deleteSong('a', at);
    one.keeper.keep(rename(song, 'mine'));
    await one.keeper.flush();
    expect(one.parted).toEqual([['mine', 'gone']]);
    expect(await songs.listSongs(at)).toEqual([]);
    expect(await songs.undelete('a', at)).toBe(true);
    expect(await songs.listSongs(at)).toMatchObject([{ name: 'a' }]);
  });

  /** As another page would have written it. */
  async function writtenByAnother(name: string) {
    const head = (await at.heads.get('a'))!;
    await at.bodies.put({ id: 'a', song: named('a', name) });
    await at.heads.put({ ...head, name, n: head.n! + 1, by: 'another tab' });
  }
});

describe('a journal', () => {
  const song = named('a', 'a');
  const isSong = (value: unknown): value is Song => checkSong(value as Song).length === 0;
  const note = (n: number, difference: unknown) => ({ song: 'a', n, difference }) as never;

  test('that holds anything at all still opens the song', () => {
    fc.assert(
      fc.property(fc.array(fc.jsonValue(), { maxLength: 4 }), (entries) => {
        const read = withChanges(
          song,
          entries.map((entry, i) => note(i + 1, entry)),
          isSong,
        );
        expect(isSong(read.song)).toBe(true);
      }),
    );
  });

  test('is followed up to the first change that spoils the song', () => {
    const changes = [
      note(1, { fields: { name: { is: 'one' } } }),
      note(2, { fields: { bpm: { is: -4 } } }),
      note(3, { fields: { name: { is: 'three' } } }),
    ];
    expect(withChanges(song, changes, isSong)).toMatchObject({ song: { name: 'one' }, n: 1 });
  });

  test('is followed up to the first gap', async () => {
    const journal = new Journal(
      () => at,
      () => slips(),
    );
    for (const n of [3, 4, 6]) await at.journal.put(note(n, { fields: {} }));
    expect((await journal.after('a', 2)).map(({ n }) => n)).toEqual([3, 4]);
    expect(await journal.after('a', 1)).toEqual([]);
  });
});

test('storage that never answers is said within its time, and told from a full or a blocked one', async () => {
  const never = new Promise<void>(() => {});
  await expect(withinPatience(never, 10)).rejects.toThrow(NoAnswer);
  expect(await withinPatience(Promise.resolve(7), 10)).toBe(7);
  expect(whyNot(new NoAnswer())).toMatch(/does not answer/);
  expect(whyNot({ name: 'AbortError', inner: { name: 'QuotaExceededError' } })).toMatch(/full/);
  expect(whyNot(new DOMException('no', 'SecurityError'))).toMatch(/does not let/);
});
