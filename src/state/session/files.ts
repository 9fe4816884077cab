import { guideOf } from '@/core/model';
import { nanoid } from 'nanoid';
import { platform } from '../platform';
import type { Command, Guide } from '@/core';
import { readGuides } from '@/core/guide';
import { nextDye, samplesOf, type Song, type SongView } from '@/core/model';
import { MAX_FILE_BYTES, tooLarge, emptyReport, type Imported } from '@/core/midi';
import { isMusicXml, MAX_SCORE_BYTES } from '@/core/musicxml';
import { fileName } from '@/core/names';
import { formOf, writeForm } from '@/core/weave';
import { NoAnswer, withinPatience } from '@/storage/failures';
import { keepSample, samplesHere, storedSamples } from '@/storage/samples';
import { listPoints, takePoints } from '@/storage/savePoints';
import {
  readSongFile,
  readSongPoints,
  readSongSounds,
  SONG_FILE_ENDING,
  writeSongFile,
  type SongInFile,
} from '@/storage/songFile';
import { storedForm } from '@/storage/songs';
import { cutOff } from '@/storage/zipParts';
import { importAside, type Aside } from '@/workers';
import { edit, songBefore } from './edit';
import { goToSong } from '../routes';
import { receiveBackup } from './backups';
import { compareWith } from './savePoints';
import { addSong, storedOrUnsaved } from './session';
import { showPattern } from '../shape/shape';
import { openSongNow, useWorkbench, type Incoming } from '../store';
import { notify } from '../notices/notices';

let reading: Aside<Imported> | undefined;

/**
 * Opens a song file as a song of one's own, or puts back a backup.
 * @returns whether it was one of these, or was said why it cannot be read
 */
export async function receiveSongFile(file: File): Promise<boolean> {
  let bytes: Uint8Array;
  try {
    bytes = new Uint8Array(await file.arrayBuffer());
  } catch {
    notify(unreadable(file.name), 'error');
    return true;
  }
  const read = readSongFile(bytes, file.name);
  if (!read) return receiveBackup(bytes, file.name);
  if ('problem' in read) {
    notify(read.problem, 'error');
    return true;
  }
  const song = await withItsSounds(read);
  const { points, problems } = readSongPoints(read);
  const id = await addSong(song, read.view);
  try {
    await takePoints(id, points);
  } catch {
    problems.push('Its save points could not be kept: this browser’s storage is full or closed.');
  }
  if (read.isCut) problems.unshift(cutOff(file.name));
  for (const problem of problems) notify(problem, 'error');
  if (read.lost.length > 0) {
    const [{ where, what }] = read.lost;
    const more = read.lost.length > 1 ? `, and ${read.lost.length - 1} more` : '';
    notify(
      `Parts of “${file.name}” are damaged and were left out: ${where}: ${what}${more}.`,
      'error',
    );
  }
  goToSong(id, song.places.length > 0 ? 'weave' : 'shape');
  return true;
}

const unreadable = (name: string) =>
  `“${name}” could not be read: it may have been moved or be in use. Choose it again.`;

/** Saves a song as a file that any Verse Loom opens: the open one, or one that could not be stored. */
export async function saveSongFile(song = songBefore() ?? openSongNow()): Promise<void> {
  const name = fileName(song.name, SONG_FILE_ENDING);
  const { view, songId } = useWorkbench.getState();
  const shown = song.id === songId ? view : {};
  platform.saveFile(await songFileOf(song, shown), name, 'application/zip');
  notify(
    `“${name}” was saved. It opens in any Verse Loom, with “open a file” or dropped on the page.`,
  );
}

/** A song with its picture, its save points and the sounds that all of them play, as the bytes of a file. */
async function songFileOf(song: Song, view?: SongView): Promise<BlobPart> {
  // A song without storage is saved all the same.
  const points = await withinPatience(listPoints(song.id)).catch(() => []);
  const kits = [song, ...points.map(({ body }) => body)].map(({ kit }) => kit);
  const hashes = [...new Set(kits.flatMap(samplesOf))];
  const sounds = await withinPatience(storedSamples(hashes)).catch(() => []);
  const drawn = await withinPatience(platform.drawSong(song)).catch(() => undefined);
  const picture = drawn && new Uint8Array(await drawn.arrayBuffer());
  return writeSongFile(song, { view, sounds, points, ...(picture && { picture }) }) as BlobPart;
}

