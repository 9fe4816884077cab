import { zipSync } from 'fflate';
import {
  chartOf,
  csvOfSong,
  midiBytes,
  partsOf,
  plannedFiles,
  tabOfSong,
  type Delivery,
  type PlannedFile,
} from '@/core/deliver';
import { samplesOf, type Song } from '@/core/model';
import { writeMusicXml } from '@/core/musicxml';
import { fileName } from '@/core/names';
import { lastDelivery, noteDelivery } from '@/storage/deliveries';
import { readSamples } from '@/storage/samples';
import { writeAudioAside, zipAside, type WrittenAudio, type Zipped } from '@/workers';
import { notify } from '../notices/notices';
import { platform, type OutFolder } from '../platform';
import { songBefore } from '../session/edit';
import { saveSongFile } from '../session/files';
import { openSongNow, useWorkbench } from '../store';
import { stopForetelling } from './foretelling';
import type { HandedOver } from './slice';
import { deliveryNow } from './wishes';

/** A file on its way out. */
interface OutFile {
  path: string;
  content: Blob;
  about: HandedOver;
  /** It is in its folder already. */
  there?: boolean;
}

const TYPES: Readonly<Record<string, string>> = {
  mid: 'audio/midi',
  wav: 'audio/wav',
  flac: 'audio/flac',
  mp3: 'audio/mpeg',
  svg: 'image/svg+xml',
  musicxml: 'application/vnd.recordare.musicxml+xml',
  txt: 'text/plain',
  csv: 'text/csv',
};

/** Files of text, notes and pages: they are made at once. */
export async function madeNow(
  song: Song,
  delivery: Delivery,
  planned: readonly PlannedFile[],
): Promise<OutFile[]> {
  const drawn = new Map<Song, Promise<string[]>>();
  return Promise.all(
    planned.map(async (one): Promise<OutFile> => {
      const { path } = one;
      const content = new Blob([await contentOf(one)], { type: TYPES[one.ending] });
      return { path, content, about: { path, bytes: content.size, content } };
    }),
  );

  async function contentOf(one: PlannedFile): Promise<BlobPart> {
    const made = madeAtOnce(song, delivery, one);
    if (made !== undefined) return made;
    const { part, page = 0 } = one;
    const { paper } = delivery.chart;
    const pages =
      drawn.get(part.song) ?? platform.drawChart(chartOf(part.song, delivery.chart), paper);
    drawn.set(part.song, pages);
    return (await pages)[page];
  }
}

/** What is in a file that needs neither to be drawn nor to be rendered. */
function madeAtOnce(
  song: Song,
  { midi }: Delivery,
  { part, ending }: PlannedFile,
): BlobPart | undefined {
  switch (ending) {
    case 'mid':
      return midiBytes(song, midi, part) as BlobPart;
    case 'csv':
      return csvOfSong(part.song);
    case 'txt':
      return tabOfSong(part.song).text;
    case 'musicxml':
      return writeMusicXml(part.song);
    default:
      return undefined;
  }
}

let working: { end(): void } | undefined;

const counted = (n: number) => (n === 1 ? 'One file was' : `${n} files were`);

/** Whether files can go into a folder that the user chooses. */
export const canWriteFolder = (): boolean => platform.canOpenFolder();

/** A file that is dragged out of the page: what was written, or what can be made at once. */
export function draggedFile(
  planned: PlannedFile,
  delivery: Delivery,
): { name: string; content: Blob } | undefined {
  const { handedOver } = useWorkbench.getState();
  const { path } = planned;
  const name = path.split('/').at(-1)!;
  const written = handedOver?.find((one) => one.path === path)?.content;
  if (written) return { name, content: written };
  const made = madeAtOnce(songBefore() ?? openSongNow(), delivery, planned);
  return made === undefined
    ? undefined
    : { name, content: new Blob([made], { type: TYPES[planned.ending] }) };
}

/** Hands over what is wished for: files that are written and kept where the user wants them. */
export async function handOver(): Promise<void> {
  if (working) return notify('Files are being written already.');
  const song = songBefore() ?? openSongNow();
  const delivery = deliveryNow(song);
  if (delivery.handed === 'project') return saveSongFile();
  if (delivery.handed === 'live') {
    return notify('What is sent live needs no writing: press play.', 'error');
  }
  const planned = plannedFiles(song, delivery).filter(isWorthIt);
  if (planned.length === 0) {
    return notify('There is nothing to export: no hits in what was chosen.', 'error');
  }
  let called = false;
  let folder: OutFolder | undefined;
  working = { end: () => (called = true) };
  stopForetelling();
  try {
    folder = delivery.packing === 'folder' ? await platform.openFolder() : undefined;
    if (delivery.packing === 'folder' && !folder) return;
    const files =
      delivery.handed === 'audio'
        ? await writtenAudio(song, delivery, planned, { folder, isOff: () => called })
        : await madeNow(song, delivery, planned);
    if (called || !files) return await folder?.forsake();
    await packed(files, delivery, { song, folder });
    useWorkbench.setState({ handedOver: files.map(({ about }) => about) });
    await noteDelivery(delivery).catch(() => {});
  } catch {
    await folder?.forsake().catch(() => {});
    notify(
      'The files could not be written: the browser or the folder has no room for them, or refused. Nothing was left by half. Write fewer at once, or choose another folder.',
      'error',
    );
  } finally {
    working = undefined;
    useWorkbench.setState({ writing: undefined });
  }
}

