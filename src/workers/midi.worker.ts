import * as Comlink from 'comlink';
import { importMidi, type Imported, type ImportOptions } from '../core/midi';

const midiWorker = {
  importMidi(bytes: Uint8Array, name: string, options: ImportOptions): Imported {
    return importMidi(bytes, name, options);
  },
};

export type MidiWorker = typeof midiWorker;

Comlink.expose(midiWorker);
