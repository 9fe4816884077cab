import { hashOfSound, type Pcm } from '../core/sound';

/** The largest sound file that is read, in bytes, and the longest, in seconds. */
const LARGEST = 200_000_000;
const LONGEST = 600;
/** A file that is softer than this all along holds nothing. */
const SILENT = 1e-5;

/** The endings of sound files that are read. */
export const SOUND_FILES = ['.wav', '.flac', '.ogg', '.mp3'] as const;

export const isSoundFile = (name: string) =>
  SOUND_FILES.some((ending) => name.toLowerCase().endsWith(ending));

/** A sound file as it is kept. */
export interface Decoded extends Pcm {
  /** What it is known by: see `hashOfSound`. */
  hash: string;
  /** What the user should know of it, in a sentence. */
  remark?: string;
}

/**
 * Reads a sound file of any rate and depth that the browser can decode.
 * @param rate what it is brought to
 * @returns what it holds, or why it cannot be read, in a sentence
 */
export async function decodeSound(
  bytes: ArrayBuffer,
  name: string,
  rate: number,
): Promise<Decoded | string> {
  if (bytes.byteLength === 0) return `“${name}” is empty.`;
  if (bytes.byteLength > LARGEST) return `“${name}” is larger than 200 MB: cut it shorter first.`;
  let buffer: AudioBuffer;
  try {
    // What is decoded is handed over: the bytes are gone then.
    buffer = await new OfflineAudioContext(1, 1, rate).decodeAudioData(bytes.slice(0));
  } catch {
    return `“${name}” is no sound that this browser can read. Files of WAV, FLAC, OGG and MP3 can be.`;
  }
  if (buffer.duration > LONGEST)
    return `“${name}” is longer than ten minutes: cut it shorter first.`;
  const [left, second] = [0, 1].map((side) =>
    side < buffer.numberOfChannels ? buffer.getChannelData(side).slice() : undefined,
  );
  const right = second && !same(left!, second) ? second : undefined;
  if (isSilent(left!) && (!right || isSilent(right))) return `“${name}” is silent all along.`;
  const pcm: Pcm = { left: left!, ...(right && { right }) };
  return {
    hash: await hashOfSound(pcm),
    ...pcm,
    ...(buffer.numberOfChannels > 2 && {
      remark: `“${name}” has ${buffer.numberOfChannels} channels: its first two are heard.`,
    }),
  };
}

const same = (a: Float32Array, b: Float32Array) => a.every((x, i) => x === b[i]);
const isSilent = (samples: Float32Array) => samples.every((x) => Math.abs(x) < SILENT);
