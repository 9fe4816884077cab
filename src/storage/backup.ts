import { strFromU8, strToU8, zipSync, type Zippable } from 'fflate';
import { nanoid } from 'nanoid';
import type { Table } from 'dexie';
import { isNoteMapChoice } from '@/core/midi';
import { isGroove, rowReceived, rowSent, type Groove } from '@/core/library';
import { differenceOf, isKit, isStrip, soundView } from '@/core/model';
import {
  db,
  type FamilyNoteMap,
  type GrooveFile,
  type GrooveRemark,
  type KeptKit,
  type OwnPattern,
  type LoomDb,
  type Preset,
  type SourceFile,
} from './db';
import { keptDeliveries, readDelivery, type KeptDelivery } from './deliveries';
import { keptKits, keptPresets } from './kits';
import { pointParts, readPointParts } from './pointParts';
import { isGrooveFile, isSample, isSource, soundPoint } from './rows';
import { samplesHere } from './samples';
import { readSoundParts, soundParts } from './soundParts';
import { headOf, listSongs, loadSong, storedForm } from './songs';
import { readSong } from './songRecord';
import { allRemarks, isSoundPattern, ownGrooves } from './library/library';
import { cutOff, readZipParts } from './zipParts';
import { grooveIdNow } from './upgrades/grooveIds';

/** What a backup is called. */
export const BACKUP_ENDING = 'backup.zip';

/** The part by which a backup is known. See docs/formats/backup.md. */
const ABOUT = 'backup.json';

/** A backup is refused beyond this, unpacked, in bytes. */
const LARGEST = 1024 ** 3;

/**
 * Everything of this browser as one file: songs with their save points and sounds, one's own library with its
 * remarks, and what was kept: kits, presets, deliveries.
 */
export async function writeBackup(at: LoomDb = db()): Promise<Uint8Array> {
  const json = (value: unknown) => strToU8(JSON.stringify(value));
  const parts: Zippable = {
    [ABOUT]: json({ application: 'Verse Loom', form: 1, made: new Date().toISOString() }),
  };
  const add = (name: string, bytes: Uint8Array) => {
    // Files of music and text are small; that they are stored as they are keeps this quick.
    parts[name] = [bytes, { level: 1 }];
  };
  for (const { id } of await listSongs(at)) {
    const read = await loadSong(id, at);
    const isWhole = 'song' in read && read.lost.length === 0;
    // What is damaged is kept as it was found.
    const song = isWhole ? read.song : ((await storedForm(id, at)) ?? null);
    const view = isWhole ? read.view : {};
    add(`songs/${encodeURIComponent(id)}.json`, json({ song, view }));
  }
  const library = {
    grooves: (await ownGrooves(at)).map(rowSent),
    sources: (await at.sources.toArray()).filter(isSource),
    remarks: [...(await allRemarks(at)).values()],
    noteMaps: (await at.noteMaps.toArray()).filter(isNoteMapChoice),
    patterns: (await at.ownPatterns.toArray()).filter(({ pattern }) => isSoundPattern(pattern)),
    files: [] as Omit<GrooveFile, 'bytes'>[],
  };
  for (const { bytes, ...file } of (await at.grooveFiles.toArray()).filter(isGrooveFile)) {
    add(`files/${library.files.length}`, bytes);
    library.files.push(file);
  }
  add('library.json', json(library));
  const kept = {
    kits: await keptKits(at),
    presets: await keptPresets(at),
    deliveries: await keptDeliveries(at),
  };
  add('kept.json', json(kept));
  const points = (await at.savePoints.toArray()).flatMap((row) => {
    const point = soundPoint(row);
    return point ? [{ ...point, body: row.body }] : [];
  });
  for (const [part, bytes] of Object.entries(pointParts(points))) add(part, bytes);
  return zipSync(Object.assign(parts, soundParts((await at.samples.toArray()).filter(isSample))));
}

/** What came of a backup: what is new here, what was here as it is, and what could not be read. */
export interface Restored {
  songs: number;
  copies: number;
  same: number;
  grooves: number;
  problems: string[];
}

/**
 * Puts back what a backup holds. Nothing that is here is overwritten: a song that is here and is another
 * one by now comes in beside it, under a name that says so.
 * @returns nothing when the file is no backup; a sentence when it cannot be read
 */
export async function restoreBackup(
  bytes: Uint8Array,
  name: string,
  at: LoomDb = db(),
): Promise<Restored | { problem: string } | undefined> {
  const unpacked = readZipParts(bytes, () => LARGEST, LARGEST);
  if (unpacked === 'damaged') return { problem: `“${name}” is damaged and cannot be unpacked.` };
  if (unpacked === 'huge') {
    return { problem: `“${name}” unpacks to more than 1 GB and was not read.` };
  }
  const { parts, isCut } = unpacked;
  if (!parts[ABOUT]) return undefined;
  const restored: Restored = {
    songs: 0,
    copies: 0,
    same: 0,
    grooves: 0,
    problems: isCut ? [cutOff(name)] : [],
  };
  await restoreSounds(parts, restored, at);
  for (const [path, content] of Object.entries(parts)) {
    if (/^songs\/[^/]+\.json$/.test(path)) await restoreSong(path, content, { restored, at });
  }
  if (parts['library.json']) await restoreLibrary(parts, restored, at);
  await restoreKept(parts, { restored, at });
  return restored;
}

interface Restoring {
  restored: Restored;
  at: LoomDb;
}

/** Puts back the sounds that are not here. */
async function restoreSounds(
  parts: Readonly<Record<string, Uint8Array>>,
  restored: Restored,
  at: LoomDb,
): Promise<void> {
  const held = Object.keys(parts).flatMap(
    (part) => /^sounds\/([0-9a-f]+)\.wav$/.exec(part)?.[1] ?? [],
  );
  const here = await samplesHere(held, at);
  const missing = held.filter((hash) => !here.has(hash));
  const { sounds, problems } = await readSoundParts(parts, missing);
  await at.samples.bulkPut(sounds);
  restored.problems.push(...problems);
}

