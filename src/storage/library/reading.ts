import type { Groove } from '@/core/library/groove';
import { isGrooveFile, readGrooveFile } from '@/core/library/file';
import type { GrooveFile, LoomDb, SourceFile } from '../db';

/** A file on its way into the library. */
export interface Found {
  /** Where it lies, from the folder that was chosen: `rock/slow/07.mid`. */
  path: string;
  size: number;
  modified: number;
  bytes(): Promise<Uint8Array>;
}

/** How far a reading is, and what it came upon. */
export interface Progress {
  done: number;
  total: number;
  /** Grooves that are new in the library. */
  fresh: number;
  duplicates: number;
  unread: number;
  /** Files that are just as they were when they were last read. */
  unchanged: number;
}

/** So many files are read and stored together: what a killed tab can lose. */
export const BATCH = 64;
const LARGEST = 16 * 1024 * 1024;

export interface Control {
  /** Resolves at once, or when a pause is over. */
  go(): Promise<void>;
  cancelled(): boolean;
  /** Told after each batch, with the rows that are new. */
  tell(progress: Progress, rows: Groove[]): void;
}

/**
 * Reads files into the library, batch by batch: each batch is stored wholly or not at all. Files that
 * did not change since they were last read are skipped; the same hits under another name are noted as
 * a duplicate.
 */
export async function readInto(
  at: LoomDb,
  files: readonly Found[],
  control: Control,
): Promise<Progress> {
  const wanted = files.filter(({ path }) => isGrooveFile(path));
  const progress: Progress = {
    done: 0,
    total: wanted.length,
    fresh: 0,
    duplicates: 0,
    unread: 0,
    unchanged: 0,
  };
  for (let from = 0; from < wanted.length && !control.cancelled(); from += BATCH) {
    await control.go();
    if (control.cancelled()) break;
    const batch = wanted.slice(from, from + BATCH);
    const rows = await readBatch(at, batch, progress);
    progress.done += batch.length;
    control.tell({ ...progress }, rows);
  }
  return progress;
}

async function readBatch(at: LoomDb, batch: readonly Found[], progress: Progress) {
  const known = await at.sources.bulkGet(batch.map(({ path }) => path));
  const changed = batch.filter(({ size, modified }, i) => {
    const before = known[i];
    return !before || before.size !== size || before.modified !== modified;
  });
  progress.unchanged += batch.length - changed.length;
  const read = await Promise.all(changed.map(readOne));
  const ids = read.flatMap(({ groove }) => (groove ? [groove.id] : []));
  const there = new Set((await at.grooves.bulkGet(ids)).flatMap((row) => row?.id ?? []));
  const rows: Groove[] = [];
  const files: GrooveFile[] = [];
  const sources: SourceFile[] = [];
  for (const { found, groove, bytes, reason } of read) {
    const source: SourceFile = {
      path: found.path,
      size: found.size,
      modified: found.modified,
    };
    if (!groove) {
      progress.unread++;
      sources.push({ ...source, reason });
    } else if (there.has(groove.id)) {
      progress.duplicates++;
      sources.push({
        ...source,
        groove: groove.id,
        reason: 'It has the same hits as a groove that is there already.',
      });
    } else {
      there.add(groove.id);
      progress.fresh++;
      rows.push(groove);
      files.push({ id: groove.id, path: found.path, bytes });
      sources.push({ ...source, groove: groove.id });
    }
  }
  await at.transaction('rw', at.grooves, at.grooveFiles, at.sources, async () => {
    await at.grooves.bulkPut(rows);
    await at.grooveFiles.bulkPut(files);
    await at.sources.bulkPut(sources);
  });
  return rows;
}

interface ReadOne {
  found: Found;
  bytes: Uint8Array;
  groove?: Groove;
  reason?: string;
}

async function readOne(found: Found): Promise<ReadOne> {
  const bytes = new Uint8Array();
  const { path, size } = found;
  if (size > LARGEST) return { found, bytes, reason: 'It is larger than 16 MB.' };
  if (size === 0) return { found, bytes, reason: 'It is empty.' };
  try {
    const content = await found.bytes();
    const read = readGrooveFile(content, path, '');
    if ('reason' in read) return { found, bytes, reason: read.reason };
    const { identity } = read.groove;
    return { found, bytes: content, groove: { ...read.groove, id: `own/${identity}` } };
  } catch {
    return { found, bytes, reason: 'It could not be read: it may have been moved or be in use.' };
  }
}
