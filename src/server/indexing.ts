import { readdir, readFile, stat } from 'node:fs/promises';
import { join, relative, sep } from 'node:path';
import { isGrooveFile, readGrooveFile, type Groove } from '@/core/library';

/** The most files that are read from a folder. */
const MOST_FILES = 20_000;
const LARGEST = 16 * 1024 * 1024;
/** So many files are told together. */
const BATCH = 64;

/** What is known of a file of a folder. */
export interface IndexedFile {
  id: string;
  /** Where it lies on this machine: never told to a browser. */
  path: string;
  size: number;
  /** When it was changed last, in milliseconds since 1970. */
  modified: number;
  groove?: Groove;
  /** Why it is not listed, a sentence. */
  problem?: string;
}

/** A change of the index: files that are new or were changed, and ids of files that are gone. */
export interface IndexChange {
  files: IndexedFile[];
  gone: string[];
}

/**
 * Looks through a folder and reads what is new or changed in it since the last time.
 * @param root the folder, without links in its path
 * @param prefix what the ids of its files begin with
 * @param known the files as they were the last time, by id; kept up to date
 * @param tell is told the changes, some files at a time
 * @param begin is told which file is being read
 */
export async function indexFolder(
  root: string,
  prefix: string,
  known: Map<string, IndexedFile>,
  tell: (change: IndexChange) => void,
  begin: (file: IndexedFile) => void = () => {},
): Promise<void> {
  const there = new Set<string>();
  const paths = await filesUnder(root);
  for (let from = 0; from < paths.length; from += BATCH) {
    const stated = await Promise.all(paths.slice(from, from + BATCH).map(statedFile));
    const files: IndexedFile[] = [];
    for (const { path, size, modified } of stated) {
      const under = relative(root, path).split(sep).join('/');
      const id = `${prefix}/${under}`;
      there.add(id);
      const before = known.get(id);
      if (before && before.size === size && before.modified === modified) continue;
      const begun = { id, path, size, modified };
      begin(begun);
      const file = { ...begun, ...(await readOne(path, under, id, size)) };
      known.set(id, file);
      files.push(file);
    }
    if (files.length > 0) tell({ files, gone: [] });
  }
  const gone = [...known.keys()].filter((id) => id.startsWith(`${prefix}/`) && !there.has(id));
  for (const id of gone) known.delete(id);
  if (gone.length > 0) tell({ files: [], gone });
}

/** A file that is gone between two looks is one of no size, which then cannot be read. */
async function statedFile(path: string): Promise<Pick<IndexedFile, 'path' | 'size' | 'modified'>> {
  try {
    const { size, mtimeMs } = await stat(path);
    return { path, size, modified: mtimeMs };
  } catch {
    return { path, size: 0, modified: 0 };
  }
}

/** The groove files of a folder and of those in it. Links are not followed: they could lead out of it. */
async function filesUnder(root: string): Promise<string[]> {
  const files: string[] = [];
  const waiting = [root];
  while (waiting.length > 0) {
    const folder = waiting.pop()!;
    for (const item of await readdir(folder, { withFileTypes: true })) {
      const path = join(folder, item.name);
      if (item.isDirectory()) waiting.push(path);
      else if (item.isFile() && isGrooveFile(item.name) && files.length < MOST_FILES) {
        files.push(path);
      }
    }
  }
  return files;
}

async function readOne(
  path: string,
  under: string,
  id: string,
  size: number,
): Promise<Pick<IndexedFile, 'groove' | 'problem'>> {
  if (size > LARGEST) return { problem: `${under} is larger than 16 MB and was left out.` };
  try {
    const read = readGrooveFile(new Uint8Array(await readFile(path)), under, id);
    return 'groove' in read ? read : { problem: `${under}: ${read.reason}` };
  } catch {
    return { problem: `${under} could not be read: it may have been moved or be in use.` };
  }
}
