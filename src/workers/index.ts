import {
  differenceOf,
  type Pattern,
  type SampleHash,
  type Song,
  type SoundDesign,
  type SoundId,
} from '@/core/model';
import * as Comlink from 'comlink';
import type { Neighbour } from '../core/draft';
import type { AudioPart, SoundForm } from '../core/deliver';
import type { Imported, ImportOptions } from '../core/midi';
import type { FontKit } from '../core/fonts';
import type { KitSound, Pcm } from '../core/sound';
import type { Hertz, NoteNumber, Samples } from '../core/time';
import type { AudioWorker, WrittenAudio, Zipped } from './audio.worker';
import { died } from './died';
import type { DraftAnswer, DraftsWorker, OwnGrooves } from './drafts.worker';
import type { FontsWorker } from './fonts.worker';
import type { FindingsWorker } from './findings.worker';
import type { ReceiverWorker } from './receiver.worker';
import type { LoopsWorker } from './loops.worker';
import type { MidiWorker } from './midi.worker';
import type { SoundWorker } from './sound.worker';

/** A worker that is kept from one job to the next. */
interface KeptWorker<T> {
  remote: Comlink.Remote<T>;
  /** Fails when the worker does. */
  failed: Promise<never>;
}

/** Keeps a worker between jobs; when it dies, whoever asks next gets a new one. */
function kept<T>(create: () => Worker): () => KeptWorker<T> {
  let known: KeptWorker<T> | undefined;
  return () => {
    if (known) return known;
    const worker = create();
    const made = { remote: Comlink.wrap<T>(worker), failed: died(worker) };
    made.failed.catch(() => {
      if (known === made) known = undefined;
      worker.terminate();
    });
    known = made;
    return made;
  };
}

const soundWorker = kept<SoundWorker>(
  () => new Worker(new URL('./sound.worker.ts', import.meta.url), { type: 'module' }),
);
let synthesising = false;
/** Sounds that were asked for, in that order. */
const asked: { note: SoundId; run: () => Promise<void> }[] = [];
/** Which of them come before the others, in this order. */
let hurried: readonly SoundId[] = [];

/** Makes the strokes of a sound off the page's thread, one sound after another. @param files what its layers play */
export function makeSoundAside(
  design: SoundDesign,
  sampleRate: Hertz,
  files: ReadonlyMap<SampleHash, Pcm>,
): Promise<KitSound> {
  return new Promise((done, failed) => {
    asked.push({
      note: design.sound,
      run: () => {
        const { remote, failed: gone } = soundWorker();
        return Promise.race([remote.make(design, sampleRate, files), gone]).then(done, failed);
      },
    });
    void synthesiseAll();
  });
}

/** Computes these notes, in this order, before others that are asked for: they are to be heard now. */
export function synthesiseFirst(notes: readonly SoundId[]): void {
  hurried = notes;
}

function takeNext() {
  const places = hurried.map((note) => asked.findIndex((job) => job.note === note));
  return asked.splice(places.find((at) => at >= 0) ?? 0, 1).at(0);
}

