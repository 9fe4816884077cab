import { isRecord } from '@/core/model';
import type { BinnedSong, GrooveFile, ReadingJob, SavePoint, SourceFile, StoredSample } from './db';

/**
 * Rows of the database as they are read: another version, another program or a damaged disk may have left anything
 * there. A row with all that it must have is taken with its sound parts; any other is left where it is, and out.
 */

const isText = (value: unknown): value is string => typeof value === 'string';
const isNumber = (value: unknown): value is number =>
  typeof value === 'number' && Number.isFinite(value);
/** Arrays that storage hands out may be of another kind than the ones of this page. */
const isArrayOf = (kind: string, value: unknown) =>
  Object.prototype.toString.call(value) === `[object ${kind}]`;

/** Rows that have a text for a key and a name, which lists are sorted by. */
export const isNamed = (row: unknown): row is { name: string } => isRecord(row) && isText(row.name);

export function isSample(row: unknown): row is StoredSample {
  if (!isRecord(row)) return false;
  const { hash, name, left, right } = row;
  return (
    isText(hash) &&
    isText(name) &&
    isArrayOf('Float32Array', left) &&
    (right === undefined ||
      (isArrayOf('Float32Array', right) &&
        (right as Float32Array).length === (left as Float32Array).length))
  );
}

export const isGrooveFile = (row: unknown): row is GrooveFile =>
  isRecord(row) && isText(row.id) && isText(row.path) && isArrayOf('Uint8Array', row.bytes);

export function isSource(row: unknown): row is SourceFile {
  if (!isRecord(row)) return false;
  const { path, size, modified, groove, reason, undrummed } = row;
  const isOptional = (value: unknown) => value === undefined || isText(value);
  return (
    isText(path) &&
    isNumber(size) &&
    isNumber(modified) &&
    isOptional(groove) &&
    isOptional(reason) &&
    (undrummed === undefined || undrummed === true)
  );
}

const REASONS: readonly SavePoint['why'][] = [
  'by hand',
  'an hour of work',
  'before something large',
];

/** A save point without its song, which is read by itself; undefined where it does not say whose it is. */
export function soundPoint(row: unknown): Omit<SavePoint, 'body'> | undefined {
  if (!isRecord(row)) return undefined;
  const { id, song, name, note, why, made } = row;
  if (!isText(id) || !isText(song) || !isNumber(made)) return undefined;
  return {
    id,
    song,
    name: isText(name) ? name.slice(0, 300) : '',
    note: isText(note) ? note.slice(0, 5000) : '',
    why: REASONS.find((one) => one === why) ?? 'by hand',
    // Beyond this a date cannot be said.
    made: Math.max(-8.64e15, Math.min(8.64e15, made)),
  };
}

/** An unfinished reading with its sound parts; undefined where it has no name. */
export function soundJob(row: unknown): ReadingJob | undefined {
  if (!isRecord(row) || !isText(row.id) || !isText(row.name)) return undefined;
  const { id, name, total, folder } = row;
  const isFolder = isRecord(folder) && folder.kind === 'directory';
  return {
    id,
    name,
    total: isNumber(total) && total >= 0 ? total : 0,
    ...(isFolder && { folder: folder as unknown as FileSystemDirectoryHandle }),
  };
}

/** A song in the bin; its head and its song are read by themselves. */
export function isBinned(row: unknown): row is BinnedSong {
  return isRecord(row) && isText(row.id) && isRecord(row.body);
}

/** When something was, in milliseconds since 1970; 0 where that cannot be said. */
export const soundTime = (value: unknown): number =>
  isNumber(value) && Math.abs(value) <= 8.64e15 ? value : 0;
