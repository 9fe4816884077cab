import { BlobReader, BlobWriter, ZipWriter } from '@zip.js/zip.js/lib/zip-core-native.js';
import * as Comlink from 'comlink';
import { WavStream, type AudioPart, type Depth } from '../core/deliver';
import { compileDesk, compileScore, notesIn, Rendering, soundsFor } from '../core/engine';
import type { SampleHash, SoundId } from '../core/model';
import { resampled, type KitSound, type Pcm } from '../core/sound';
import { roomRing } from '../core/tracks';
import type { Hertz, Seconds } from '../core/time';

/** At which rate sound files are kept. */
const KEPT: Hertz = 48_000;
/** So much is rendered at once; and so much is in memory before it is handed to the browser. */
const PIECE: Seconds = 1;
const SEGMENT = 16 * 1024 ** 2;

/** A file that was written. */
export interface WrittenAudio {
  name: string;
  blob: Blob;
  frames: number;
  /** The loudest sample, 1 is full scale. */
  peak: number;
}

const audioWorker = {
  /**
   * Renders parts one after another.
   * @param report told how much of which part is done
   */
  async render(
    parts: readonly AudioPart[],
    { depth, rate }: { depth: Depth; rate: Hertz },
    files: ReadonlyMap<SampleHash, Pcm>,
    report: (part: number, share: number) => void,
  ): Promise<WrittenAudio[]> {
    const sounds = new Map<SoundId, KitSound>();
    const own = atRate(files, rate);
    const written: WrittenAudio[] = [];
    for (const [i, part] of parts.entries()) {
      written.push(renderPart(part, depth, rate, own, sounds, (share) => report(i, share)));
    }
    return written;
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

function renderPart(
  { name, song, seconds, tail }: AudioPart,
  depth: Depth,
  sampleRate: Hertz,
  files: ReadonlyMap<SampleHash, Pcm>,
  sounds: Map<SoundId, KitSound>,
  report: (share: number) => void,
): WrittenAudio {
  const score = compileScore(song);
  const missing = notesIn(score).filter((note) => !sounds.has(note));
  for (const note of missing) {
    const [sound] = soundsFor([note], sampleRate, song.kit, files, roomRing(song));
    sounds.set(note, sound);
    report(0);
  }
  const rendering = new Rendering(score, {
    sampleRate,
    sounds: [...sounds.values()],
    desk: compileDesk(song),
    ...(!tail && { to: seconds }),
  });
  const stream = new WavStream(depth, sampleRate);
  const size = Math.round(PIECE * sampleRate);
  const [left, right] = [new Float32Array(size), new Float32Array(size)];
  const segments: Blob[] = [];
  let parts: Uint8Array<ArrayBuffer>[] = [];
  let bytes = 0;
  for (let frames = rendering.next(left, right); frames > 0; frames = rendering.next(left, right)) {
    const made = stream.bytes(left.subarray(0, frames), right.subarray(0, frames));
    parts.push(made as Uint8Array<ArrayBuffer>);
    bytes += made.length;
    if (bytes >= SEGMENT) {
      segments.push(new Blob(parts));
      parts = [];
      bytes = 0;
    }
    report(Math.min(1, rendering.done / (seconds * sampleRate)));
  }
  const header = stream.header() as Uint8Array<ArrayBuffer>;
  const blob = new Blob([header, ...segments, ...parts], { type: 'audio/wav' });
  return { name, blob, frames: stream.frames, peak: stream.peak };
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
