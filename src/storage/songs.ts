import type { Song } from '@/core';
import { checkSong, soundView, type SongView } from '@/core/model';
import { songBars } from '@/core/weave';
import { DEMO_PREFIX, demoSavePoints, demoSongs } from '@/demo';
import {
  db,
  type BinnedSong,
  type LoomDb,
  type ShownSong,
  type SongBody,
  type SongHead,
} from './db';
import { Journal, trodden, withChanges } from './journal';
import { isBinned, soundTime } from './rows';
import { readSong, type OpenedSong } from './songRecord';
import type { Trodden } from './undoLog';

export type { BinnedSong, SongHead } from './db';

/** Which tab writes: what another one wrote in between is not overwritten. */
const THIS_TAB = `${Date.now().toString(36)}-${Math.random().toString(36).slice(2)}`;

/** The stored song is not the one that was to be followed: another tab wrote it, or deleted it. */
export class WrittenElsewhere extends Error {
  override name = 'WrittenElsewhere';

  constructor(readonly how: 'newer' | 'gone') {
    super(`The stored song is ${how}`);
  }
}

/** A song as the list shows it. */
export function headOf(song: Song, changed: number): SongHead {
  return {
    id: song.id,
    name: song.name,
    bpm: song.bpm,
    bars: songBars(song),
    patterns: song.patterns.length,
    changed,
    demo: song.id.startsWith(DEMO_PREFIX),
  };
}

/** All songs of this browser, the last changed first; a damaged entry is shown as well as it can be. */
export async function listSongs(at: LoomDb = db()): Promise<SongHead[]> {
  return at.transaction('r', at.heads, at.bodies, async () => {
    const [heads, ids] = [await at.heads.toArray(), await at.bodies.toCollection().primaryKeys()];
    const known = new Map(heads.map((head) => [head.id, head]));
    const named = ids.filter((id) => typeof id === 'string');
    return named.map((id) => soundHead(id, known.get(id))).sort((a, b) => b.changed - a.changed);
  });
}

/** An entry of the list whatever is stored of it. */
function soundHead(id: string, stored: Partial<SongHead> | undefined): SongHead {
  const number = (value: unknown) =>
    typeof value === 'number' && Number.isFinite(value) && value >= 0 ? value : 0;
  const head = typeof stored === 'object' && stored !== null ? stored : {};
  return {
    id,
    name: typeof head.name === 'string' ? head.name.slice(0, 200) : 'a song without a name',
    bpm: number(head.bpm),
    bars: number(head.bars),
    patterns: number(head.patterns),
    // Beyond this a date cannot be said.
    changed: Math.min(8.64e15, number(head.changed)),
    demo: id.startsWith(DEMO_PREFIX),
    n: number(head.n),
  };
}

/** What a song that is written follows on. */
export interface Follows {
  /** Changes in it. */
  n: number;
  /** Changes in the stored form that was seen last; -1 where there was none. */
  expects: number;
}

/**
 * Writes a song and its head together, or neither.
 * @param follows absent: whatever is stored is replaced
 * @throws WrittenElsewhere when another tab wrote or deleted the song meanwhile
 */
export async function saveSong(song: Song, follows?: Follows, at: LoomDb = db()): Promise<void> {
  await at.transaction('rw', at.heads, at.bodies, async () => {
    const head = await at.heads.get(song.id);
    if (follows) {
      if (!head && follows.expects >= 0) throw new WrittenElsewhere('gone');
      const moved = head && (head.n ?? 0) !== follows.expects;
      if (moved && head.by !== THIS_TAB) throw new WrittenElsewhere('newer');
    }
    const n = follows?.n ?? (head?.n ?? -1) + 1;
    await at.bodies.put({ id: song.id, song });
    await at.heads.put({ ...headOf(song, Date.now()), n, by: THIS_TAB });
  });
}

/** A stored song with how it is shown, and what was changed after it was stored. */
export interface LoadedSong extends OpenedSong {
  view: SongView;
  /** Changes in it, and in its stored form. */
  n: number;
  stored: number;
  /** The stored song, and the song after each change that was noted since. */
  trail?: () => Trodden[];
}

/** A stored song as it was left, or a sentence that says why it cannot be opened. */
export async function loadSong(
  id: string,
  at: LoomDb = db(),
  journal = new Journal(() => at),
): Promise<LoadedSong | { problem: string }> {
  const [body, head] = [await at.bodies.get(id), await at.heads.get(id)];
  if (!body) return { problem: 'This song is not in this browser. Choose one from the list.' };
  const read = readSong(body.song);
  if ('problem' in read) return read;
  const shown = await at.views.get(id);
  const view = soundView(shown?.view ?? read.view);
  const stored = soundHead(id, head).n!;
  const after = await journal.after(id, stored);
  const { song, n = stored } = withChanges(read.song, after, isSoundSong);
  const trail = () => trodden(read.song, stored, after);
  return { ...read, song, view, n, stored, trail };
}

function isSoundSong(song: unknown): song is Song {
  return checkSong(song as Song).length === 0;
}

/** Keeps a song as it was found: what is saved from now on is without the parts that were not sound. */
export async function keepDamaged(id: string, at: LoomDb = db()): Promise<void> {
  await at.transaction('rw', at.bodies, at.damaged, async () => {
    const body = await at.bodies.get(id);
    if (body && !(await at.damaged.get(id))) await at.damaged.put({ id, song: body.song });
  });
}

/** How the patterns of a song are shown from now on. */
export async function saveView(id: string, view: SongView, at: LoomDb = db()): Promise<void> {
  await at.views.put({ id, view });
}

