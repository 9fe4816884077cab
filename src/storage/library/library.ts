import { type Pattern, checkSong } from '@/core';
import { isGroove, partsOfFile, readFamily, rowReceived, type Groove } from '@/core/library';
import { emptySong, PATTERN_KINDS } from '@/core/model';
import {
  db,
  type GrooveFile,
  type GrooveRemark,
  type LoomDb,
  type ReadingJob,
  type SourceFile,
} from '../db';
import { isGrooveFile, isSource, soundJob } from '../rows';

export type { GrooveRemark, ReadingJob, SourceFile } from '../db';

/** What the server gives of the library. */
export interface ServerGrooves {
  grooves: Groove[];
  /** What a listener hears of a family, and what it is for. */
  families: ReadonlyMap<string, string>;
  /** It is still looking through its folders: asking again gives more. */
  more: boolean;
}

/** The grooves that the server gives, as far as it has read them. Rows that are none are left out. */
export async function serverGrooves(): Promise<ServerGrooves> {
  const answer = await fetch('/api/library');
  if (!answer.ok) throw new Error(`The library answered ${answer.status}`);
  const { grooves, more, families } = (await answer.json()) as Record<string, unknown>;
  const rows = (Array.isArray(grooves) ? grooves : []).map(rowReceived) as unknown[];
  const abouts = Object.entries((families ?? {}) as Record<string, unknown>);
  return {
    grooves: rows.filter(isGroove),
    families: new Map(
      abouts.filter((entry): entry is [string, string] => typeof entry[1] === 'string'),
    ),
    more: more === true,
  };
}

/** The grooves of one's own files. Rows that are damaged are left out; their files can be read again. */
export async function ownGrooves(at: LoomDb = db()): Promise<Groove[]> {
  return (await at.grooves.toArray()).filter(isGroove);
}

/** The hits of a groove, from the server or from the files that were read. */
export async function patternsOf(id: string, at: LoomDb = db()): Promise<Pattern[]> {
  if (isOwnPattern(id)) return [(await at.ownPatterns.get(id))?.pattern].filter(isSoundPattern);
  if (id.startsWith('own/')) {
    const [file, row] = await Promise.all([at.grooveFiles.get(id), at.grooves.get(id)]);
    if (!isGrooveFile(file)) return [];
    const through = isGroove(row) ? row.through : undefined;
    return partsOfFile(file.bytes, file.path, id, through)?.parts ?? [];
  }
  const shipped = /^shipped\/([\w-]+)\//.exec(id);
  if (shipped) return (await shippedFamily(shipped[1])).filter((pattern) => pattern.id === id);
  const path = id.split('/').map(encodeURIComponent).join('/');
  const answer = await fetch(`/api/library/${path}`);
  if (!answer.ok) return [];
  return [(await answer.json()) as Pattern].filter(isSoundPattern);
}

/** What was stored or comes from outside is checked like a song of one pattern. */
export function isSoundPattern(pattern: Pattern | undefined): pattern is Pattern {
  return (
    pattern !== undefined &&
    checkSong({ ...emptySong('x', 'x', 'x'), patterns: [pattern] }).length === 0
  );
}

/** Whether a row is that of a pattern that was put into the library, not of a file. */
export const isOwnPattern = (id: string) => id.startsWith('own/pattern/');

/** Puts a pattern into the library, or another one in its place; its row and its hits go together. */
export async function putOwnPattern(
  row: Groove,
  pattern: Pattern,
  at: LoomDb = db(),
): Promise<void> {
  await at.transaction('rw', at.grooves, at.ownPatterns, async () => {
    await at.grooves.put(row);
    await at.ownPatterns.put({ id: row.id, pattern });
  });
}

/** Stores rows anew that were measured again. Rows that are gone meanwhile stay gone. */
export async function saveRows(rows: readonly Groove[], at: LoomDb = db()): Promise<void> {
  await at.transaction('rw', at.grooves, async () => {
    const there = await at.grooves.bulkGet(rows.map(({ id }) => id));
    await at.grooves.bulkPut(rows.filter((_, i) => there[i] !== undefined));
  });
}

