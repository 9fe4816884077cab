import { nanoid } from 'nanoid';
import { platform } from '../platform';
import { exportMidi, type Command, type ExportOptions } from '@/core';
import { nextDye } from '@/core/model';
import { MAX_FILE_BYTES, tooLarge, emptyReport } from '@/core/midi';
import { storedForm } from '@/storage/songs';
import { importAside, type Reading } from '@/workers';
import { edit } from './edit';
import { addSong } from './session';
import { showPattern } from '../shape/shape';
import { openSongNow, useWorkbench } from '../store';
import { notify } from '../notices/notices';

let reading: Reading | undefined;

/** Reads a dropped or chosen file; what became of it is shown before anything is changed. */
export async function receiveFile(file: File): Promise<void> {
  reading?.cancel();
  if (file.size > MAX_FILE_BYTES) {
    const report = { ...emptyReport(file.name), error: tooLarge(file.name, file.size) };
    useWorkbench.setState({
      incoming: { name: file.name, bytes: new Uint8Array(), reading: false, report },
    });
    return;
  }
  try {
    const bytes = new Uint8Array(await file.arrayBuffer());
    await read(file.name, bytes);
  } catch {
    notify(
      `“${file.name}” could not be read: it may have been moved or be in use. Choose it again.`,
      'error',
    );
  }
}

/** Reads the waiting file again with other tracks chosen. */
export async function chooseSources(sources: readonly string[]): Promise<void> {
  const { incoming } = useWorkbench.getState();
  if (incoming) await read(incoming.name, incoming.bytes, sources);
}

async function read(name: string, bytes: Uint8Array, sources?: readonly string[]): Promise<void> {
  const before = useWorkbench.getState().incoming;
  const same = before?.bytes === bytes;
  useWorkbench.setState({
    incoming: { name, bytes, reading: true, report: same ? before.report : undefined },
  });
  reading = importAside(bytes, name, sources ? { sources } : {});
  const { report, song } = await reading.result;
  if (useWorkbench.getState().incoming?.bytes !== bytes) return;
  useWorkbench.setState({ incoming: { name, bytes, reading: false, report, song } });
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
  const id = await addSong(incoming.song);
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
  if (!edit(commands, 'take patterns from a file')) return;
  useWorkbench.setState({ incoming: undefined });
  const { patterns } = openSongNow();
  showPattern(patterns[patterns.length - commands.length].id);
  notify(
    commands.length === 1
      ? `“${patterns.at(-1)!.name}” is on the shelf.`
      : `${commands.length} patterns are on the shelf.`,
  );
}

/** A name that every file system takes. */
export function fileName(name: string, ending: string): string {
  const safe = name.replace(/[\\/:*?"<>|\p{Cc}]+/gu, '-').trim();
  return `${safe.slice(0, 120) || 'song'}.${ending}`;
}

/** Saves the open song, or one of its patterns, as a Standard MIDI File. */
export function saveMidi(options: ExportOptions, name: string): void {
  const bytes = exportMidi(openSongNow(), options);
  platform.saveFile(bytes as BlobPart, fileName(name, 'mid'), 'audio/midi');
  notify(`“${fileName(name, 'mid')}” was saved.`);
}

/** Saves a song that cannot be opened exactly as it is stored, so that nothing is lost. */
export async function saveStored(id: string): Promise<void> {
  const text = await storedForm(id);
  if (text) platform.saveFile(text, `${id}.json`, 'application/json');
}
