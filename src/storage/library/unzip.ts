import { BlobReader, ZipReader, type FileEntry } from '@zip.js/zip.js/lib/zip-core-native.js';
import { isGrooveFile } from '@/core/library';
import { Unreadable, type Found } from './reading';

/** A zip whose groove files unpack to more than this is refused before anything of it is unpacked. */
export const MOST_UNPACKED = 1024 ** 3;
/** A zip with more entries than this is refused, whatever they are. */
export const MOST_ENTRIES = 200_000;
/** A zip inside a zip is unpacked into memory up to this size, in bytes. */
const LARGEST_INNER = 64 * 1024 ** 2;

/** The groove files of a zip, which are unpacked one by one when they are read. */
export interface Unzipped {
  files: Found[];
  /** What was not taken from it, a sentence each. */
  problems: string[];
}

/**
 * Lists the groove files of a zip from its directory, and those of zips inside it, one level deep. Of the
 * zip itself only what is asked for is ever in memory.
 */
export async function unzipGrooves(zip: Blob, name: string, depth = 0): Promise<Unzipped> {
  const files: Found[] = [];
  const problems: string[] = [];
  const under = name.replace(/\.zip$/i, '');
  let entries = 0;
  let unpacked = 0;
  try {
    const reader = new ZipReader(new BlobReader(zip), {
      useWebWorkers: false,
      filenameValidation: 'tolerant',
    });
    for await (const entry of reader.getEntriesGenerator()) {
      if (++entries > MOST_ENTRIES) return refused(name, 'holds more than 200,000 files');
      const { filename: path } = entry;
      const isZip = /\.zip$/i.test(path);
      if (entry.directory || !(isZip || isGrooveFile(path))) continue;
      if (leadsOut(path)) {
        problems.push(`“${path}” leads out of its zip and was refused.`);
        continue;
      }
      unpacked += entry.uncompressedSize;
      if (unpacked > MOST_UNPACKED) return refused(name, 'unpacks to more than 1 GB');
      if (!isZip) files.push(foundIn(entry, `${under}/${path}`));
      else if (depth > 0) {
        problems.push(`“${path}” is a zip in a zip in a zip: unpack “${name}” to read it.`);
      } else {
        const inner = await innerZip(entry, `${under}/${path}`);
        files.push(...inner.files);
        problems.push(...inner.problems);
      }
    }
  } catch {
    return {
      files: unpackedHere(files, under),
      problems: [
        ...problems,
        `“${name}” is no zip that can be read to its end: it may be cut off. ${
          files.length > 0
            ? 'What stands before the damage was read.'
            : 'Nothing was taken from it.'
        }`,
      ],
    };
  }
  return { files: unpackedHere(files, under), problems };
}

/**
 * Files of a zip by where they would lie if it were unpacked here. Most zips hold one folder of their own name, and
 * nothing beside it: that name stands in the paths once, as in those of the folder itself.
 */
function unpackedHere(files: readonly Found[], under: string): Found[] {
  const own = under.split('/').at(-1)!;
  const folder = `${under}/${own}/`;
  if (!files.every(({ path }) => path.startsWith(folder))) return [...files];
  return files.map((file) => ({ ...file, path: `${under}/${file.path.slice(folder.length)}` }));
}

function refused(name: string, why: string): Unzipped {
  const problem = `“${name}” ${why} and was not read. Unpack it and choose the folder instead.`;
  return { files: [], problems: [problem] };
}

async function innerZip(entry: FileEntry, path: string): Promise<Unzipped> {
  if (entry.uncompressedSize > LARGEST_INNER) {
    return refused(path, 'is a zip of more than 64 MB inside another');
  }
  try {
    const bytes = await contentOf(entry);
    return await unzipGrooves(new Blob([bytes as Uint8Array<ArrayBuffer>]), path, 1);
  } catch (error) {
    const why = error instanceof Unreadable ? error.message : 'It cannot be unpacked.';
    return { files: [], problems: [`“${path}”: ${why}`] };
  }
}

function foundIn(entry: FileEntry, path: string): Found {
  return {
    path,
    size: entry.uncompressedSize,
    // The checksum of what is in it: a zip that is made anew changes only what has changed.
    modified: entry.signature ?? 0,
    bytes: () => contentOf(entry),
  };
}

/**
 * Unpacks one file, never beyond the size that the directory states.
 * @throws Unreadable with a sentence, where that is not what is in it
 */
async function contentOf(entry: FileEntry): Promise<Uint8Array> {
  if (entry.encrypted) throw new Unreadable('It is locked with a password.');
  const size = entry.uncompressedSize;
  const parts: Uint8Array[] = [];
  let length = 0;
  const bounded = new WritableStream<Uint8Array>({
    write(part) {
      length += part.length;
      if (length > size) throw new Unreadable('It is larger than its zip says.');
      parts.push(part);
    },
  });
  try {
    await entry.getData(bounded, { checkSignature: true, useWebWorkers: false });
  } catch {
    if (length > size) throw new Unreadable('It is larger than its zip says.');
    throw new Unreadable('It is damaged in its zip.');
  }
  if (length !== size) throw new Unreadable('It is smaller than its zip says.');
  const content = new Uint8Array(size);
  let at = 0;
  for (const part of parts) {
    content.set(part, at);
    at += part.length;
  }
  return content;
}

/** Absolute paths, drives and steps upwards. */
function leadsOut(path: string): boolean {
  return /^([\\/]|[A-Za-z]:)/.test(path) || path.split(/[\\/]/).includes('..');
}
