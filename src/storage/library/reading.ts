import {
  type Groove,
  isGrooveFile as isGrooveName,
  namesOf,
  notesOfFile,
  type NotesOfFile,
  readGrooveFile,
} from '@/core/library';
import { isNoteMapChoice, type NoteMapChoice } from '@/core/midi';
import type { FamilyNoteMap, GrooveFile, LoomDb, SourceFile } from '../db';
import { CHANNELS } from '@/core/time';
import { withinPatience } from '../failures';
import { isGrooveFile, isSource } from '../rows';
import { isOwnPattern } from './library';

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
/** What of a batch is in memory together, in bytes; one file always is. */
const MOST_AT_ONCE = 32 * 1024 * 1024;
/** How long a file may take to hand over its bytes, in ms. */
const PATIENCE = 20_000;

const SAME_HITS = 'It has the same hits as a groove that is there already.';

/** A file whose bytes cannot be had, with the reason as a sentence. */
export class Unreadable extends Error {}

export interface Control {
  /** Resolves at once, or when a pause is over. */
  go(): Promise<void>;
  cancelled(): boolean;
  /** Told before each file is read, and without a path when that is over. */
  begin(path?: string): void;
  /** Told after each batch, with the rows that are new. */
  tell(progress: Progress, rows: Groove[]): void;
}

/** Where a reading that broke off goes on. */
export interface Resumed {
  /** What it came to until then. */
  progress?: Progress | undefined;
  /** Files that are not tried again, with the reason. */
  givenUp?: ReadonlyMap<string, string>;
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
  { progress: before, givenUp = new Map() }: Resumed = {},
): Promise<Progress> {
  const wanted = files.filter(({ path }) => isGrooveName(path));
  const progress: Progress = {
    ...(before ?? { done: 0, fresh: 0, duplicates: 0, unread: 0, unchanged: 0 }),
    total: wanted.length,
  };
  const choices = (await at.noteMaps.toArray()).filter(isNoteMapChoice);
  const maps = new Map(choices.map((choice) => [choice.family, choice]));
  const how = { at, maps, givenUp, begin: control.begin };
  while (progress.done < wanted.length) {
    await control.go();
    if (control.cancelled()) break;
    const batch = nextBatch(wanted, progress.done);
    const rows = await readBatch(batch, how, progress);
    progress.done += batch.length;
    control.tell({ ...progress }, rows);
  }
  return progress;
}

/** The files that are read and stored together: as many as may be in memory at once. */
function nextBatch(wanted: readonly Found[], from: number): readonly Found[] {
  let to = from + 1;
  let size = wanted[from].size;
  while (to < wanted.length && to - from < BATCH && size + wanted[to].size <= MOST_AT_ONCE) {
    size += wanted[to++].size;
  }
  return wanted.slice(from, to);
}

interface How {
  at: LoomDb;
  maps: ReadonlyMap<string, FamilyNoteMap>;
  givenUp: ReadonlyMap<string, string>;
  begin(path?: string): void;
}