/** Saves a song of the list as a file. */
export async function saveListedSong(id: string): Promise<void> {
  const read = await storedOrUnsaved(id);
  if ('problem' in read) return saveStored(id);
  platform.saveFile(
    await songFileOf(read.song, read.view),
    fileName(read.song.name, SONG_FILE_ENDING),
    'application/zip',
  );
}

/** Reads a dropped or chosen file; what became of it is shown before anything is changed. */
export async function receiveFile(file: File): Promise<void> {
  reading?.cancel();
  if (/\.(zip|json)$/i.test(file.name)) {
    if (!(await receiveSongFile(file))) {
      notify(
        `“${file.name}” holds no song. A zip of MIDI files is read in Gather, into your own library.`,
        'error',
      );
    }
    return;
  }
  if (file.size > largest(file.name)) {
    const report = { ...emptyReport(file.name), error: tooLarge(file.name, file.size) };
    useWorkbench.setState({
      incoming: {
        ...NOTHING_ASKED,
        name: file.name,
        bytes: new Uint8Array(),
        reading: false,
        report,
      },
    });
    return;
  }
  try {
    const bytes = new Uint8Array(await file.arrayBuffer());
    await read(file.name, bytes);
  } catch {
    notify(unreadable(file.name), 'error');
  }
}

const largest = (name: string) => (isMusicXml(name) ? MAX_SCORE_BYTES : MAX_FILE_BYTES);

/** How a file is read before anything was chosen: its notes through the map that fits them best. */
const NOTHING_ASKED: Pick<Incoming, 'asked' | 'guides'> = {
  asked: { notes: 'guess', repeats: 'find' },
  guides: [],
};

/** Reads the waiting file again in another way: other tracks, another note map, cut otherwise. */
export async function askOfIncoming(change: Incoming['asked']): Promise<void> {
  const { incoming } = useWorkbench.getState();
  if (!incoming) return;
  const { name, bytes, asked, guides } = incoming;
  await read(name, bytes, { asked: { ...asked, ...change }, guides });
}

/** Takes a part of the waiting file as a guide, or not; what is a guide is no drum. */
export async function toggleIncomingGuide(id: string): Promise<void> {
  const { incoming } = useWorkbench.getState();
  if (!incoming) return;
  const there = incoming.guides.includes(id);
  const guides = there ? incoming.guides.filter((one) => one !== id) : [...incoming.guides, id];
  useWorkbench.setState({ incoming: { ...incoming, guides } });
  const sources = incoming.report?.sources ?? [];
  if (!there && sources.some((source) => source.id === id && source.taken)) {
    const left = sources.filter((source) => source.taken && source.id !== id);
    await askOfIncoming({ sources: left.map((source) => source.id) });
  }
}

/** The guides that were chosen of a file on its way in. */
function guidesOf({ name, bytes, guides, report }: Incoming): Guide[] {
  if (guides.length === 0) return [];
  const parts = readGuides(bytes, name);
  return guides.map((id) => {
    const source = report?.sources.find((one) => one.id === id);
    const called = source?.trackName || `Track ${source?.track ?? ''}`.trim();
    return guideOf(nanoid(8), called, 0, parts.notesOf(id));
  });
}

/** How long a file may take to be read, in ms. */
const PATIENCE = 60_000;

function givenUp(name: string, error: unknown): string {
  return error instanceof NoAnswer
    ? `“${name}” takes longer than a minute to read and was given up. Nothing was changed.`
    : `“${name}” could not be read to its end. Nothing was changed.`;
}

/** Waits for a file to be read. One that takes too long, or that its reader dies at, is given up: its report says so. */
async function readToEnd({ result, cancel }: Aside<Imported>, name: string): Promise<Imported> {
  try {
    return await withinPatience(result, PATIENCE);
  } catch (error) {
    cancel();
    return { report: { ...emptyReport(name), error: givenUp(name, error) } };
  }
}

async function read(name: string, bytes: Uint8Array, how = NOTHING_ASKED): Promise<void> {
  const before = useWorkbench.getState().incoming;
  const same = before?.bytes === bytes;
  const on = { ...how, name, bytes };
  useWorkbench.setState({
    incoming: { ...on, reading: true, report: same ? before.report : undefined },
  });
  reading = importAside(bytes, name, how.asked);
  const { report, song } = await readToEnd(reading, name);
  // Another file, or the same one asked for in yet another way, has taken its place.
  const now = useWorkbench.getState().incoming;
  if (now?.bytes !== bytes || now.asked !== how.asked) return;
  useWorkbench.setState({ incoming: { ...on, guides: now.guides, reading: false, report, song } });
}

