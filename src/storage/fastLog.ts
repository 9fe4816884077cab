import * as Comlink from 'comlink';
import { nanoid } from 'nanoid';
import type { NotedChange } from './db';
import { withinPatience } from './failures';
import type { FastLogWorker } from './fastLog.worker';
import { FOLDER, lineOf } from './logLines';

/** How long a song that is opened waits for what a killed tab left of it, in ms. */
const PATIENCE = 2000;

/**
 * A file of this tab that changes are written to as they are made, beside the database: it is there some
 * milliseconds later, whatever the database is busy with. Where the browser has no such files, nothing is
 * missing but these milliseconds.
 */
export interface FastLog {
  note(change: NotedChange, difference: string): void;
  forget(song: string, upTo: number): void;
  /** Resolves when what killed tabs have left is in the database. */
  ready(): Promise<unknown>;
}

let log: FastLog | undefined;

/** The log of this tab; begun the first time it is asked for. */
export function fastLog(): FastLog | undefined {
  if (typeof Worker === 'undefined') return undefined;
  log ??= begin();
  return log;
}

function begin(): FastLog {
  const worker = new Worker(new URL('./fastLog.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<FastLogWorker>(worker);
  const begun = remote.begin(nanoid()).catch(() => false);
  return {
    note({ song, n }, difference) {
      worker.postMessage({ song, n, line: lineOf(song, n, difference) });
    },
    forget: (song, upTo) => void remote.forget(song, upTo),
    async ready() {
      if (!(await someAreLeft())) return;
      await withinPatience(begun, PATIENCE).catch(() => remote.giveUpAdopting());
    },
  };
}

/** Whether any tab has a log: mostly none has, and nobody waits. */
async function someAreLeft(): Promise<boolean> {
  try {
    const root = await navigator.storage.getDirectory();
    const folder = await root.getDirectoryHandle(FOLDER);
    for await (const _ of (folder as unknown as { keys(): AsyncIterable<string> }).keys())
      return true;
  } catch {
    // There is none, or the browser has no such files.
  }
  return false;
}
