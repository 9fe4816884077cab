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
import type { AudioPart, Gain, SoundForm } from '../core/deliver';
import type { Imported, ImportOptions } from '../core/midi';
import type { ReadFont } from '../core/fonts';
import type { KitSound, Pcm } from '../core/sound';
import type { Hertz, NoteNumber, Samples } from '../core/time';
import type { AudioWorker, WrittenAudio, Zipped } from './audio.worker';
import type { DraftAnswer, DraftsWorker, OwnGrooves } from './drafts.worker';
import type { FontsWorker } from './fonts.worker';
import type { FindingsWorker } from './findings.worker';
import { aside, guarded, kept, type Aside } from './guard';
import type { ReceiverWorker } from './receiver.worker';
import type { LoopsWorker } from './loops.worker';
import type { MidiWorker } from './midi.worker';
import type { SoundWorker } from './sound.worker';

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
        const making = soundWorker().ask((remote) => remote.make(design, sampleRate, files));
        return making.then(done, failed);
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

/** Reads a MIDI file off the page's thread. */
export function importAside(
  bytes: Uint8Array,
  name: string,
  options: ImportOptions = {},
): Aside<Imported> {
  const worker = new Worker(new URL('./midi.worker.ts', import.meta.url), { type: 'module' });
  return aside<MidiWorker, Imported>(worker, (remote) => remote.importMidi(bytes, name, options));
}

const findingsWorker = kept<FindingsWorker>(
  () => new Worker(new URL('./findings.worker.ts', import.meta.url), { type: 'module' }),
);
/** The song that a worker looked through last. */
let lookedThrough: { by: ReturnType<typeof findingsWorker>; song: Song } | undefined;

/** Looks through a song off the page's thread; of a song that was looked through, only what changed. */
export async function findingsAside(song: Song) {
  const by = findingsWorker();
  const before = lookedThrough?.by === by ? lookedThrough.song : undefined;
  lookedThrough = { by, song };
  const difference = before?.id === song.id ? differenceOf(before, song) : undefined;
  const found = difference && (await by.ask((worker) => worker.changed(difference)));
  return found ?? by.ask((worker) => worker.whole(song));
}

/** Reads the drum kits of a SoundFont 2 file off the page's thread. */
export function readFontAside(
  file: Blob,
  notes: readonly NoteNumber[],
  rate: Hertz,
): Aside<ReadFont | string> {
  const worker = new Worker(new URL('./fonts.worker.ts', import.meta.url), { type: 'module' });
  return aside<FontsWorker, ReadFont | string>(worker, (remote) => remote.read(file, notes, rate));
}