/** A song as it was found, read or not: for saving what cannot be opened. */
export async function storedForm(id: string, at: LoomDb = db()): Promise<unknown> {
  return ((await at.damaged.get(id)) ?? (await at.bodies.get(id)))?.song;
}

/** Puts a song into the bin, where it stays until the bin is emptied. @returns its entry there */
export async function deleteSong(id: string, at: LoomDb = db()): Promise<BinnedSong | undefined> {
  const { heads, bodies, views, bin } = at;
  return at.transaction('rw', heads, bodies, views, bin, async () => {
    const body = await bodies.get(id);
    if (!body) return undefined;
    const head = soundHead(id, await heads.get(id));
    const binned = { id, head, body, shown: await views.get(id), deleted: Date.now() };
    await bin.put(binned);
    for (const table of [heads, bodies, views]) await table.delete(id);
    return binned;
  });
}

/** Takes a song out of the bin and puts it back among the songs. @returns whether it was there */
export async function undelete(id: string, at: LoomDb = db()): Promise<boolean> {
  const { heads, bodies, views, bin } = at;
  return at.transaction('rw', heads, bodies, views, bin, async () => {
    const binned = await bin.get(id);
    if (!isBinned(binned)) return false;
    const { head, body, shown } = binned;
    await views.put({ id, view: soundView(shown?.view) });
    await heads.put(soundHead(id, head));
    await bodies.put({ ...body, id });
    await bin.delete(id);
    return true;
  });
}

/** What lies in the bin, the last deleted first. */
export async function binnedSongs(at: LoomDb = db()): Promise<BinnedSong[]> {
  return (await at.bin.toArray())
    .filter(isBinned)
    .map((row) => ({
      ...row,
      head: soundHead(row.id, row.head),
      deleted: soundTime(row.deleted),
    }))
    .sort((a, b) => b.deleted - a.deleted);
}

/** Empties the bin. What was in it is gone, and what was noted of it. */
export async function emptyBin(at: LoomDb = db(), journal = new Journal(() => at)): Promise<void> {
  const ids = await at.bin.toCollection().primaryKeys();
  await at.bin.bulkDelete(ids);
  await at.damaged.bulkDelete(ids);
  await at.savePoints.where('song').anyOf(ids).delete();
  for (const id of ids) await journal.forget(id);
}

/** What the demo songs were before they were restored. */
export interface DemoBefore {
  heads: SongHead[];
  bodies: SongBody[];
  views: ShownSong[];
}

/**
 * Puts the demo songs back as they were shipped, all of them or none; songs of one's own are not
 * touched.
 * @returns what they were, for putting that back
 */
export async function restoreDemo(at: LoomDb = db()): Promise<DemoBefore> {
  const songs = demoSongs().reverse();
  const ids = songs.map(({ id }) => id);
  const journal = new Journal(() => at);
  const before = await at.transaction('rw', at.heads, at.bodies, at.views, async () => {
    const there = <T>(rows: (T | undefined)[]) => rows.filter((row): row is T => !!row);
    const found: DemoBefore = {
      heads: there(await at.heads.bulkGet(ids)),
      bodies: there(await at.bodies.bulkGet(ids)),
      views: there(await at.views.bulkGet(ids)),
    };
    await at.views.bulkDelete(ids);
    for (const song of songs) await saveSong(song, undefined, at);
    return found;
  });
  await at.savePoints.bulkPut(demoSavePoints(Date.now()));
  for (const id of ids) await journal.forget(id);
  return before;
}

/** Puts the demo songs back as they were before they were restored. */
export async function unrestoreDemo(before: DemoBefore, at: LoomDb = db()): Promise<void> {
  const journal = new Journal(() => at);
  await at.transaction('rw', at.heads, at.bodies, at.views, async () => {
    await at.heads.bulkPut(before.heads);
    await at.bodies.bulkPut(before.bodies);
    await at.views.bulkPut(before.views);
  });
  for (const { id } of before.bodies) await journal.forget(id);
}

export function demoIds(): string[] {
  return demoSongs().map(({ id }) => id);
}

/**
 * A browser without songs gets the demo. A page that is left half-way leaves no half of it: the
 * next one would take the first song for a list that is not empty.
 */
export async function demoIfEmpty(at: LoomDb = db()): Promise<void> {
  const songs = demoSongs().reverse();
  await at.transaction('rw', at.heads, at.bodies, at.savePoints, async () => {
    if ((await at.bodies.count()) > 0) return;
    for (const song of songs) await saveSong(song, undefined, at);
    await at.savePoints.bulkPut(demoSavePoints(Date.now()));
  });
}

/**
 * Finds changes of songs that are neither here nor in the bin, and takes them away: nothing can be done with them.
 * @returns how many there were
 */
export async function dropOrphans(at: LoomDb = db()): Promise<number> {
  return at.transaction('rw', at.journal, at.bodies, at.bin, async () => {
    const keys = await at.journal.toCollection().primaryKeys();
    const ids = [...new Set(keys.map(([song]) => song))];
    const here = await Promise.all(
      [at.bodies, at.bin].map((table) => table.where('id').anyOf(ids).primaryKeys()),
    );
    const known = new Set(here.flat());
    const orphans = keys.filter(([song]) => !known.has(song));
    await at.journal.bulkDelete(orphans);
    return orphans.length;
  });
}

/** Gives a stored song that nobody has open another name. */
export async function renameStored(
  id: string,
  name: string,
  at: LoomDb = db(),
  journal = new Journal(() => at),
): Promise<{ problem: string } | undefined> {
  const read = await loadSong(id, at, journal);
  if ('problem' in read) return read;
  const n = read.n + 1;
  await saveSong({ ...read.song, name }, { n, expects: read.stored }, at);
  await journal.forget(id, n);
  return undefined;
}
