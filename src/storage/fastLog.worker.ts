import * as Comlink from 'comlink';
import { db, type NotedChange } from './db';
import { mirrorLine, type MirrorWord } from './mirror/changes';
import { FOLDER, linesOf } from './logLines';

/** What this worker needs of the browser's private files, which TypeScript lists for workers only. */
interface SyncHandle {
  write(bytes: Uint8Array, at: { at: number }): number;
  truncate(size: number): void;
  close(): void;
}
interface Line {
  song: string;
  n: number;
  line: string;
}
type File = FileSystemFileHandle & { createSyncAccessHandle(): Promise<SyncHandle> };
type Folder = FileSystemDirectoryHandle & { entries(): AsyncIterable<[string, FileSystemHandle]> };

let log: SyncHandle | undefined;
let size = 0;
/** Changes that came before the log was begun. */
let early: Line[] | undefined = [];
/** What tabs that are gone have left came too late: songs are opened without it. */
let late = false;
/** The newest change of each song that is in the log and not known to be stored. */
const pending = new Map<string, number>();
const encoder = new TextEncoder();

/**
 * Writes changes to a private file of this tab. What is written is with the operating system when the
 * call ends: no database, no other process and no queue lie between.
 */
const fastLog = {
  /**
   * Takes over what tabs that are gone have left, and begins a log of this one.
   * @returns whether there is one
   */
  async begin(name: string): Promise<boolean> {
    try {
      // One tab at a time: none takes the log that another is just beginning for a left one.
      await navigator.locks.request(FOLDER, async () => {
        const root = await navigator.storage.getDirectory();
        const folder = (await root.getDirectoryHandle(FOLDER, { create: true })) as Folder;
        await adopt(folder, name);
        const file = (await folder.getFileHandle(name, { create: true })) as File;
        log = await file.createSyncAccessHandle();
      });
      for (const change of early ?? []) write(change);
    } catch {
      // Where there are no such files, or no locks, the database is alone.
    }
    early = undefined;
    return log !== undefined;
  },

  /** Songs are opened now: what is not moved yet would come too late, and stay out of order. */
  giveUpAdopting(): void {
    late = true;
  },

  /**
   * Throws away what is stored by now, once it is in the mirror too: a database that the browser throws away leaves
   * the song as it was mirrored last, and these changes.
   */
  forget(song: string, upTo: number): void {
    if (!mirrorLine() || upTo === Infinity) return drop(song, upTo);
    // Where no mirror is kept, nobody waits for it.
    setTimeout(drop, MIRRORED_WITHIN, song, upTo);
  },
};

/** How long a change waits for the mirror, in ms. */
const MIRRORED_WITHIN = 60_000;

mirrorLine()?.addEventListener('message', ({ data }: MessageEvent<MirrorWord>) => {
  if (data.says === 'mirrored') drop(data.song, data.n);
});

/** Takes a song off what the log is kept for; it is begun anew once nothing is left of that. */
function drop(song: string, upTo: number): void {
  if ((pending.get(song) ?? Infinity) <= upTo) pending.delete(song);
  if (pending.size > 0 || size === 0) return;
  log?.truncate(0);
  size = 0;
}

/** Moves the changes of tabs that are gone to the database; the logs of open tabs are locked. */
async function adopt(folder: Folder, mine: string): Promise<void> {
  for await (const [name, handle] of folder.entries()) {
    if (name === mine || handle.kind !== 'file') continue;
    const file = handle as File;
    let lock: SyncHandle;
    try {
      lock = await file.createSyncAccessHandle();
    } catch {
      continue;
    }
    lock.close();
    const changes = await notStored(linesOf(await (await file.getFile()).text()));
    if (changes.length > 0 && !late) await db().journal.bulkPut(changes);
    await folder.removeEntry(name);
  }
}

/** Those of some changes that are not in the stored songs. */
async function notStored(changes: NotedChange[]): Promise<NotedChange[]> {
  const ids = [...new Set(changes.map(({ song }) => song))];
  const heads = await db().heads.bulkGet(ids);
  const stored = new Map(heads.flatMap((head) => (head ? [[head.id, head.n ?? 0] as const] : [])));
  return changes.filter(({ song, n }) => n > (stored.get(song) ?? -1));
}

function write({ song, n, line }: Line): void {
  if (!log) return void early?.push({ song, n, line });
  pending.set(song, n);
  size += log.write(encoder.encode(line), { at: size });
}

// Changes come by plain messages, so that nothing is between a change and the file.
self.addEventListener('message', ({ data }: MessageEvent<{ line?: unknown }>) => {
  if (typeof data?.line === 'string') write(data as Line);
});

export type FastLogWorker = typeof fastLog;

Comlink.expose(fastLog);