export { Ended, type Aside } from './guard';
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
  // Stems that are compared with their mix are with one of the workers.
  const most = to === 'nowhere' && parts.some(({ stemOf }) => stemOf) ? 1 : MOST_WRITERS;
  const writers = Array.from({ length: Math.min(cores, most, parts.length) }, () => {
    const worker = new Worker(new URL('./audio.worker.ts', import.meta.url), { type: 'module' });
    return guarded<AudioWorker>(worker);
  });
  const end = () => writers.forEach((writer) => writer.end());
  const shares = new Float64Array(parts.length);
  let done = 0;
  const say = (part: number, share: number) => {
    shares[part] = share;
    report(done, shares.reduce((sum, one) => sum + one, 0) / parts.length);
  };
  /** Parts of one mix have one level, which is measured once. */
  const gains = new Map<AudioPart['measured'], Promise<Gain>>();
  const rendered = new Map<number, Rendered>();
  const written = new Array<WrittenAudio>(parts.length);
  let next = 0;
  const work = async ({ ask }: (typeof writers)[number]) => {
    await ask((remote) => remote.prepare(files, form));
    for (let at = next++; at < parts.length; at = next++) {
      const part = parts[at];
      // Measuring is as much work as writing.
      const measuring = part.measured !== undefined && !gains.has(part.measured);
      if (measuring) {
        const told = Comlink.proxy((share: number) => say(at, share / 2));
        gains.set(
          part.measured,
          ask((remote) => remote.gain(part, form, told)),
        );
      }
      const { gain, short } = part.measured ? await gains.get(part.measured)! : AS_IT_IS;
      const told = Comlink.proxy((share: number) => say(at, measuring ? 0.5 + share / 2 : share));
      const way = typeof to === 'string' ? to : to[at];
      const frames = await ask((remote) => remote.render(at, part, form, { gain, to: way }, told));
      rendered.set(at, { ask, frames, gain, short });
      say(at, 1);
      await finish(togetherWith(at));
    }
  };

  /** A part, or the mix and all stems of it: they have one length. */
  const togetherWith = (at: number): number[] => {
    const { stemOf } = parts[at];
    return stemOf ? [...parts.keys()].filter((i) => parts[i].stemOf === stemOf) : [at];
  };

  const ended = new Set<number>();
  /**
   * Ends files that belong together once they are rendered: once all of them are, or where the mix is, as nothing of a
   * mix rings longer than the mix. So no more encoders are at work than need be.
   */
  const finish = async (together: readonly number[]): Promise<void> => {
    const made = together.filter((at) => rendered.has(at));
    const mix = to === 'nowhere' ? undefined : made.find((at) => parts[at].track === undefined);
    if (made.length < together.length && mix === undefined) return;
    const framesOf = (at: number) => rendered.get(at)!.frames;
    const frames = mix === undefined ? Math.max(...made.map(framesOf)) : framesOf(mix);
    const ready = made.filter((at) => !ended.has(at));
    ready.forEach((at) => ended.add(at));
    const last = parts[together.at(-1)!];
    const { ask, gain } = rendered.get(made[0])!;
    // Stems that are made to add up need no comparison.
    const isExact = parts[made[0]].measured?.stems !== undefined;
    const apart =
      to === 'nowhere' && last.stemOf && !isExact
        ? await ask((remote) => remote.apart(last, form, gain))
        : undefined;
    for (const at of ready) {
      const { ask, gain, short, frames: own } = rendered.get(at)!;
      const file = await ask((remote) => remote.finish(at, Math.max(own, frames)));
      written[at] = { ...file, gain, short, ...(apart !== undefined && { apart }) };
      done++;
      each(at, written[at]);
      say(at, 1);
    }
  };

  const all = async () => {
    await Promise.all(writers.map(work));
    for (const { ask } of writers) await ask((remote) => remote.close());
    return written;
  };
  return { result: all(), end };
}

/** A part that was rendered and is not ended yet, and who has it. */
interface Rendered extends Gain {
  ask: ReturnType<typeof guarded<AudioWorker>>['ask'];
  frames: Samples;
}

const AS_IT_IS: Gain = { gain: 1, short: 0 };

/** Puts files into one zip off the page's thread, as they are. */
export function zipAside(files: readonly { name: string; blob: Blob }[]): Promise<Zipped> {
  const worker = new Worker(new URL('./audio.worker.ts', import.meta.url), { type: 'module' });
  return aside<AudioWorker, Zipped>(worker, (remote) => remote.zipped(files)).result;
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
  return loopsWorker().ask((remote) => remote.onsets(samples, rate, threshold));
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
  return draftsWorker().ask((remote) => remote.prepare(ids));
}

/** Drafts a song off the page's thread. @param sections only these; absent is all */
export function draftAside(
  song: Song,
  own: OwnGrooves,
  sections?: ReadonlySet<string>,
): Promise<DraftAnswer> {
  return draftsWorker().ask((remote) => remote.draft(song, own, sections));
}

/** Drafts grooves like a pattern off the page's thread, from the nearest to the boldest. */
export function neighboursAside(song: Song, pattern: Pattern, seed: number): Promise<Neighbour[]> {
  return draftsWorker().ask((remote) => remote.neighbours(song, pattern, seed));
}
