import * as Comlink from 'comlink';
import { importMidi, type Imported, type ImportOptions } from '../core/midi';
import { importMusicXml, isMusicXml } from '../core/musicxml';

const midiWorker = {
  /** Reads a file of notes by its name: MIDI, or a score. */
  importMidi(bytes: Uint8Array, name: string, options: ImportOptions): Imported {
    return isMusicXml(name)
      ? importMusicXml(bytes, name, options)
      : importMidi(bytes, name, options);
  },
};

export type MidiWorker = typeof midiWorker;

Comlink.expose(midiWorker);
