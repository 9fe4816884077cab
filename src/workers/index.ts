import {
  differenceOf,
  type SampleHash,
  type Song,
  type SoundDesign,
  type SoundId,
} from '@/core/model';
import * as Comlink from 'comlink';
import type { AudioPart, Depth } from '../core/deliver';
import type { Imported, ImportOptions } from '../core/midi';
import type { FontKit } from '../core/fonts';
import type { KitSound, Pcm } from '../core/sound';
import type { Hertz, NoteNumber, Samples } from '../core/time';
import type { AudioWorker, WrittenAudio } from './audio.worker';
import type { FontsWorker } from './fonts.worker';
import type { FindingsWorker } from './findings.worker';
import type { LoopsWorker } from './loops.worker';
import type { MidiWorker } from './midi.worker';
import type { SoundWorker } from './sound.worker';

let sound: Comlink.Remote<SoundWorker> | undefined;
let synthesising = false;
/** Sounds that were asked for, in the order in which they are computed. */
const asked: { note: SoundId; run: () => Promise<void> }[] = [];

/** Makes the strokes of a sound off the page's thread, one sound after another. @param files what its layers play */
export function makeSoundAside(
  design: SoundDesign,
  sampleRate: Hertz,
  files: ReadonlyMap<SampleHash, Pcm>,
): Promise<KitSound> {
  sound ??= Comlink.wrap<SoundWorker>(
    new Worker(new URL('./sound.worker.ts', import.meta.url), { type: 'module' }),
  );
  const worker = sound;
  return new Promise((done, failed) => {
    asked.push({
      note: design.sound,
      run: () => worker.make(design, sampleRate, files).then(done, failed),
    });
    void synthesiseAll();
  });
}

/** Computes these notes, in this order, before the others that were asked for: they are to be heard now. */
export function synthesiseFirst(notes: readonly SoundId[]): void {
  const places = new Map(notes.map((note, i) => [note, i]));
  const place = ({ note }: { note: SoundId }) => places.get(note) ?? notes.length;
  asked.sort((a, b) => place(a) - place(b));
}

async function synthesiseAll(): Promise<void> {
  if (synthesising) return;
  synthesising = true;
  for (let next = asked.shift(); next; next = asked.shift()) await next.run();
  synthesising = false;
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

let findings: { worker: Comlink.Remote<FindingsWorker>; song?: Song } | undefined;

/** Looks through a song off the page's thread; of a song that was looked through, only what changed. */
export async function findingsAside(song: Song) {
  findings ??= {
    worker: Comlink.wrap<FindingsWorker>(
      new Worker(new URL('./findings.worker.ts', import.meta.url), { type: 'module' }),
    ),
  };
  const { worker, song: before } = findings;
  findings.song = song;
  const difference = before?.id === song.id ? differenceOf(before, song) : undefined;
  const found = difference && (await worker.changed(difference));
  return found ?? worker.whole(song);
}

/** Reads the drum kits of a SoundFont 2 file off the page's thread. */
export async function readFontAside(
  bytes: Uint8Array,
  notes: readonly NoteNumber[],
  rate: Hertz,
): Promise<FontKit[] | string> {
  // It is read once: what it needed is given back with its worker.
  const worker = new Worker(new URL('./fonts.worker.ts', import.meta.url), { type: 'module' });
  try {
    return await Comlink.wrap<FontsWorker>(worker).read(bytes, notes, rate);
  } finally {
    worker.terminate();
  }
}

export type { WrittenAudio } from './audio.worker';

/** Files of sound that are being written. */
export interface Writing {
  result: Promise<WrittenAudio[]>;
  /** Puts files into one zip, as they are. */
  zip(files: readonly { name: string; blob: Blob }[]): Promise<Blob>;
  /** Ends the work at once, or gives back what it needed when it is done. */
  end(): void;
}

/** Renders parts of a song off the page's thread. */
export function writeAudioAside(
  parts: readonly AudioPart[],
  form: { depth: Depth; rate: Hertz },
  files: ReadonlyMap<SampleHash, Pcm>,
  report: (part: number, share: number) => void,
): Writing {
  const worker = new Worker(new URL('./audio.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<AudioWorker>(worker);
  const failed = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new Error('The worker died.'));
  });
  const result = remote.render(parts, form, files, Comlink.proxy(report));
  return {
    result: Promise.race([result, failed]),
    zip: (written) => Promise.race([remote.zipped(written), failed]),
    end: () => worker.terminate(),
  };
}

let loops: Comlink.Remote<LoopsWorker> | undefined;

/** Finds the strokes of a recorded loop off the page's thread. */
export function onsetsAside(
  samples: Float32Array,
  rate: Hertz,
  threshold: number,
): Promise<Samples[]> {
  loops ??= Comlink.wrap<LoopsWorker>(
    new Worker(new URL('./loops.worker.ts', import.meta.url), { type: 'module' }),
  );
  return loops.onsets(samples, rate, threshold);
}
