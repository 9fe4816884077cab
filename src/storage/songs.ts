import type { Song } from '@/core';
import type { SongView } from '@/core/model';
import { songBars } from '@/core/weave';
import { DEMO_PREFIX, demoSongs } from '@/demo';
import { db, type LoomDb, type ShownSong, type SongBody, type SongHead } from './db';
import { readSong, type ReadSong } from './songRecord';

export type { SongHead } from './db';

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

/** All songs of this browser, the last changed first. */
export function listSongs(at: LoomDb = db()): Promise<SongHead[]> {
  return at.heads.orderBy('changed').reverse().toArray();
}

/** Writes a song and its head together, or neither. */
export async function saveSong(song: Song, at: LoomDb = db()): Promise<void> {
  await at.transaction('rw', at.heads, at.bodies, async () => {
    await at.bodies.put({ id: song.id, song });
    await at.heads.put(headOf(song, Date.now()));
  });
}

/** A stored song with how it is shown. */
export async function loadSong(id: string, at: LoomDb = db()): Promise<ReadSong> {
  const body = await at.bodies.get(id);
  if (!body) return { problem: 'This song is not in this browser. Choose one from the list.' };
  const read = readSong(body.song);
  if ('problem' in read) return read;
  if (read.lost.length > 0) await keepDamaged(id, body.song, at);
  const shown = await at.views.get(id);
  return { ...read, view: shown?.view ?? read.view ?? {} };
}

/** Keeps a song as it was found: what is saved from now on is without the parts that were not sound. */
async function keepDamaged(id: string, song: unknown, at: LoomDb): Promise<void> {
  await at.transaction('rw', at.damaged, async () => {
    if (!(await at.damaged.get(id))) await at.damaged.put({ id, song });
  });
}

/** How the patterns of a song are shown from now on. */
export async function saveView(id: string, view: SongView, at: LoomDb = db()): Promise<void> {
  await at.views.put({ id, view });
}

/** The stored form of a song as it was found, read or not: for saving what cannot be opened. */
export async function storedForm(id: string, at: LoomDb = db()): Promise<string | undefined> {
  const found = (await at.damaged.get(id)) ?? (await at.bodies.get(id));
  return found && JSON.stringify(found.song, null, 1);
}

/** What is needed to bring a deleted song back. */
export interface Deleted {
  head: SongHead;
  body: SongBody;
  shown?: ShownSong;
}

export async function deleteSong(id: string, at: LoomDb = db()): Promise<Deleted | undefined> {
  return at.transaction('rw', at.heads, at.bodies, at.views, async () => {
    const head = await at.heads.get(id);
    const body = await at.bodies.get(id);
    const shown = await at.views.get(id);
    await at.heads.delete(id);
    await at.bodies.delete(id);
    await at.views.delete(id);
    return head && body && { head, body, shown };
  });
}

export async function undelete({ head, body, shown }: Deleted, at: LoomDb = db()): Promise<void> {
  await at.transaction('rw', at.heads, at.bodies, at.views, async () => {
    if (shown) await at.views.put(shown);
    await at.heads.put(head);
    await at.bodies.put(body);
  });
}

/**
 * Puts the demo songs back as they were shipped, all of them or none; songs of one's own are not
 * touched.
 */
export async function restoreDemo(at: LoomDb = db()): Promise<void> {
  const songs = demoSongs().reverse();
  await at.transaction('rw', at.heads, at.bodies, at.views, async () => {
    await at.views.bulkDelete(songs.map(({ id }) => id));
    for (const song of songs) await saveSong(song, at);
  });
}

/**
 * A browser without songs gets the demo. A page that is left half-way leaves no half of it: the
 * next one would take the first song for a list that is not empty.
 */
export async function demoIfEmpty(at: LoomDb = db()): Promise<void> {
  const songs = demoSongs().reverse();
  await at.transaction('rw', at.heads, at.bodies, async () => {
    if ((await at.heads.count()) > 0) return;
    for (const song of songs) await saveSong(song, at);
  });
}