/** A file that is silent is not written, but for guides and a click. */
export const isWorthIt = ({ hits, audio }: PlannedFile) =>
  hits > 0 || (audio !== undefined && (audio.click || audio.song.guides.length > 0));

/**
 * Renders files of sound, with what is said about how far it is; into a folder straight away, so that no song is
 * in memory whole.
 * @returns undefined when it was called off
 */
async function writtenAudio(
  song: Song,
  { sound }: Delivery,
  planned: readonly PlannedFile[],
  { folder, isOff }: { folder: OutFolder | undefined; isOff: () => boolean },
): Promise<OutFile[] | undefined> {
  const files = await readSamples(samplesOf(song.kit));
  const handles: FileSystemFileHandle[] = [];
  for (const one of folder ? planned : []) handles.push(await folder!.reserve(one.path));
  if (isOff()) return undefined;
  const since = Date.now();
  let over = false;
  const say = (done: number, share: number) => {
    // A message may arrive after the end: what was called off, or is written, is no longer being written.
    if (over) return;
    const passed = (Date.now() - since) / 1000;
    useWorkbench.setState({ writing: { done, of: planned.length, share, passed } });
  };
  say(0, 0);
  const parts = planned.map(({ audio }) => audio!);
  const writing = writeAudioAside(parts, sound, files, folder ? handles : 'memory', say);
  const before = working;
  const calledOff = new Promise<undefined>((done) => {
    working = {
      end: () => {
        before?.end();
        writing.end();
        done(undefined);
      },
    };
  });
  try {
    const written = await Promise.race([writing.result, calledOff]);
    return written && (await Promise.all(written.map((one, i) => outFile(planned[i], one, i))));
  } finally {
    over = true;
    writing.end();
  }

  async function outFile(planned: PlannedFile, written: WrittenAudio, i: number): Promise<OutFile> {
    const { blob, frames, apart: _, ...told } = written;
    const { path } = planned;
    const content = blob ?? (await handles[i].getFile());
    const seconds = frames / sound.rate;
    const about = { path, bytes: content.size, content, seconds, ...told };
    return { path, content, about, there: blob === undefined };
  }
}

/** Puts files where they were wished: into a folder, into one zip, or each by itself. */
async function packed(
  files: readonly OutFile[],
  { packing }: Delivery,
  { song, folder }: { song: Song; folder: OutFolder | undefined },
): Promise<void> {
  if (folder) {
    const written = new Set<string>();
    for (const { path, content, there } of files) {
      if (!there) await folder.write(path, content);
      written.add(path);
    }
    return notify(`${counted(written.size)} written into “${folder.name}”.`);
  }
  if (files.length === 1 || packing !== 'zip') {
    for (const { path, content } of files) {
      // Where each is by itself, folders have no meaning.
      platform.saveFile(content, path.split('/').at(-1)!, content.type);
    }
    return notify(
      files.length === 1
        ? `“${files[0].path.split('/').at(-1)}” was saved.`
        : `${counted(files.length)} saved.`,
    );
  }
  const name = fileName(song.name, 'zip');
  const large = files.reduce((sum, { content }) => sum + content.size, 0) > 16 * 1024 ** 2;
  const { zip, holds } = large
    ? await zipAside(files.map(({ path, content }) => ({ name: path, blob: content })))
    : await zipped(files);
  platform.saveFile(zip, name, 'application/zip');
  notify(`${counted(holds)} saved in “${name}”.`);
}

async function zipped(files: readonly OutFile[]): Promise<Zipped> {
  const entries = await Promise.all(
    files.map(
      async ({ path, content }) => [path, new Uint8Array(await content.arrayBuffer())] as const,
    ),
  );
  const parts = Object.fromEntries(entries);
  const zip = new Blob([zipSync(parts) as BlobPart], { type: 'application/zip' });
  return { zip, holds: Object.keys(parts).length };
}

/** Calls off what is being written; nothing of it is left. */
export function stopWriting(): void {
  if (!working) return notify('Nothing is being written.');
  working.end();
  notify('Cancelled: no file was written.');
}

/** Hands over once more what was handed over last, of the song as it is now. */
export async function handOverAgain(): Promise<void> {
  const last = await lastDelivery().catch(() => undefined);
  if (!last) {
    return notify('Nothing was exported yet: choose files in Deliver first.', 'error');
  }
  useWorkbench.setState({ delivery: last, shownFile: undefined, handedOver: undefined });
  await handOver();
}

/** Opens the browser's print of the chart of what was chosen; of several parts, all of their pages. */
export async function printChart(): Promise<void> {
  const song = openSongNow();
  const delivery = deliveryNow(song);
  const parts = partsOf(song, delivery.what, delivery.names);
  const pages: string[] = [];
  const { paper } = delivery.chart;
  for (const part of parts) {
    pages.push(...(await platform.drawChart(chartOf(part.song, delivery.chart), paper)));
  }
  await platform.print(pages, paper, song.name);
}
