import { create } from 'zustand';
import { isSoundFile } from '@/audio/decode';
import { isGrooveFile } from '@/core/library';
import { filesOfFolder, mayRead } from '@/storage/library/folder';
import * as library from '@/storage/library/library';
import type { ReadingJob } from '@/storage/library/library';
import {
  readFiles,
  type HandedFile,
  type LibraryReading,
  type Progress,
  type ReadingResult,
} from '@/storage/library/readFiles';
import { addGrooves, openLibrary, useGather } from './gather';
import { sliceFile } from '../balance/loop';
import { platform } from '../platform';
import { isKitFile, receiveKit } from '../balance/kits';
import { receiveFile, receiveSongFile } from '../session/files';
import { useWorkbench } from '../store';
import { notify, offer } from '../notices/notices';
import { withinPatience, whyNot } from '@/storage/failures';

export type { SourceFile } from '@/storage/library/library';

/** Files of one's own on their way into the library. */
export interface ReadingState {
  /** What is being read, and how far it is. */
  name?: string;
  progress?: Progress;
  paused: boolean;
  /** A reading that was cut short, as by a reload. */
  unfinished?: ReadingJob;
  /** What the last reading came upon, until it is put away. */
  report?: { name: string } & ReadingResult;
}

export const useReading = create<ReadingState>(() => ({ paused: false }));

let reading: LibraryReading | undefined;

/** Reads a folder that the user chooses; where the browser can, it is remembered until it is read. */
export async function chooseFolder(): Promise<void> {
  const { name, files, folder } = await platform.chooseFolder();
  if (files.length > 0) await read(name, files.map(handed), folder);
}

/** Files of a dropped folder say where in it they lie. */
const pathOf = (file: File & { path?: string }) =>
  file.webkitRelativePath || file.path?.replace(/^[./]+/, '') || file.name;

const handed = (file: File): HandedFile => ({ path: pathOf(file), file });

/** Reads files that were uploaded as a folder, dropped, or are zips. */
export async function readLoose(files: readonly File[]): Promise<void> {
  const [first] = files.map(handed);
  if (first) await read(first.path.split('/')[0], files.map(handed));
}

/** Goes on with a reading that was cut short. What is stored already is skipped. */
export async function goOnReading(): Promise<void> {
  const { unfinished } = useReading.getState();
  const folder = unfinished?.folder;
  if (!folder) return chooseFolder();
  if (await mayRead(folder)) await read(folder.name, await filesOfFolder(folder), folder);
  else notify('The folder may not be read. Choose it again to go on.', 'error');
}

async function read(
  name: string,
  files: HandedFile[],
  folder?: FileSystemDirectoryHandle,
): Promise<void> {
  if (reading) {
    return notify(
      'Another folder is being read. Wait until it is done, or stop it first.',
      'error',
    );
  }
  const wanted = files.filter(({ path }) => isGrooveFile(path) || /\.zip$/i.test(path));
  if (wanted.length === 0) {
    return notify(`“${name}” holds no MIDI files, tablature or zips.`, 'error');
  }
  await openLibrary();
  const empty = { done: 0, total: wanted.length, fresh: 0, duplicates: 0, unread: 0, unchanged: 0 };
  useReading.setState({
    name,
    progress: empty,
    paused: false,
    unfinished: undefined,
    report: undefined,
  });
  await library.saveJob({ id: 'reading', name, total: wanted.length, ...(folder && { folder }) });
  reading = readFiles(wanted, (progress, rows) => {
    useReading.setState({ progress });
    waiting.push(...rows);
  });
  const every = setInterval(showWaiting, SHOW_EVERY_MS);
  let result: ReadingResult | undefined;
  try {
    result = await reading.result;
  } catch {
    notify(
      `Reading “${name}” broke off. What was read until then is in the library; read the folder again to go on.`,
      'error',
    );
  } finally {
    clearInterval(every);
    showWaiting();
    reading = undefined;
    await library.endJob();
    useReading.setState({ name: undefined, progress: undefined, paused: false });
  }
  // The last rows are drawn first: the page is not held up by both at once.
  if (result) setTimeout(() => useReading.setState({ report: { name, ...result } }), DRAWN_MS);
}

const DRAWN_MS = 150;

type Rows = Parameters<Parameters<typeof readFiles>[1]>[1];
const waiting: Rows = [];
/** The list is long, and sorting it takes its time: new rows are shown together. */
const SHOW_EVERY_MS = 600;

function showWaiting(): void {
  addGrooves(waiting.splice(0));
}

export function pauseReading(): void {
  const { paused } = useReading.getState();
  if (paused) reading?.resume();
  else reading?.pause();
  useReading.setState({ paused: !paused });
}

export function cancelReading(): void {
  reading?.cancel();
}

export function closeReport(): void {
  useReading.setState({ report: undefined });
}

/** Looks whether a reading was cut short. */
export async function findUnfinished(): Promise<void> {
  if (reading) return;
  const unfinished = await library.openJob().catch(() => undefined);
  useReading.setState({ unfinished });
}

export async function dismissUnfinished(): Promise<void> {
  await library.endJob();
  useReading.setState({ unfinished: undefined });
}

/** Takes one's own files out of the library. What was kept of them stays in the songs. */
export async function forgetOwn(): Promise<void> {
  let own: library.OwnFiles;
  try {
    own = await withinPatience(library.forgetOwn());
  } catch (error) {
    return notify(whyNot(error), 'error');
  }
  useGather.setState(({ grooves }) => ({
    grooves: grooves.filter(({ id }) => !id.startsWith('own/') || library.isOwnPattern(id)),
  }));
  const putBack = async () => {
    try {
      await withinPatience(library.remember(own));
      addGrooves(own.grooves);
    } catch (error) {
      notify(whyNot(error), 'error');
    }
  };
  offer('Your own files are out of the library. What you kept of them stays in your songs.', {
    label: 'put them back',
    run: () => void putBack(),
  });
}

/**
 * Files that were dropped: one MIDI file is a song to look at, a song file is opened; several, or a zip
 * of them, are a library.
 */
export async function receiveFiles(files: readonly File[]): Promise<void> {
  const [first] = files;
  if (!first) return;
  if (files.length === 1 && isSoundFile(first.name)) return sliceFile(first);
  if (files.length === 1 && isKitFile(first.name)) return receiveKit(first);
  const isZip = /\.zip$/i.test(first.name);
  if (files.length === 1 && isZip && (await receiveSongFile(first))) return;
  const gathering = useWorkbench.getState().stage === 'gather';
  const isFolder = pathOf(first).includes('/');
  if (files.length > 1 || isZip || isFolder || gathering) await readLoose(files);
  else await receiveFile(first);
}
