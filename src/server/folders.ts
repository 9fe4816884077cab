import { delimiter } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { IndexedFile } from './indexing';
import type { IndexWord } from './indexing.worker';

/** What further folders hold, as far as it is known. */
export interface FolderIndex {
  files: ReadonlyMap<string, IndexedFile>;
  /** What could not be read at all, a sentence each. */
  problems: string[];
  /** More is on its way. */
  more: boolean;
}

/** How long one file may take to be read, in ms. */
const PER_FILE = 15_000;
/** Folders are looked through again when they are asked for, but not more often than this, in ms. */
const REST = 5000;
/** An answer waits so long for what changed, in ms. */
const WAIT = 1500;

const files = new Map<string, IndexedFile>();
let unreadable = new Set<number>();
let running: Promise<void> | undefined;
let finished = -Infinity;
/** It knows what it has read, and stays for later looks. */
let worker: Worker | undefined;

/** Further folders of `.mid` and tablature files, from VERSE_LOOM_LIBRARY. */
function furtherFolders(): string[] {
  return (process.env.VERSE_LOOM_LIBRARY ?? '').split(delimiter).filter(Boolean);
}

/**
 * What the further folders hold. They are looked through off the server's own thread: the answer waits
 * only a moment for that, and says whether more is to come.
 */
export async function folderIndex(): Promise<FolderIndex> {
  const folders = furtherFolders();
  if (folders.length > 0) {
    if (!running && Date.now() - finished > REST) {
      running = look(folders).finally(() => {
        running = undefined;
        finished = Date.now();
      });
    }
    if (running) await atMost(WAIT, running);
  }
  return {
    files,
    problems: [...unreadable].map(
      (folder) => `The folder ${folder} of VERSE_LOOM_LIBRARY cannot be read.`,
    ),
    more: running !== undefined,
  };
}

/** Waits for something, but not longer than this, in ms. */
async function atMost(ms: number, something: Promise<void>): Promise<void> {
  let timer: ReturnType<typeof setTimeout> | undefined;
  await Promise.race([something, new Promise((late) => (timer = setTimeout(late, ms)))]);
  clearTimeout(timer);
}

/** Looks through all folders; a file that takes too long is given up and named, and the rest goes on. */
function look(folders: readonly string[]): Promise<void> {
  return new Promise((done) => {
    const fresh = worker === undefined;
    const mine = (worker ??= new Worker(new URL('./indexing.worker.ts', import.meta.url)));
    // A server that is to stop does not wait for it.
    mine.unref();
    const missing = new Set<number>();
    let timer: ReturnType<typeof setTimeout> | undefined;
    const end = () => {
      clearTimeout(timer);
      mine.removeAllListeners();
    };
    const giveUp = (file: IndexedFile) => {
      end();
      void mine.terminate();
      worker = undefined;
      const problem = `${file.id} takes longer than 15 seconds to read and was left out.`;
      files.set(file.id, { ...file, problem });
      void look(folders).then(done);
    };
    mine.on('message', (word: IndexWord) => {
      clearTimeout(timer);
      if (word.says === 'begin') timer = setTimeout(giveUp, PER_FILE, word.file);
      else if (word.says === 'unreadable') missing.add(word.folder);
      else if (word.says === 'change') {
        for (const file of word.change.files) files.set(file.id, file);
        for (const id of word.change.gone) files.delete(id);
      } else {
        end();
        unreadable = missing;
        done();
      }
    });
    mine.on('error', (error) => {
      end();
      worker = undefined;
      console.error('The further folders could not be looked through.', error);
      done();
    });
    mine.postMessage({ folders, ...(fresh && { known: [...files.values()] }) });
  });
}
