import type { Song } from '@/core';
import { songBars } from '@/core/weave';
import { DEMO_PREFIX, demoSongs } from '@/demo';
import { db, type LoomDb, type SongBody, type SongHead } from './db';
import { readSong, type ReadSong } from './songRecord';

export type { SongHead } from './db';

/** A song as the list shows it. */
export function headOf(song: Song, changed: number): SongHead {
  return {
    id: song.id,
    name: song.name,
    bpm: song.tempo[0].bpm,
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

export async function loadSong(id: string, at: LoomDb = db()): Promise<ReadSong> {
  const body = await at.bodies.get(id);
  if (!body) return { problem: 'This song is not in this browser. Choose one from the list.' };
  return readSong(body.song);
}

/** The stored form of a song as it is, read or not: for saving what cannot be opened. */
export async function storedForm(id: string, at: LoomDb = db()): Promise<string | undefined> {
  const body = await at.bodies.get(id);
  return body && JSON.stringify(body.song, null, 1);
}

/** What is needed to bring a deleted song back. */
export interface Deleted {
  head: SongHead;
  body: SongBody;
}

export async function deleteSong(id: string, at: LoomDb = db()): Promise<Deleted | undefined> {
  return at.transaction('rw', at.heads, at.bodies, async () => {
    const head = await at.heads.get(id);
    const body = await at.bodies.get(id);
    await at.heads.delete(id);
    await at.bodies.delete(id);
    return head && body && { head, body };
  });
}

export async function undelete({ head, body }: Deleted, at: LoomDb = db()): Promise<void> {
  await at.transaction('rw', at.heads, at.bodies, async () => {
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
  await at.transaction('rw', at.heads, at.bodies, async () => {
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
