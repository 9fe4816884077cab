import * as Comlink from 'comlink';
import { readSoundFont } from '../core/fonts';
import type { Hertz, NoteNumber } from '../core/time';

const fontsWorker = {
  /** Reads a file where it lies: only what is needed of it is in memory. */
  read: (file: Blob, notes: readonly NoteNumber[], rate: Hertz) =>
    readSoundFont(
      {
        size: file.size,
        read: async (from, to) => new Uint8Array(await file.slice(from, to).arrayBuffer()),
      },
      notes,
      rate,
    ),
};

export type FontsWorker = typeof fontsWorker;

Comlink.expose(fontsWorker);
