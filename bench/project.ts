import { unzipSync, zipSync } from 'fflate';
import { hashOfSound } from '../src/core/sound';
import {
  readSongFile,
  readSongSounds,
  writeSongFile,
  type SongInFile,
} from '../src/storage/songFile';
import type { StoredSample } from '../src/storage/db';
import type { SampleLayer, Song } from '../src/core/model';
import type { Figure } from './main';
import { wovenSong } from './material';

const SOUNDS = 40;
/** Of both sides, so that all are 50 MB. */
const FRAMES = 50e6 / SOUNDS / 8;

/** Saving and opening 60,000 hits with 50 MB of sounds, over zipping the same bytes at the same levels. */
export async function projectFigure(): Promise<Figure> {
  const sounds: StoredSample[] = [];
  for (let n = 0; n < SOUNDS; n++) {
    const left = Float32Array.from({ length: FRAMES }, (_, i) => Math.sin(i * (n + 1) * 0.01) / 2);
    const right = left.map((x) => -x);
    sounds.push({ hash: await hashOfSound({ left, right }), name: `sound ${n}`, left, right });
  }
  const song = playing(wovenSong(), sounds);
  let [ours, plain] = [Infinity, Infinity];
  for (let round = 0; round < 3; round++) {
    let start = performance.now();
    const file = writeSongFile(song, { sounds });
    const opened = readSongFile(file, 'x') as SongInFile;
    const read = await readSongSounds(opened, async () => new Set());
    ours = Math.min(ours, performance.now() - start);
    if (read.sounds.length !== SOUNDS)
      throw new Error(`Only ${read.sounds.length} sounds came back`);
    const parts = unzipSync(file);
    start = performance.now();
    unzipSync(zipSync(parts));
    plain = Math.min(plain, performance.now() - start);
  }
  return {
    name: 'project',
    ratio: ours / plain,
    bound: 1.5,
    detail: `saving and opening 60,000 hits with 50 MB of sounds ${ours.toFixed(0)} ms, zipping and unzipping the same bytes, all of them packed, ${plain.toFixed(0)} ms`,
  };
}

/** The song with a kit whose snare plays all these sounds. */
function playing(song: Song, sounds: readonly StoredSample[]): Song {
  const files = sounds.map(({ hash, name }) => ({ hash, name, velocities: [1, 127] as const }));
  const layer: SampleLayer = {
    id: 'all',
    name: 'all',
    from: 'files',
    files,
    start: 0,
    fadeIn: 0,
    fadeOut: 0,
    level: 1,
    tune: 0,
    velocities: [1, 127],
  };
  const layers = [layer];
  const pieces = song.kit.pieces.map((piece) =>
    piece.id === 'snare' ? { ...piece, design: { layers } } : piece,
  );
  return { ...song, kit: { ...song.kit, pieces } };
}