/** Puts back save points, kits, presets and deliveries that are not here. */
async function restoreKept(
  parts: Readonly<Record<string, Uint8Array>>,
  { restored, at }: Restoring,
): Promise<void> {
  const { points, problems } = readPointParts(parts);
  restored.problems.push(...problems);
  await addMissing(at.savePoints, points, ({ id }) => id);
  const kept = (parts['kept.json'] && parsed(parts['kept.json'])) as
    { [K in 'kits' | 'presets' | 'deliveries']?: unknown } | undefined;
  const rows = (list: unknown) => (Array.isArray(list) ? (list as unknown[]) : []);
  const kits = rows(kept?.kits).filter((row): row is KeptKit => {
    const { id, name, kit } = (row ?? {}) as Partial<KeptKit>;
    return typeof id === 'string' && typeof name === 'string' && isKit(kit);
  });
  const presets = rows(kept?.presets).filter((row): row is Preset => {
    const { id, name, strip } = (row ?? {}) as Partial<Preset>;
    return typeof id === 'string' && typeof name === 'string' && isStrip(strip);
  });
  const deliveries = rows(kept?.deliveries).filter((row): row is KeptDelivery => {
    const { name, delivery } = (row ?? {}) as Partial<KeptDelivery>;
    return typeof name === 'string' && readDelivery(delivery) !== undefined;
  });
  await addMissing(at.kits, kits, ({ id }) => id);
  await addMissing(at.presets, presets, ({ id }) => id);
  await addMissing(at.deliveries, deliveries, ({ name }) => name);
}

async function restoreSong(
  path: string,
  content: Uint8Array,
  { restored, at }: Restoring,
): Promise<void> {
  const value = parsed(content) as { song?: unknown; view?: unknown } | undefined;
  const read = readSong(value?.song);
  if ('problem' in read) {
    restored.problems.push(`${path}: ${read.problem}`);
    return;
  }
  const { lost, song } = read;
  if (lost.length > 0) restored.problems.push(`“${song.name}”: ${lost[0].where}: ${lost[0].what}`);
  const { heads, bodies, views } = at;
  await at.transaction('rw', heads, bodies, views, async () => {
    const here = await bodies.get(song.id);
    if (here && alike(here.song, song)) {
      restored.same++;
      return;
    }
    const copy = here && { ...song, id: nanoid(10), name: `${song.name}, from a backup` };
    const kept = copy ?? song;
    await bodies.put({ id: kept.id, song: kept });
    await heads.put({ ...headOf(kept, Date.now()), n: 0 });
    await views.put({ id: kept.id, view: soundView(value?.view) });
    if (copy) restored.copies++;
    else restored.songs++;
  });
}

/** Whether two songs are the same, in whatever order their fields are stored. */
function alike(a: unknown, b: unknown): boolean {
  const [one, other] = [a, b].map((song) => JSON.parse(JSON.stringify(song)) as unknown);
  return differenceOf(one, other) === undefined;
}

async function restoreLibrary(
  parts: Readonly<Record<string, Uint8Array>>,
  restored: Restored,
  at: LoomDb,
): Promise<void> {
  const library = parsed(parts['library.json']) as Record<string, unknown> | undefined;
  const rows = <T>(name: string, key: keyof T) =>
    (Array.isArray(library?.[name]) ? (library[name] as (T | null)[]) : []).filter(
      (row): row is T => typeof row === 'object' && typeof row?.[key] === 'string',
    );
  const grooves = rows<Groove>('grooves', 'id')
    .map((row): unknown => rowReceived(row))
    .filter(isGroove);
  const files = rows<GrooveFile>('files', 'id').flatMap(({ id, path }, i): GrooveFile[] => {
    const bytes = parts[`files/${i}`];
    return bytes && typeof path === 'string' ? [{ id, path, bytes }] : [];
  });
  const patterns = rows<OwnPattern>('patterns', 'id').filter(({ pattern }) =>
    isSoundPattern(pattern),
  );
  const noteMaps = rows<FamilyNoteMap>('noteMaps', 'family').filter(isNoteMapChoice);
  const { grooveFiles, sources, remarks: noted, ownPatterns } = at;
  const tables = [at.grooves, grooveFiles, sources, noted, at.noteMaps, ownPatterns];
  await at.transaction('rw', tables, async () => {
    const here = new Set(await at.grooves.toCollection().primaryKeys());
    const fresh = grooves.filter(({ id }) => !here.has(id));
    await at.grooves.bulkAdd(fresh);
    restored.grooves = fresh.length;
    await addMissing(at.grooveFiles, files, ({ id }) => id);
    await addMissing(at.sources, rows<SourceFile>('sources', 'path'), ({ path }) => path);
    const remarks = rows<GrooveRemark>('remarks', 'id');
    await addMissing(
      at.remarks,
      remarks.map((remark) => ({ ...remark, id: grooveIdNow(remark.id) })),
      ({ id }) => id,
    );
    await addMissing(at.noteMaps, noteMaps, ({ family }) => family);
    await addMissing(at.ownPatterns, patterns, ({ id }) => id);
  });
}

async function addMissing<T>(
  table: Table<T, string>,
  rows: readonly T[],
  keyOf: (row: T) => string,
): Promise<void> {
  const here = new Set(await table.toCollection().primaryKeys());
  await table.bulkPut(rows.filter((row) => !here.has(keyOf(row))));
}

function parsed(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(strFromU8(bytes));
  } catch {
    return undefined;
  }
}
