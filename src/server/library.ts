import { readdir, readFile, realpath, stat } from 'node:fs/promises';
import { delimiter, join, relative, sep } from 'node:path';
import type { Pattern } from '@/core';
import {
  isGrooveFile,
  partsOfFile,
  readGrooveFile,
  readShippedFamily,
  type Groove,
} from '@/core/library';

/** The grooves this server can give: those that are shipped, and those of further folders. */
export interface ServerLibrary {
  grooves: Groove[];
  /** What could not be read, a sentence each. */
  report: string[];
}

const SHIPPED = join(process.cwd(), 'library');
/** The most files that are read from further folders. */
const MOST_FILES = 20_000;
const LARGEST = 16 * 1024 * 1024;

/** Further folders of `.mid` and tablature files, from VERSE_LOOM_LIBRARY. */
function furtherFolders(): string[] {
  return (process.env.VERSE_LOOM_LIBRARY ?? '').split(delimiter).filter(Boolean);
}

interface Entry {
  groove: Groove;
  pattern(): Promise<Pattern | undefined>;
}

let read: Promise<{ entries: Map<string, Entry>; report: string[] }> | undefined;

/** Reads everything once; a server that is started again reads it anew. */
function library() {
  read ??= readAll();
  return read;
}

async function readAll() {
  const entries = new Map<string, Entry>();
  const report: string[] = [];
  for (const file of (await readdir(SHIPPED)).filter((name) => name.endsWith('.tab')).sort()) {
    const id = `shipped/${file.replace(/\.tab$/, '')}`;
    const { grooves, patterns } = readShippedFamily(
      await readFile(join(SHIPPED, file), 'utf8'),
      id,
    );
    grooves.forEach((groove, i) => {
      entries.set(groove.id, { groove, pattern: async () => patterns[i] });
    });
  }
  for (const [index, folder] of furtherFolders().entries()) {
    try {
      await readFolder(await realpath(folder), `server/${index + 1}`, entries, report);
    } catch {
      report.push(`The folder ${index + 1} of VERSE_LOOM_LIBRARY cannot be read.`);
    }
  }
  return { entries, report };
}

async function readFolder(
  root: string,
  prefix: string,
  entries: Map<string, Entry>,
  report: string[],
): Promise<void> {
  const waiting = [root];
  let files = 0;
  while (waiting.length > 0) {
    const folder = waiting.pop()!;
    for (const item of await readdir(folder, { withFileTypes: true })) {
      const path = join(folder, item.name);
      if (item.isDirectory()) waiting.push(path);
      // Links are not followed: they could lead out of the folder.
      if (!item.isFile() || !isGrooveFile(item.name) || ++files > MOST_FILES) continue;
      const under = relative(root, path).split(sep).join('/');
      const id = `${prefix}/${under}`;
      if ((await stat(path)).size > LARGEST) {
        report.push(`${under} is larger than 16 MB and was left out.`);
        continue;
      }
      const bytes = new Uint8Array(await readFile(path));
      const found = readGrooveFile(bytes, under, id);
      if ('reason' in found) report.push(`${under}: ${found.reason}`);
      else {
        entries.set(id, {
          groove: found.groove,
          pattern: async () =>
            partsOfFile(new Uint8Array(await readFile(path)), under, id)?.parts[0],
        });
      }
    }
  }
}

export async function serverLibrary(): Promise<ServerLibrary> {
  const { entries, report } = await library();
  return { grooves: [...entries.values()].map(({ groove }) => groove), report };
}

/**
 * The hits of a groove. Only ids of the index are answered: no path is ever made from what was asked
 * for, so nothing outside the library can be read.
 */
export async function patternOfGroove(id: string): Promise<Pattern | undefined> {
  return (await library()).entries.get(id)?.pattern();
}
