import { realpath } from 'node:fs/promises';
import { parentPort } from 'node:worker_threads';
import { indexFolder, type IndexChange, type IndexedFile } from './indexing';

/** What the worker is told: the folders to look through, and what an earlier worker knew of them. */
export interface IndexAsk {
  folders: readonly string[];
  known?: readonly IndexedFile[];
}

/** What the worker tells. */
export type IndexWord =
  | { says: 'begin'; file: IndexedFile }
  | { says: 'change'; change: IndexChange }
  | { says: 'unreadable'; folder: number }
  | { says: 'done' };

const say = (word: IndexWord) => parentPort!.postMessage(word);

const files = new Map<string, IndexedFile>();

parentPort!.on('message', async ({ folders, known = [] }: IndexAsk) => {
  for (const file of known) files.set(file.id, file);
  for (const [index, folder] of folders.entries()) {
    try {
      await indexFolder(
        await realpath(folder),
        `server/${index + 1}`,
        files,
        (change) => say({ says: 'change', change }),
        (file) => say({ says: 'begin', file }),
      );
    } catch {
      say({ says: 'unreadable', folder: index + 1 });
    }
  }
  say({ says: 'done' });
});
