import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { Pattern } from '@/core';
import { partsOfFile, readShippedFamily, type Groove } from '@/core/library';
import { folderIndex } from './folders';

/** The grooves this server can give: those that are shipped, and those of further folders. */
export interface ServerLibrary {
  grooves: Groove[];
  /** What a listener hears of each shipped family, and what it is for. */
  families: Record<string, string>;
  /** What could not be read, a sentence each. */
  report: string[];
  /** Further folders are still being looked through: there may be more. */
  more: boolean;
}

const SHIPPED = join(process.cwd(), 'public', 'library');

interface Shipped {
  /** By id. */
  entries: Map<string, { groove: Groove; pattern: Pattern }>;
  families: Record<string, string>;
}

let read: Promise<Shipped> | undefined;

/** Reads what is shipped, once. */
function shipped(): Promise<Shipped> {
  read ??= readShipped();
  return read;
}

async function readShipped(): Promise<Shipped> {
  const entries: Shipped['entries'] = new Map();
  const families: Shipped['families'] = {};
  for (const file of (await readdir(SHIPPED)).filter((name) => name.endsWith('.tab')).sort()) {
    const id = `shipped/${file.replace(/\.tab$/, '')}`;
    const text = await readFile(join(SHIPPED, file), 'utf8');
    const { family, about, grooves, patterns } = readShippedFamily(text, id);
    families[family] = about;
    grooves.forEach((groove, i) => entries.set(groove.id, { groove, pattern: patterns[i] }));
  }
  return { entries, families };
}

export async function serverLibrary(): Promise<ServerLibrary> {
  const [own, { files, problems, more }] = await Promise.all([shipped(), folderIndex()]);
  const found = [...files.values()];
  return {
    grooves: [
      ...[...own.entries.values()].map(({ groove }) => groove),
      ...found.flatMap(({ groove }) => groove ?? []),
    ],
    families: own.families,
    report: [...problems, ...found.flatMap(({ problem }) => problem ?? [])],
    more,
  };
}

/**
 * The hits of a groove. Only ids of the index are answered: no path is ever made from what was asked
 * for, so nothing outside the library can be read.
 */
export async function patternOfGroove(id: string): Promise<Pattern | undefined> {
  const own = (await shipped()).entries.get(id);
  if (own) return own.pattern;
  const file = (await folderIndex()).files.get(id);
  if (!file?.groove) return undefined;
  try {
    const under = id.replace(/^server\/\d+\//, '');
    return partsOfFile(new Uint8Array(await readFile(file.path)), under, id)?.parts[0];
  } catch {
    return undefined;
  }
}
