import { hashOfSound, resampled, type Pcm } from '../core/sound';

/** The largest sound file that is read, in bytes, and the longest, in seconds. */
const LARGEST = 200_000_000;
const LONGEST = 600;
/** A file that is softer than this all along holds nothing. */
const SILENT = 1e-5;

/** The endings of sound files that are read. */
export const SOUND_FILES = ['.wav', '.aif', '.aiff', '.aifc', '.flac', '.ogg', '.mp3'] as const;

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
 * Reads a sound file of any rate and depth: what the browser can decode, and what `readSoundFile` can besides.
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
  const read = await channelsOf(bytes, rate);
  if (typeof read === 'string') return `“${name}” ${read}.`;
  const { channels, seconds } = read;
  if (seconds > LONGEST) return `“${name}” is longer than ten minutes: cut it shorter first.`;
  const [left, second] = [channels[0], channels.at(1)];
  const right = second && !same(left, second) ? second : undefined;
  if (isSilent(left) && (!right || isSilent(right))) return `“${name}” is silent all along.`;
  const pcm: Pcm = { left, ...(right && { right }) };
  return {
    hash: await hashOfSound(pcm),
    ...pcm,
    ...(channels.length > 2 && {
      remark: `“${name}” has ${channels.length} channels: its first two are heard.`,
    }),
  };
}

/** The channels of a file at a rate, or why they cannot be read, as the end of a sentence. */
async function channelsOf(
  bytes: ArrayBuffer,
  rate: number,
): Promise<{ channels: Float32Array[]; seconds: number } | string> {
  try {
    // What is decoded is handed over: the bytes are gone then.
    const buffer = await new OfflineAudioContext(1, 1, rate).decodeAudioData(bytes.slice(0));
    const { numberOfChannels: count, duration } = buffer;
    const channels = Array.from({ length: count }, (_, n) => buffer.getChannelData(n).slice());
    return { channels, seconds: duration };
  } catch {
    const { readSoundFile } = await import('../core/soundFiles');
    const read = readSoundFile(new Uint8Array(bytes));
    if (typeof read === 'string') return read;
    if (!read) {
      return 'is no sound that can be read here. Files of WAV, AIFF, FLAC, OGG and MP3 can be';
    }
    const seconds = read.channels[0].length / read.rate;
    if (seconds > LONGEST) return { channels: read.channels, seconds };
    return { channels: read.channels.map((side) => resampled(side, read.rate / rate)), seconds };
  }
}

const same = (a: Float32Array, b: Float32Array) => a.every((x, i) => x === b[i]);
const isSilent = (samples: Float32Array) => samples.every((x) => Math.abs(x) < SILENT);
