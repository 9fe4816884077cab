import { strFromU8, strToU8, zipSync, type Zippable } from 'fflate';
import type { Song } from '@/core';
import { samplesOf, SONG_FORMAT, soundView, type SampleHash, type SongView } from '@/core/model';
import schema from './song.schema.json';
import type { SavePoint, StoredSample } from './db';
import { isPointPart, pointParts, readPointParts } from './pointParts';
import { readSong, type OpenedSong, type ReadSong } from './songRecord';
import { isSoundPart, readSoundParts, soundParts, type ReadSounds } from './soundParts';
import { readZipParts } from './zipParts';

/** What such a file is called, and how it begins: it is a zip. */
export const SONG_FILE_ENDING = 'loom.zip';

/** What a song file holds, by name. See docs/formats/song-file.md. */
const PARTS = {
  song: 'song.json',
  about: 'about.json',
  schema: 'song.schema.json',
  picture: 'picture.png',
};

/** A song is refused beyond this, and so are its sounds, packed or unpacked, in bytes. */
const LARGEST = 64 * 1024 * 1024;
const LARGEST_SOUNDS = 1024 ** 3;

/** A song of a file, with its sounds and save points as parts that are not read yet. */
export interface SongInFile extends OpenedSong {
  parts?: Readonly<Record<string, Uint8Array>>;
  /** The file ends too early: sounds and save points may be missing. */
  isCut?: boolean;
}

/** What goes into a file besides the song itself. */
export interface SongExtras {
  view?: SongView;
  sounds?: readonly StoredSample[];
  points?: readonly SavePoint[];
  /** The song as it looks, for those who see the file and have no Verse Loom: PNG. */
  picture?: Uint8Array;
}

/** What stands in `about.json`. */
interface About {
  application: 'Verse Loom';
  form: number;
  /** How the patterns are shown; no part of the song. */
  view: SongView;
}

/** The song as a file that any Verse Loom opens, and that can be read without one. */
export function writeSongFile(
  song: Song,
  { view = {}, sounds = [], points = [], picture }: SongExtras = {},
): Uint8Array {
  const about: About = { application: 'Verse Loom', form: SONG_FORMAT, view };
  const json = (value: unknown) => strToU8(`${JSON.stringify(value, null, 1)}\n`);
  // Two minutes after the earliest moment a zip can state: the same song is the same bytes.
  const parts: Zippable = {
    [PARTS.song]: json(song),
    [PARTS.about]: json(about),
    [PARTS.schema]: json(schema),
  };
  if (picture) parts[PARTS.picture] = [picture, { level: 0 }];
  Object.assign(parts, soundParts(sounds), pointParts(points));
  return zipSync(parts, { level: 6, mtime: new Date(1980, 0, 1, 0, 2) });
}

/** Whether a file may be one: a zip, whatever its name. */
export function looksLikeZip(bytes: Uint8Array): boolean {
  return bytes[0] === 0x50 && bytes[1] === 0x4b && bytes[2] === 0x03 && bytes[3] === 0x04;
}

/**
 * Reads a song file, or the bare JSON of a song as it is saved of one that cannot be opened.
 * @returns nothing when the zip holds no song: it may be a folder of MIDI files
 */
export function readSongFile(
  bytes: Uint8Array,
  name: string,
): SongInFile | { problem: string } | undefined {
  if (bytes.length > LARGEST_SOUNDS) return { problem: `“${name}” is too large for a song.` };
  if (!looksLikeZip(bytes)) {
    return bytes.length > LARGEST
      ? { problem: `“${name}” is too large for a song.` }
      : readJson(bytes, name);
  }
  const unpacked = readZipParts(
    bytes,
    (part) =>
      isSoundPart(part) || isPointPart(part)
        ? LARGEST_SOUNDS
        : part === PARTS.song || part === PARTS.about
          ? LARGEST
          : undefined,
    LARGEST_SOUNDS,
  );
  if (unpacked === 'damaged') {
    return { problem: `“${name}” is damaged: it begins as a zip and cannot be unpacked.` };
  }
  if (unpacked === 'huge') return { problem: `“${name}” states a song of an impossible size.` };
  const { parts, isCut } = unpacked;
  if (!parts[PARTS.song]) return undefined;
  const read = readJson(parts[PARTS.song], name);
  if (!('song' in read)) return read;
  const held = Object.entries(parts).filter(([part]) => isSoundPart(part) || isPointPart(part));
  const opened: SongInFile = {
    ...read,
    ...(held.length > 0 && { parts: Object.fromEntries(held) }),
    ...(isCut && { isCut }),
  };
  const about = parts[PARTS.about] && parsed(parts[PARTS.about]);
  const shown = (about as Partial<About> | undefined)?.view;
  return shown === undefined ? opened : { ...opened, view: soundView(shown) };
}

/**
 * The sounds of a song that came in a file.
 * @param here which sounds need not be read: they are at hand under the same names
 */
export async function readSongSounds(
  { song, parts = {} }: SongInFile,
  here: (hashes: readonly SampleHash[]) => Promise<ReadonlySet<SampleHash>>,
): Promise<ReadSounds> {
  const wanted = samplesOf(song.kit);
  const there = await here(wanted);
  return readSoundParts(
    parts,
    wanted.filter((hash) => !there.has(hash)),
  );
}

/** The save points of a song that came in a file. */
export const readSongPoints = ({ parts = {} }: SongInFile) => readPointParts(parts);

function readJson(bytes: Uint8Array, name: string): ReadSong {
  const value = parsed(bytes);
  if (value === undefined) return { problem: `“${name}” is no song: its text cannot be read.` };
  const read = readSong(value);
  return 'problem' in read ? { problem: `“${name}”: ${read.problem}` } : read;
}

function parsed(bytes: Uint8Array): unknown {
  try {
    return JSON.parse(strFromU8(bytes));
  } catch {
    return undefined;
  }
}
