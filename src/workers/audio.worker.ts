import { BlobReader, BlobWriter, ZipWriter } from '@zip.js/zip.js/lib/zip-core-native.js';
import * as Comlink from 'comlink';
import {
  gainOf,
  heldBack,
  renderPart,
  soundsOfPart,
  WavStream,
  type AudioPart,
  type Encoding,
  type SoundForm,
} from '../core/deliver';
import { soundsFor } from '../core/engine';
import type { SampleHash, SoundId } from '../core/model';
import { resampled, type KitSound, type Pcm } from '../core/sound';
import { roomRing } from '../core/tracks';
import type { Hertz } from '../core/time';

/** At which rate sound files are kept. */
const KEPT: Hertz = 48_000;
/** So many bytes are in memory before they are handed to the browser. */
const SEGMENT = 16 * 1024 ** 2;
/** A waveform on the page has so many points. */
const POINTS = 900;

/** A file that was written. */
export interface WrittenAudio {
  blob: Blob;
  frames: number;
  /** The loudest sample, 1 is full scale. */
  peak: number;
  /** The loudest of each of some hundred stretches, from 0 to 1. */
  outline: Float32Array;
}

let own: ReadonlyMap<SampleHash, Pcm> = new Map();
const sounds = new Map<SoundId, KitSound>();

const audioWorker = {
  /** Takes the sound files that parts play, at the rate they are written at. */
  prepare(files: ReadonlyMap<SampleHash, Pcm>, { rate }: SoundForm): void {
    own = atRate(files, rate);
    sounds.clear();
  },

  /** What a part is multiplied by to be as loud as is wished. */
  gain(part: AudioPart, { rate }: SoundForm, report: (share: number) => void): number {
    return gainOf(part, { sampleRate: rate, sounds: soundsOf(part, rate), report });
  },

  /** Renders a part into a file. */
  render(
    part: AudioPart,
    { depth, rate }: SoundForm,
    gain: number,
    report: (share: number) => void,
  ): WrittenAudio {
    const stream = new WavStream(depth, rate);
    const outline = new Outline(part.seconds * rate);
    const encoding = new Segments(stream, outline, heldBack(part, rate));
    const beginning = new Segments(stream, outline, 0);
    const form = { sampleRate: rate, sounds: soundsOf(part, rate), report };
    renderPart(part, form, { encoding, beginning, gain });
    const header = stream.header() as Uint8Array<ArrayBuffer>;
    const blob = new Blob([header, ...beginning.blobs(), ...encoding.blobs()], {
      type: 'audio/wav',
    });
    return { blob, frames: stream.frames, peak: stream.peak, outline: outline.points };
  },

  /** Files in one zip, as they are. */
  async zipped(files: readonly { name: string; blob: Blob }[]): Promise<Blob> {
    const zip = new ZipWriter(new BlobWriter('application/zip'), {
      useWebWorkers: false,
      level: 0,
    });
    for (const { name, blob } of files) await zip.add(name, new BlobReader(blob));
    return zip.close();
  },
};

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

/** Bytes that are handed to the browser now and then: it may put them on the disk. */
class Segments implements Encoding {
  private readonly segments: Blob[] = [];
  private parts: Uint8Array<ArrayBuffer>[] = [];
  private bytes = 0;

  constructor(
    private readonly stream: WavStream,
    private readonly outline: Outline,
    private at: number,
  ) {}

  add(left: Float32Array, right: Float32Array): void {
    this.outline.add(this.at, left, right);
    this.at += left.length;
    const made = this.stream.bytes(left, right);
    this.parts.push(made as Uint8Array<ArrayBuffer>);
    this.bytes += made.length;
    if (this.bytes < SEGMENT) return;
    this.segments.push(new Blob(this.parts));
    this.parts = [];
    this.bytes = 0;
  }

  blobs(): BlobPart[] {
    return [...this.segments, ...this.parts];
  }
}

/** The outline of what goes by. */
class Outline {
  readonly points = new Float32Array(POINTS);

  constructor(private readonly frames: number) {}

  /** @param from which sample of the file the first is */
  add(from: number, left: Float32Array, right: Float32Array): void {
    const { points, frames } = this;
    for (let i = 0; i < left.length; i++) {
      const point = Math.min(POINTS - 1, Math.floor(((from + i) / frames) * POINTS));
      points[point] = Math.max(points[point], Math.abs(left[i]), Math.abs(right[i]));
    }
  }
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
