import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import type { Song } from '@/core';
import { NoAnswer, whyNotRead, withinPatience } from '@/storage/failures';
import { keepMirror, restoreLost } from '@/storage/mirror';
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
/** Songs that the browser has lost are being put back: that may take longer than storage does. */
let isRestoring = false;

/** Brings back what was lost, or the demo into a browser without songs. @param fresh see `prepare` */
function preparing(fresh: () => boolean): Promise<void> {
  return (ready ??= prepare(fresh()));
}

/** @param fresh whether the demo is restored where it is there */
async function prepare(fresh: boolean): Promise<void> {
  const restored = await restoreLost(() => (isRestoring = true)).catch(() => 'failed' as const);
  // Where nothing was lost, storage as such does not answer: the list says that in its own words.
  if (restored && (restored !== 'failed' || isRestoring)) {
    void import('./lost').then(({ sayRestored }) => sayRestored(restored));
  }
  if (fresh) await import('./session').then(({ restoreDemo }) => restoreDemo());
  else await demoIfEmpty();
  keepMirror();
  // They can wait for the next time where storage does not answer now.
  const orphans = await dropOrphans().catch(() => 0);
  if (orphans > 0) void import('./lost').then(({ sayOrphans }) => sayOrphans(orphans));
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
    const fail = (error: unknown) => setProblem(whyNotRead(error));
    // What comes late is shown all the same.
    preparing(fresh).then(() => setPrepared(true), fail);
    withinPatience(preparing(fresh)).catch((error) => isRestoring || fail(error));
  }, [fresh]);
  // Nothing but Dexie's own promises inside: others make it lose sight of what is read.
  const songs = useLiveQuery(() => (prepared ? listSongs() : undefined), [prepared]);
  useEffect(() => {
    if (!prepared || songs) return;
    const late = setTimeout(() => setProblem(whyNotRead(new NoAnswer())), 3000);
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
