import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import type { DraftFamily } from '../draft';
import { readFamily } from '../library';

/** The families of the shipped library, as they are read in the browser. */
export function shippedFamilies(): DraftFamily[] {
  const folder = path.resolve('public/library');
  return readdirSync(folder)
    .filter((file) => file.endsWith('.tab'))
    .sort()
    .map((file) => {
      const id = `shipped/${file.replace(/\.tab$/, '')}`;
      const read = readFamily(readFileSync(path.join(folder, file), 'utf8'), id);
      return { name: read.family, bpm: read.bpm, patterns: read.patterns };
    });
}