async function synthesiseAll(): Promise<void> {
  if (synthesising) return;
  synthesising = true;
  for (let next = takeNext(); next; next = takeNext()) await next.run();
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

export type { WrittenAudio, Zipped } from './audio.worker';

/** Files of sound that are being written. */
export interface Writing {
  /** In the order of the parts. */
  result: Promise<WrittenAudio[]>;
  /** Ends the work at once, or gives back what it needed when it is done. */
  end(): void;
}

/** More workers than these would want more memory than a page may have. */
const MOST_WRITERS = 4;

/** Where files of sound go: each onto the disk, into memory, or nowhere, when they are only listened to. */
export type AudioWay = readonly FileSystemFileHandle[] | 'memory' | 'nowhere';

/**
 * Renders parts of a song off the page's thread, several at once where there are cores for it: one is left to
 * the page. Files on the disk are there once all of them are: what ends before leaves what was there.
 * @param to where they go; on the disk a file for each part
 * @param report told how many are done, and how much of all
 * @param each told what came of each part
 */
export function writeAudioAside(
  parts: readonly AudioPart[],
  form: SoundForm,
  files: ReadonlyMap<SampleHash, Pcm>,
  to: AudioWay,
  report: (done: number, share: number) => void = () => {},
  each: (part: number, written: WrittenAudio) => void = () => {},
): Writing {
  const cores = Math.max(1, (navigator.hardwareConcurrency || 2) - 1);
  const writers = Array.from({ length: Math.min(cores, MOST_WRITERS, parts.length) }, () => {
    const worker = new Worker(new URL('./audio.worker.ts', import.meta.url), { type: 'module' });
    const failed = died(worker);
    const orDie = <T>(work: Promise<T>) => Promise.race([work, failed]);
    return { worker, remote: Comlink.wrap<AudioWorker>(worker), orDie };
  });
  const end = () => writers.forEach(({ worker }) => worker.terminate());
  const shares = new Float64Array(parts.length);
  let done = 0;
  const say = (part: number, share: number) => {
    shares[part] = share;
    report(done, shares.reduce((sum, one) => sum + one, 0) / parts.length);
  };
  /** Parts of one mix have one level, which is measured once. */
  const gains = new Map<AudioPart['measured'], Promise<number>>();
  const written = new Array<WrittenAudio>(parts.length);
  let next = 0;
  const work = async ({ remote, orDie }: (typeof writers)[number]) => {
    await orDie(remote.prepare(files, form));
    for (let at = next++; at < parts.length; at = next++) {
      const part = parts[at];
      // Measuring is as much work as writing.
      const measuring = part.measured !== undefined && !gains.has(part.measured);
      if (measuring) {
        const told = Comlink.proxy((share: number) => say(at, share / 2));
        gains.set(part.measured, orDie(remote.gain(part, form, told)));
      }
      const gain = part.measured ? await gains.get(part.measured)! : 1;
      const told = Comlink.proxy((share: number) => say(at, measuring ? 0.5 + share / 2 : share));
      const way = typeof to === 'string' ? to : to[at];
      written[at] = await orDie(remote.render(part, form, { gain, to: way }, told));
      done++;
      each(at, written[at]);
      say(at, 1);
    }
  };
  const all = async () => {
    await Promise.all(writers.map(work));
    for (const { remote, orDie } of writers) await orDie(remote.close());
    return written;
  };
  return { result: all(), end };
}

/** Puts files into one zip off the page's thread, as they are. */
export async function zipAside(files: readonly { name: string; blob: Blob }[]): Promise<Zipped> {
  const worker = new Worker(new URL('./audio.worker.ts', import.meta.url), { type: 'module' });
  try {
    return await Promise.race([Comlink.wrap<AudioWorker>(worker).zipped(files), died(worker)]);
  } finally {
    worker.terminate();
  }
}

const loopsWorker = kept<LoopsWorker>(
  () => new Worker(new URL('./loops.worker.ts', import.meta.url), { type: 'module' }),
);

/** Finds the strokes of a recorded loop off the page's thread. */
export function onsetsAside(
  samples: Float32Array,
  rate: Hertz,
  threshold: number,
): Promise<Samples[]> {
  const { remote, failed } = loopsWorker();
  return Promise.race([remote.onsets(samples, rate, threshold), failed]);
}

export type { Received } from './receiver.worker';

/** A MIDI instrument that is not there: it takes messages when they are due, and tells what it got. */
export function simulatedReceiver(): Comlink.Remote<ReceiverWorker> {
  const worker = new Worker(new URL('./receiver.worker.ts', import.meta.url), { type: 'module' });
  return Comlink.wrap<ReceiverWorker>(worker);
}

export type { DraftAnswer, OwnGrooves } from './drafts.worker';

const draftsWorker = kept<DraftsWorker>(
  () => new Worker(new URL('./drafts.worker.ts', import.meta.url), { type: 'module' }),
);

/** Reads the shipped families off the page's thread, so that the first draft is there at once. */
export function prepareDrafts(ids: readonly string[]): Promise<void> {
  const { remote, failed } = draftsWorker();
  return Promise.race([remote.prepare(ids), failed]);
}

/** Drafts a song off the page's thread. @param sections only these; absent is all */
export function draftAside(
  song: Song,
  own: OwnGrooves,
  sections?: ReadonlySet<string>,
): Promise<DraftAnswer> {
  const { remote, failed } = draftsWorker();
  return Promise.race([remote.draft(song, own, sections), failed]);
}

/** Drafts grooves like a pattern off the page's thread, from the nearest to the boldest. */
export function neighboursAside(song: Song, pattern: Pattern, seed: number): Promise<Neighbour[]> {
  const { remote, failed } = draftsWorker();
  return Promise.race([remote.neighbours(song, pattern, seed), failed]);
}