/** Puts the waiting file aside; nothing was changed by it. */
export function dropIncoming(): void {
  reading?.cancel();
  useWorkbench.setState({ incoming: undefined });
}

/** Makes the waiting file a song of its own. @returns its id */
export async function takeAsSong(): Promise<string | undefined> {
  const { incoming } = useWorkbench.getState();
  if (!incoming?.song) return undefined;
  const id = await addSong({ ...incoming.song, guides: guidesOf(incoming) });
  useWorkbench.setState({ incoming: undefined });
  return id;
}

/** Puts the patterns of the waiting file on the shelf of the open song. */
export function takeAsPatterns(): void {
  const { incoming } = useWorkbench.getState();
  if (!incoming?.song) return;
  let song = openSongNow();
  const commands: Command[] = incoming.song.patterns.map((pattern) => {
    const value = { ...pattern, id: nanoid(8), dye: nextDye(song) };
    song = { ...song, patterns: [...song.patterns, value] };
    return { type: 'add pattern', value };
  });
  const patterns = commands.length;
  for (const guide of guidesOf(incoming)) commands.push({ type: 'add reference part', guide });
  if (!edit(commands, 'take patterns from a file')) return;
  useWorkbench.setState({ incoming: undefined });
  const shelf = openSongNow().patterns;
  showPattern(shelf[shelf.length - patterns].id);
  notify(
    patterns === 1
      ? `“${shelf.at(-1)!.name}” is on the shelf.`
      : `${patterns} patterns are on the shelf.`,
  );
}

/** Saves a song that cannot be opened exactly as it is stored, so that nothing is lost. */
export async function saveStored(id: string): Promise<void> {
  const found = await storedForm(id);
  if (found === undefined) return notify('Nothing is stored of this song.', 'error');
  platform.saveFile(JSON.stringify(found, null, 1), `${id}.json`, 'application/json');
}

/** Reads the form of a MIDI file: its markers, bars, meters and tempos, as text; undefined where there is none. */
export async function formFromFile(): Promise<string | undefined> {
  const file = await platform.chooseOne(['.mid', '.midi']);
  if (!file) return undefined;
  if (file.size > MAX_FILE_BYTES) {
    notify(tooLarge(file.name, file.size), 'error');
    return undefined;
  }
  const bytes = new Uint8Array(await file.arrayBuffer());
  const { song } = await readToEnd(importAside(bytes, file.name), file.name);
  if (!song || song.places.length === 0) {
    notify(`“${file.name}” has no form that could be read: no notes, or no bars.`, 'error');
    return undefined;
  }
  return writeForm(formOf(song));
}

/** A song of a file whose sounds are kept here: it is heard beside the open one, and parts of it are taken over. */
async function withItsSounds(read: SongInFile): Promise<Song> {
  const { song } = read;
  const { sounds, problems } = await readSongSounds(read, samplesHere);
  try {
    for (const sound of sounds) await keepSample(sound);
  } catch {
    problems.push(
      'Its sounds could not be kept: this browser’s storage is full. Free some room, and open it again.',
    );
  }
  for (const problem of problems) notify(problem, 'error');
  return song;
}

/** Lays a song from a file beside the open one: a song file, MIDI, or a score. */
export async function compareWithFile(): Promise<void> {
  const file = await platform.chooseOne(['.zip', '.mid', '.midi', '.musicxml', '.mxl']);
  if (!file) return;
  if (file.size > MAX_SCORE_BYTES) return notify(tooLarge(file.name, file.size), 'error');
  const bytes = new Uint8Array(await file.arrayBuffer());
  const read = readSongFile(bytes, file.name);
  if (read && 'problem' in read) return notify(read.problem, 'error');
  const { song, report } = read
    ? { song: await withItsSounds(read), report: undefined }
    : await readToEnd(importAside(bytes, file.name), file.name);
  if (!song)
    return notify(report?.error ?? `“${file.name}” holds no song that can be read.`, 'error');
  compareWith(file.name, song, 'theirs');
}
