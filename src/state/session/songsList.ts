import { useLiveQuery } from 'dexie-react-hooks';
import { useEffect, useState } from 'react';
import type { Song } from '@/core';
import { whyNot } from '@/storage/autosave';
import { demoIfEmpty, listSongs, loadSong, type SongHead } from '@/storage/songs';
import { restoreDemo } from './session';

export type { SongHead } from '@/storage/songs';

/** The songs of this browser, kept current; or why they cannot be had. */
export interface SongList {
  songs?: readonly SongHead[];
  problem?: string;
}

/** Storage that does not answer within this time is taken as blocked. */
const PATIENCE_MS = 8000;

let ready: Promise<void> | undefined;

/** Brings the demo into a browser without songs. @param fresh whether it is restored where it is there */
export function prepareSongs(fresh: () => boolean): Promise<void> {
  ready ??= (async () => {
    if (fresh()) await restoreDemo();
    else {
      const late = new Promise<void>((_, fail) =>
        setTimeout(() => fail(new Error('storage does not answer')), PATIENCE_MS),
      );
      await Promise.race([demoIfEmpty(), late]);
    }
  })();
  return ready;
}

/** @param fresh whether the demo is restored first */
export function useSongList(fresh: () => boolean): SongList {
  const [prepared, setPrepared] = useState(false);
  const [problem, setProblem] = useState<string>();
  useEffect(() => {
    prepareSongs(fresh).then(
      () => setPrepared(true),
      (error) => setProblem(whyNot(error)),
    );
  }, [fresh]);
  // Nothing but Dexie's own promises inside: others make it lose sight of what is read.
  const songs = useLiveQuery(() => (prepared ? listSongs() : undefined), [prepared]);
  return { songs, problem };
}

/** The song itself, for its picture in the list; undefined while it loads or when it cannot be read. */
export function useStoredSong(id: string, changed: number): Song | undefined {
  return useLiveQuery(async () => {
    const read = await loadSong(id);
    return 'song' in read ? read.song : undefined;
  }, [id, changed]);
}
