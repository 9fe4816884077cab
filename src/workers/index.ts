import type { SoundId } from '@/core/model/pieces';
import * as Comlink from 'comlink';
import type { Imported, ImportOptions } from '../core/midi/import';
import type { KitSound } from '../core/sound/kit';
import type { Hertz } from '../core/time/units';
import type { MidiWorker } from './midi.worker';
import type { SoundWorker } from './sound.worker';

let sound: Comlink.Remote<SoundWorker> | undefined;

/** Computes the strokes of a note off the page's thread. */
export function synthesiseAside(note: SoundId, sampleRate: Hertz): Promise<KitSound> {
  sound ??= Comlink.wrap<SoundWorker>(
    new Worker(new URL('./sound.worker.ts', import.meta.url), { type: 'module' }),
  );
  return sound.synthesise(note, sampleRate);
}

/** A reading that can be given up: the worker at work on it is ended. */
export interface Reading {
  result: Promise<Imported>;
  cancel(): void;
}

/** Reads a MIDI file off the page's thread; `result` never settles once it was cancelled. */
export function importAside(bytes: Uint8Array, name: string, options: ImportOptions = {}): Reading {
  const worker = new Worker(new URL('./midi.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<MidiWorker>(worker);
  const result = remote.importMidi(bytes, name, options).finally(() => worker.terminate());
  return { result, cancel: () => worker.terminate() };
}