async function readBatch(batch: readonly Found[], how: How, progress: Progress): Promise<Groove[]> {
  const { at } = how;
  const known = await at.sources.bulkGet(batch.map(({ path }) => path));
  const changed = batch.filter(({ size, modified }, i) => {
    const before = known[i];
    return !before || before.size !== size || before.modified !== modified;
  });
  progress.unchanged += batch.length - changed.length;
  const fetched = await Promise.all(changed.map((found) => fetchOne(found, how)));
  const read = fetched.map((one) => readOne(one, how));
  how.begin();
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
      sources.push({ ...source, reason, ...(bytes.length > 0 && { undrummed: true }) });
      if (bytes.length > 0) files.push({ id: undrummedId(found.path), path: found.path, bytes });
    } else if (there.has(groove.id)) {
      progress.duplicates++;
      sources.push({
        ...source,
        groove: groove.id,
        reason: SAME_HITS,
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
  /** Empty where they are of no use: the file holds no drums, and none can be chosen in it. */
  bytes: Uint8Array;
  groove?: Groove;
  reason?: string;
}

/** The id under which the bytes of a file are kept whose drums are still to be chosen. */
const undrummedId = (path: string) => `own/undrummed/${path}`;

/** The bytes of a file that is to be read, or why it is not. */
async function fetchOne(found: Found, { givenUp }: How): Promise<ReadOne> {
  const bytes = new Uint8Array();
  const { path, size } = found;
  const before = givenUp.get(path);
  if (before !== undefined) return { found, bytes, reason: before };
  if (size > LARGEST) return { found, bytes, reason: 'It is larger than 16 MB.' };
  if (size === 0) return { found, bytes, reason: 'It is empty.' };
  try {
    return { found, bytes: await withinPatience(found.bytes(), PATIENCE) };
  } catch (error) {
    const moved = 'It could not be read: it may have been moved or be in use.';
    return { found, bytes, reason: error instanceof Unreadable ? error.message : moved };
  }
}

function readOne(fetched: ReadOne, { maps, begin }: How): ReadOne {
  if (fetched.reason !== undefined) return fetched;
  const { found, bytes } = fetched;
  begin(found.path);
  const choice = choiceOf(maps.get(namesOf(found.path).family));
  const read = readGrooveFile(bytes, found.path, '', choice);
  if ('reason' in read) {
    return { found, bytes: read.undrummed ? bytes : new Uint8Array(), reason: read.reason };
  }
  return { found, bytes, groove: { ...read.groove, id: `own/${read.groove.identity}` } };
}

function choiceOf(row: FamilyNoteMap | undefined): NoteMapChoice | undefined {
  if (!row) return undefined;
  const { family: _, ...choice } = row;
  return choice;
}

/** The files of a family whose drums are still to be chosen. */
async function undrummedOf(at: LoomDb, family: string): Promise<SourceFile[]> {
  const rows = await at.sources.filter((row) => isSource(row) && row.undrummed === true).toArray();
  return rows.filter(({ path }) => namesOf(path).family === family);
}

/** How the files of a family are read, where the user chose it. */
export async function familyChoice(at: LoomDb, family: string): Promise<NoteMapChoice | undefined> {
  const row = await at.noteMaps.get(family);
  return isNoteMapChoice(row) ? choiceOf(row) : undefined;
}

/** How many files of a family there are: those that are listed, and those whose drums are to be chosen. */
export async function filesOfFamily(at: LoomDb, family: string): Promise<number> {
  const listed = await at.grooves.filter((row) => isOfFile(row, family)).count();
  return listed + (await undrummedOf(at, family)).length;
}

const isOfFile = (row: Groove, family: string) => row.family === family && !isOwnPattern(row.id);

/**
 * Reads the files of a family again in another way, batch by batch; what they are called, their stars and
 * notes stay. Files that come later are read like this too, and those come in whose drums were not known.
 * @param choice absent finds the drums of each, and the note map that fits them best
 * @returns the new rows, and how many files still have no drums
 */
export async function rereadFamily(
  at: LoomDb,
  family: string,
  choice: NoteMapChoice | undefined,
): Promise<{ rows: Groove[]; undrummed: number }> {
  if (choice) await at.noteMaps.put({ family, ...choice });
  else await at.noteMaps.delete(family);
  const ids = (await at.grooves.filter((row) => isOfFile(row, family)).toArray()).map(
    (row) => row.id,
  );
  const rows: Groove[] = [];
  for (let from = 0; from < ids.length; from += BATCH) {
    const files = await at.grooveFiles.bulkGet(ids.slice(from, from + BATCH));
    const read = files.flatMap((file) => {
      if (!file) return [];
      const found = readGrooveFile(file.bytes, file.path, file.id, choice);
      return 'groove' in found ? [found.groove] : [];
    });
    await at.grooves.bulkPut(read);
    rows.push(...read);
  }
  const waiting = await undrummedOf(at, family);
  let undrummed = 0;
  for (const source of waiting) {
    const taken = await takeIn(at, source, choice);
    if (taken === 'no drums') undrummed++;
    else if (taken !== 'same hits') rows.push(taken);
  }
  return { rows, undrummed };
}

/**
 * Lists a file whose drums were not known.
 * @returns its row, or why there is none: its drums still are not known, or the same hits are listed already
 */
async function takeIn(
  at: LoomDb,
  { undrummed: _, reason: __, ...source }: SourceFile,
  choice: NoteMapChoice | undefined,
): Promise<Groove | 'no drums' | 'same hits'> {
  const { path } = source;
  const file = await at.grooveFiles.get(undrummedId(path));
  const read = isGrooveFile(file) ? readGrooveFile(file.bytes, path, '', choice) : undefined;
  if (!read || !('groove' in read)) return 'no drums';
  const row = { ...read.groove, id: `own/${read.groove.identity}` };
  return at.transaction('rw', at.grooves, at.grooveFiles, at.sources, async () => {
    const twin = await at.grooves.get(row.id);
    await at.grooveFiles.delete(undrummedId(path));
    await at.sources.put({ ...source, groove: row.id, ...(twin && { reason: SAME_HITS }) });
    if (twin) return 'same hits';
    await at.grooves.put(row);
    await at.grooveFiles.put({ id: row.id, path, bytes: file!.bytes });
    return row;
  });
}

/**
 * How often the files of a family strike each of the 128 notes, on their drums and on each channel, before
 * they are read as drums.
 */
export async function notesOfFamily(at: LoomDb, family: string): Promise<NotesOfFile> {
  const sum: NotesOfFile = {
    drums: new Uint32Array(128),
    channels: CHANNELS.map(() => new Uint32Array(128)),
  };
  const add = (to: Uint32Array, counts: Uint32Array) =>
    counts.forEach((n, note) => (to[note] += n));
  const rows = await at.grooves.filter((row) => isOfFile(row, family)).toArray();
  const waiting = await undrummedOf(at, family);
  const ids = [...rows.map(({ id }) => id), ...waiting.map(({ path }) => undrummedId(path))];
  for (let from = 0; from < ids.length; from += BATCH) {
    for (const file of await at.grooveFiles.bulkGet(ids.slice(from, from + BATCH))) {
      if (!isGrooveFile(file)) continue;
      const { drums, channels } = notesOfFile(file.bytes, file.path);
      add(sum.drums, drums);
      channels.forEach((counts, channel) => add(sum.channels[channel], counts));
    }
  }
  return sum;
}
