import { nanoid } from 'nanoid';
import { decodeSound, isSoundFile, SOUND_FILES } from '@/audio/decode';
import { SAMPLE_RATE } from '@/audio/player';
import type { Command } from '@/core/commands';
import { samplesOf, type KitPiece, type SampleLayer } from '@/core/model';
import { levelOfFile, outlineOf, spreadFiles, type Spread } from '@/core/sound';
import { keepSample, readSamples } from '@/storage/samples';
import { notify } from '../notices/notices';
import { platform } from '../platform';
import { commitGesture, preview } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';
import { reloadSounds } from '../transport/transport';

/** How files come to a piece: as its sound, or as one more layer of it. */
export type HowLoaded = 'sound' | 'layer';

/** Reads sound files, keeps them in the browser, and has a piece play them: one step of undo. */
export async function loadFiles(
  piece: string,
  files: readonly File[],
  how: HowLoaded,
): Promise<void> {
  const { songId } = useWorkbench.getState();
  const wanted = samplesOf(openSongNow().kit);
  const here = await readSamples(wanted);
  const read = await keepFiles(files);
  // Meanwhile another song may have been opened.
  if (read.length === 0 || useWorkbench.getState().songId !== songId) return;
  const missed = read.filter(({ hash }) => wanted.includes(hash) && !here.has(hash));
  if (missed.length > 0) {
    // A file that the song missed is not one more layer: it is heard where it was.
    reloadSounds(missed.map(({ hash }) => hash));
    notify(`${missed.map(({ name }) => `“${name}”`).join(', ')} is heard again.`);
    if (missed.length === read.length) return;
  }
  const found = openSongNow().kit.pieces.find(({ id }) => id === piece);
  if (!found) return;
  const name = read.length === 1 ? read[0].name : `${read[0].name} and ${read.length - 1} more`;
  const layer: SampleLayer = {
    id: nanoid(8),
    from: 'files',
    name,
    level: 1,
    tune: 0,
    velocities: [1, 127],
    ...(found.articulations.length > 1 && { articulation: found.articulations[0].id }),
    files: spreadFiles(read),
    start: 0,
    fadeIn: 0,
    fadeOut: 0,
  };
  preview(
    [
      ...(how === 'sound' ? instead(found) : []),
      { type: 'put layer', piece, layer },
      ...(how === 'sound' ? [{ type: 'design piece' as const, piece, bare: true }] : []),
    ],
    how === 'sound' ? 'sound from files' : 'layer from files',
  );
  commitGesture();
  const ranges = new Set(layer.files.map(({ velocities }) => velocities.join())).size;
  const turns = ranges < layer.files.length ? ', those of one level take turns' : '';
  const spread = ranges > 1 ? ` in ${ranges} steps of velocity${turns}` : turns;
  notify(
    `${found.name} plays ${layer.files.length === 1 ? 'the file' : `${layer.files.length} files`}${spread}.`,
  );
}

/** Commands that take the sound of a piece away before it gets another: its layers, where they are all that is heard. */
export function instead({ id, design }: KitPiece): Command[] {
  if (!design?.bare) return [];
  return [
    ...(design.layers ?? []).map((layer) => ({
      type: 'remove layer' as const,
      piece: id,
      layer: layer.id,
    })),
    { type: 'design piece', piece: id, bare: false },
  ];
}

/** Decodes files and keeps them. What cannot be read is said; the others are kept. */
export async function keepFiles(files: readonly File[]): Promise<Spread[]> {
  const kept: Spread[] = [];
  for (const file of files) {
    const decoded = await decodeSound(await file.arrayBuffer(), file.name, SAMPLE_RATE);
    if (typeof decoded === 'string') {
      notify(decoded, 'error');
      continue;
    }
    const { remark, ...pcm } = decoded;
    if (remark) notify(remark);
    try {
      await keepSample({ ...pcm, name: file.name });
    } catch {
      notify(
        `“${file.name}” could not be kept: this browser’s storage is full or closed. Free some room in the list of songs, and drop it again.`,
        'error',
      );
      continue;
    }
    kept.push({ hash: pcm.hash, name: file.name, level: levelOfFile(pcm.left, SAMPLE_RATE) });
  }
  return kept;
}

/** Lets the user choose sound files for a piece. */
export async function chooseFilesFor(piece: string, how: HowLoaded): Promise<void> {
  const files = await platform.chooseSome(SOUND_FILES);
  if (files.length > 0)
    await loadFiles(
      piece,
      files.filter(({ name }) => isSoundFile(name)),
      how,
    );
}

/** A kept sound file as a picture; undefined where it is not here. */
export async function outlineOfFile(
  hash: string,
  stretches: number,
): Promise<{ outline: Float32Array; seconds: number } | undefined> {
  const pcm = (await readSamples([hash])).get(hash);
  if (!pcm) return undefined;
  return { outline: outlineOf(pcm.left, stretches), seconds: pcm.left.length / SAMPLE_RATE };
}
