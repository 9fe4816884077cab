import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import type { Song } from '@/core';
import { NoAnswer, whyNot, withinPatience } from '@/storage/failures';
import { keepMirror, restoreLost, type Restored } from '@/storage/mirror';
import { roomLeft, type Room } from '@/storage/room';
import {
  binnedSongs,
  demoIfEmpty,
  dropOrphans,
  headOf as storedHeadOf,
  listSongs,
  loadSong,
  type BinnedSong,
  type SongHead,
} from '@/storage/songs';
import { useWorkbench } from '../store';

export type { BinnedSong, SongHead } from '@/storage/songs';
export type { Room } from '@/storage/room';

/** The songs of this browser, kept current; or why they cannot be had. */
export interface SongList {
  songs?: readonly SongHead[];
  problem?: string;
}

let ready: Promise<void> | undefined;
/** What the browser has lost is being put back: that may take longer than storage does. */
let isRestoring = false;

/** Brings back what was lost, or the demo into a browser without songs. @param fresh see `prepare` */
function preparing(fresh: () => boolean): Promise<void> {
  return (ready ??= prepare(fresh()));
}

/** @param fresh whether the demo is restored where it is there */
async function prepare(fresh: boolean): Promise<void> {
  const restored = await restoreLost(() => (isRestoring = true)).catch(() => undefined);
  if (restored) void sayRestored(restored);
  if (fresh) await import('./session').then(({ restoreDemo }) => restoreDemo());
  else await demoIfEmpty();
  keepMirror();
  const orphans = await dropOrphans().catch(() => 0);
  if (orphans > 0) void sayOrphans(orphans);
}

async function sayRestored({ songs, others, newest }: Restored): Promise<void> {
  const { notify } = await import('../notices/notices');
  const counted = (n: number, one: string) => `${n} ${one}${n === 1 ? '' : 's'}`;
  const when = newest && new Date(newest.changed).toLocaleString('en', SAID);
  const last = newest ? ` Worked on last: “${newest.name}”, ${when}.` : '';
  notify(
    `This browser threw its storage away. From the copy beside it ${counted(songs, 'song')} and ${counted(others, 'other thing')} are back.${last}`,
    'error',
  );
}

const SAID = { dateStyle: 'long', timeStyle: 'short' } as const;

async function sayOrphans(count: number): Promise<void> {
  const { notify } = await import('../notices/notices');
  notify(
    `${count === 1 ? 'One change' : `${count} changes`} of a song that is not in this browser any more ${count === 1 ? 'was' : 'were'} found. If you miss a song, open your last backup.`,
    'error',
  );
}

let waited = false;

/** As soon as songs are there, or storage has let one wait for too long. */
export async function songsPrepared(fresh: () => boolean): Promise<void> {
  if (waited) return;
  // Storage may be blocked; opening a song then says so in its own words.
  const prepared = preparing(fresh);
  await withinPatience(prepared).catch(() => (isRestoring ? prepared.catch(() => {}) : undefined));
  waited = true;
}

/** @param fresh whether the demo is restored first */
export function useSongList(fresh: () => boolean): SongList {
  const [prepared, setPrepared] = useState(false);
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    const fail = (error: unknown) => setProblem(whyNot(error));
    // What comes late is shown all the same.
    preparing(fresh).then(() => setPrepared(true), fail);
    withinPatience(preparing(fresh)).catch((error) => isRestoring || fail(error));
  }, [fresh]);
  // Nothing but Dexie's own promises inside: others make it lose sight of what is read.
  const songs = useLiveQuery(() => (prepared ? listSongs() : undefined), [prepared]);
  useEffect(() => {
    if (!prepared || songs) return;
    const late = setTimeout(() => setProblem(whyNot(new NoAnswer())), 3000);
    return () => clearTimeout(late);
  }, [prepared, songs]);
  return { songs, problem: songs ? undefined : problem };
}

/** The song itself, for its picture in the list; undefined while it loads or when it cannot be read. */
export function useStoredSong(id: string, changed: number): Song | undefined {
  const inTab = useWorkbench((state) => state.unsaved.find(({ song }) => song.id === id)?.song);
  const stored = useLiveQuery(async () => {
    const read = await loadSong(id);
    return 'song' in read ? read.song : undefined;
  }, [id, changed]);
  return inTab ?? stored;
}

/** A song as the list shows it that is not in storage. */
export function headOf(song: Song): SongHead {
  return storedHeadOf(song, Date.now());
}

/** What lies in the bin. */
export function useBin(): readonly BinnedSong[] {
  return useLiveQuery(() => binnedSongs().catch(() => [])) ?? [];
}

/** Used and free room of the browser's storage, looked at again when songs change. */
export function useRoom(songs: readonly SongHead[] | undefined): Room | undefined {
  const [room, setRoom] = useState<Room>();
  const unsaved = useWorkbench((state) => state.unsaved);
  useEffect(() => {
    void roomLeft().then(setRoom);
  }, [songs, unsaved]);
  return room;
}

/** The other songs of this browser, to compare with. */
export function useOtherSongs(): readonly SongHead[] {
  const { songId } = useWorkbench.getState();
  return useLiveQuery(() => listSongs(), [])?.filter(({ id }) => id !== songId) ?? [];
}