export async function dropOwnPattern(id: string, at: LoomDb = db()): Promise<void> {
  await at.transaction('rw', at.grooves, at.ownPatterns, async () => {
    await at.grooves.delete(id);
    await at.ownPatterns.delete(id);
  });
}

const families = new Map<string, Promise<Pattern[]>>();

/** The patterns of a shipped family: of a file that a page keeps, so that it is there without a server. */
function shippedFamily(family: string): Promise<Pattern[]> {
  const before = families.get(family);
  if (before) return before;
  const read = fetch(`/library/${family}.tab`).then(async (answer) => {
    if (!answer.ok) throw new Error(`The library answered ${answer.status}`);
    return readFamily(await answer.text(), `shipped/${family}`).patterns;
  });
  families.set(family, read);
  // What failed is asked for again the next time.
  read.catch(() => families.delete(family));
  return read;
}

export async function allRemarks(at: LoomDb = db()): Promise<Map<string, GrooveRemark>> {
  const rows = (await at.remarks.toArray()).filter(({ id }) => typeof id === 'string');
  return new Map(rows.map((remark) => [remark.id, soundRemark(remark)]));
}

/** What of a stored remark can be shown. */
function soundRemark({ id, stars, note, name, kind }: GrooveRemark): GrooveRemark {
  const remark: GrooveRemark = { id };
  if (Number.isInteger(stars) && stars! >= 0 && stars! <= 5) remark.stars = stars;
  if (typeof note === 'string') remark.note = note;
  if (typeof name === 'string') remark.name = name;
  if (PATTERN_KINDS.includes(kind!)) remark.kind = kind;
  return remark;
}

export async function saveRemark(remark: GrooveRemark, at: LoomDb = db()): Promise<void> {
  await at.remarks.put(remark);
}

/** Files that are not listed by themselves, with the reason. */
export async function unlisted(at: LoomDb = db()): Promise<SourceFile[]> {
  return (await at.sources.toArray()).filter((row) => isSource(row) && row.reason !== undefined);
}

/** What one's own files are in the library, as it was before they were taken out. */
export interface OwnFiles {
  grooves: Groove[];
  files: GrooveFile[];
  sources: SourceFile[];
}

/**
 * Takes all files of one's own out of the library; the files themselves stay where they are, and so do
 * patterns that were put into it.
 * @returns what was taken out, for putting it back
 */
export async function forgetOwn(at: LoomDb = db()): Promise<OwnFiles> {
  return at.transaction('rw', at.grooves, at.grooveFiles, at.sources, async () => {
    const grooves = (await at.grooves.toArray()).filter(({ id }) => !isOwnPattern(String(id)));
    const files = await at.grooveFiles.toArray();
    const sources = await at.sources.toArray();
    await at.grooves.bulkDelete(grooves.map(({ id }) => id));
    await Promise.all([at.grooveFiles.clear(), at.sources.clear()]);
    return { grooves, files, sources };
  });
}

/** Puts back what was taken out. */
export async function remember(own: OwnFiles, at: LoomDb = db()): Promise<void> {
  await at.transaction('rw', at.grooves, at.grooveFiles, at.sources, async () => {
    await at.grooves.bulkPut(own.grooves);
    await at.grooveFiles.bulkPut(own.files);
    await at.sources.bulkPut(own.sources);
  });
}

/** A reading that did not come to its end, as after a reload. */
export async function openJob(at: LoomDb = db()): Promise<ReadingJob | undefined> {
  for (const row of await at.jobs.toArray()) {
    const job = soundJob(row);
    if (job) return job;
  }
  return undefined;
}

export async function saveJob(job: ReadingJob, at: LoomDb = db()): Promise<void> {
  await at.jobs.put(job);
}

export async function endJob(at: LoomDb = db()): Promise<void> {
  await at.jobs.clear();
}
