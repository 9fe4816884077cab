import { BlobReader, BlobWriter, ZipWriter } from '@zip.js/zip.js/lib/zip-core-native.js';
import * as Comlink from 'comlink';
import {
  gainOf,
  heldBack,
  renderPart,
  soundsOfPart,
  StemSum,
  type AudioPart,
  type Encoding,
  type Gain,
  type SoundForm,
} from '../core/deliver';
import { soundsFor } from '../core/engine';
import type { SampleHash, SoundId } from '../core/model';
import { resampled, type KitSound, type Pcm } from '../core/sound';
import { roomRing } from '../core/tracks';
import type { Decibels, Hertz, Samples } from '../core/time';
import { soundFile, type SoundFile } from './audio/encoders';
import { Outline } from './audio/outline';
import { OnDisk } from './audio/target';

/** At which rate sound files are kept. */
const KEPT: Hertz = 48_000;

/** A file that was written, or listened to. */
export interface WrittenAudio {
  /** Where it was written into memory. */
  blob?: Blob;
  frames: number;
  /** The true peak, 1 is full scale. */
  peak: number;
  /** The most that the limiter held back, in decibels. */
  limited: number;
  /** The loudest of each of some hundred stretches, from 0 to 1. */
  outline: Float32Array;
  /** The decibels by which it stays under the level that was asked for, and its factor. */
  short?: Decibels;
  gain?: number;
  /** Of a stem that was listened to: how much louder than the mix all stems together are, where they differ most. */
  apart?: Decibels;
}

let own: ReadonlyMap<SampleHash, Pcm> = new Map();
const sounds = new Map<SoundId, KitSound>();
/** Files on the disk that are not there yet. */
const open: OnDisk[] = [];

/** Files that were rendered and are not ended yet, by the number of their part. */
const rendered = new Map<number, { file: SoundFile; outline: Outline; limited: Decibels }>();
/** The stems that were listened to since they were compared with a mix last. */
let sum: StemSum | undefined;
/** Samples of silence that are written at once. */
const SILENT_PIECE: Samples = 48_000;

const NOTHING: Encoding = { add() {} };
const NO_FILE: SoundFile = { rest: NOTHING, beginning: NOTHING, finish: async () => undefined };

const audioWorker = {
  /** Takes the sound files that parts play, at the rate they are written at. */
  prepare(files: ReadonlyMap<SampleHash, Pcm>, { rate }: SoundForm): void {
    own = atRate(files, rate);
    sounds.clear();
  },

  /** What a part is multiplied by to be as loud as is wished. */
  gain(part: AudioPart, { rate }: SoundForm, report: (share: number) => void): Promise<Gain> {
    return gainOf(part, { sampleRate: rate, sounds: soundsOf(part, rate), report });
  },

  /**
   * Renders a part into a file, which is there once `finish` was called.
   * @param to where it goes: a file on the disk, which is there once `close` was called; memory; or nowhere: then
   * it is only listened to, and what is a stem is kept to be compared with its mix
   * @returns how many samples there are
   */
  async render(
    at: number,
    part: AudioPart,
    form: SoundForm,
    { gain, to }: { gain: number; to: FileSystemFileHandle | 'memory' | 'nowhere' },
    report: (share: number) => void,
  ): Promise<Samples> {
    const { rate } = form;
    const held = heldBack(part, rate);
    let disk: OnDisk | undefined;
    if (typeof to !== 'string') {
      disk = new OnDisk(await to.createWritable());
      open.push(disk);
    }
    const isStem = to === 'nowhere' && part.track !== undefined;
    const stem = isStem ? (sum ??= new StemSum(rate)).stem() : NOTHING;
    const file =
      to === 'nowhere' ? { ...NO_FILE, rest: stem, beginning: stem } : soundFile(form, held, disk);
    const outline = new Outline(part.seconds * rate);
    const { limited } = await renderPart(
      part,
      { sampleRate: rate, sounds: soundsOf(part, rate), report },
      {
        encoding: outline.watching(file.rest, held),
        beginning: outline.watching(file.beginning, 0),
        gain,
      },
    );
    rendered.set(at, { file, outline, limited });
    return outline.frames;
  },

  /** Ends a file that was rendered. @param frames its length: what is missing is silent */
  async finish(at: number, frames: Samples): Promise<WrittenAudio> {
    const { file, outline, limited } = rendered.get(at)!;
    rendered.delete(at);
    const silence = new Float32Array(SILENT_PIECE);
    for (let left = frames - outline.frames; left > 0; left -= SILENT_PIECE) {
      const piece = silence.subarray(0, Math.min(left, SILENT_PIECE));
      await file.rest.add(piece, piece);
    }
    const blob = await file.finish();
    const { peak, points } = outline;
    return { ...(blob && { blob }), frames, peak, limited, outline: points };
  },

  /** By how much the stems that were listened to since this was asked last are together louder than their mix. */
  async apart(part: AudioPart, { rate }: SoundForm, gain: number): Promise<Decibels> {
    const stems = sum ?? new StemSum(rate);
    sum = undefined;
    const mix = stems.mix();
    const whole = { ...part, ...part.stemOf };
    const form = { sampleRate: rate, sounds: soundsOf(whole, rate) };
    await renderPart(whole, form, { encoding: mix, beginning: mix, gain });
    return stems.apart;
  },

  /** Has all files that were rendered onto the disk be there. */
  async close(): Promise<void> {
    for (let disk = open.shift(); disk; disk = open.shift()) await disk.stream.close();
  },

  /** Files in one zip, as they are, with how many it holds. */
  async zipped(files: readonly { name: string; blob: Blob }[]): Promise<Zipped> {
    const writer = new ZipWriter(new BlobWriter('application/zip'), {
      useWebWorkers: false,
      level: 0,
    });
    let holds = 0;
    for (const { name, blob } of files) {
      await writer.add(name, new BlobReader(blob));
      holds++;
    }
    return { zip: await writer.close(), holds };
  },
};

/** A zip, and how many files it holds. */
export interface Zipped {
  zip: Blob;
  holds: number;
}

/** The sounds of a part; those that are not there yet are computed. */
function soundsOf(part: AudioPart, rate: Hertz): KitSound[] {
  const { kit } = part.song;
  for (const note of soundsOfPart(part)) {
    if (sounds.has(note)) continue;
    const [sound] = soundsFor([note], rate, kit, own, roomRing(part.song));
    sounds.set(note, sound);
  }
  return [...sounds.values()];
}

/** Sound files as they are played at another rate. */
function atRate(files: ReadonlyMap<SampleHash, Pcm>, rate: Hertz): ReadonlyMap<SampleHash, Pcm> {
  if (rate === KEPT) return files;
  return new Map(
    [...files].map(([hash, { left, right }]) => [
      hash,
      {
        left: resampled(left, KEPT / rate),
        ...(right && { right: resampled(right, KEPT / rate) }),
      },
    ]),
  );
}

export type AudioWorker = typeof audioWorker;

Comlink.expose(audioWorker);
