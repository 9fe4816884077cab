import { WaveFile } from 'wavefile';
import type { Hertz } from '../time';

/** The samples of a sound file, a list a channel, from -1 to 1. */
export interface FileSamples {
  rate: Hertz;
  channels: Float32Array[];
}

/** Rates that are believed; others are damage. */
const RATES: readonly [lowest: Hertz, highest: Hertz] = [2000, 768_000];

const isRate = (rate: Hertz) => rate >= RATES[0] && rate <= RATES[1];

/**
 * Reads files that a browser may not: AIFF and AIFF-C, and WAV of 64 bits, A-law and µ-law.
 * @returns what is in it; or, of a file of these kinds that cannot be read, why, as the end of a sentence; undefined
 * where it is none of them
 */
export function readSoundFile(bytes: Uint8Array): FileSamples | string | undefined {
  const word = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  if (word(0) === 'FORM' && /^AIF[FC]$/.test(word(8))) return readAiff(bytes, word(8) === 'AIFC');
  if (/^(RIFF|RIFX|RF64)$/.test(word(0)) && word(8) === 'WAVE') return readWav(bytes);
  return undefined;
}

/** Names of the kinds of WAV files that are often met and not read. */
const WAV_KINDS: Readonly<Record<number, string>> = {
  0x02: 'Microsoft ADPCM',
  0x11: 'IMA ADPCM',
  0x31: 'GSM',
  0x50: 'MPEG audio',
  0x55: 'MP3 in a WAV file',
};

/** Kinds that are read: samples as they are, floating point, A-law, µ-law, and those in an extension. */
const READ = [1, 3, 6, 7, 0xfffe];

function readWav(bytes: Uint8Array): FileSamples | string {
  const wav = new WaveFile();
  try {
    wav.fromBuffer(bytes);
  } catch {
    return 'is damaged or cut off';
  }
  const { audioFormat, sampleRate, numChannels } = wav.fmt as Record<string, number>;
  if (!READ.includes(audioFormat)) {
    const kind = WAV_KINDS[audioFormat] ?? `a kind of WAV numbered ${audioFormat}`;
    return `holds ${kind}, which is not read: save it as plain WAV or FLAC`;
  }
  if (!isRate(sampleRate) || !(numChannels >= 1 && numChannels <= 32)) {
    return 'is damaged: it states an impossible rate or number of channels';
  }
  try {
    if (audioFormat === 6) wav.fromALaw('16');
    if (audioFormat === 7) wav.fromMuLaw('16');
    const full = { '8': 128, '16': 2 ** 15, '24': 2 ** 23, '32': 2 ** 31 }[wav.bitDepth] ?? 1;
    const middle = wav.bitDepth === '8' ? 128 : 0;
    const samples = wav.getSamples(false, Float64Array) as unknown as Float64Array | Float64Array[];
    const channels = numChannels === 1 ? [samples as Float64Array] : (samples as Float64Array[]);
    return {
      rate: sampleRate,
      channels: channels.map((side) => Float32Array.from(side, (x) => (x - middle) / full)),
    };
  } catch {
    return 'is damaged or cut off';
  }
}

/**
 * Source: Apple Computer, "Audio Interchange File Format: AIFF, version 1.3", 1989, and "AIFF-C, draft of 1991": parts
 * with big-endian sizes, of which COMM says what SSND holds.
 */
function readAiff(bytes: Uint8Array, isPacked: boolean): FileSamples | string {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const word = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4));
  let about:
    { channels: number; frames: number; bits: number; rate: Hertz; kind: string } | undefined;
  for (let at = 12; at + 8 <= bytes.length;) {
    const [id, size] = [word(at), view.getUint32(at + 4)];
    const from = at + 8;
    if (id === 'COMM' && size >= 18 && from + 18 <= bytes.length) {
      about = {
        channels: view.getUint16(from),
        frames: view.getUint32(from + 2),
        bits: view.getUint16(from + 6),
        rate: extended(view, from + 8),
        kind: isPacked && size >= 22 && from + 22 <= bytes.length ? word(from + 18) : 'NONE',
      };
    } else if (id === 'SSND' && about && from + 8 <= bytes.length) {
      const start = from + 8 + view.getUint32(from);
      return samplesOf(view, { ...about, start, end: Math.min(bytes.length, from + size) });
    }
    at = from + size + (size % 2);
  }
  return 'is damaged: it says nothing of its samples, or holds none';
}

interface Packed {
  channels: number;
  frames: number;
  bits: number;
  rate: Hertz;
  kind: string;
  start: number;
  end: number;
}

function samplesOf(view: DataView, about: Packed): FileSamples | string {
  const { channels, bits, rate, kind, start, end } = about;
  if (!isRate(rate) || channels < 1 || channels > 32) {
    return 'is damaged: it states an impossible rate or number of channels';
  }
  const width = Math.ceil(bits / 8);
  const reader = readerOf(view, kind, width);
  if (!reader)
    return `holds sound packed as “${kind.trim()}”, which is not read: save it as plain AIFF, WAV or FLAC`;
  const frames = Math.min(about.frames, Math.floor(Math.max(0, end - start) / (width * channels)));
  return {
    rate,
    channels: Array.from({ length: channels }, (_, channel) =>
      Float32Array.from({ length: frames }, (_, i) =>
        reader(start + (i * channels + channel) * width),
      ),
    ),
  };
}

/** How a sample is read at a byte; undefined where it is packed in a way that is not read. */
function readerOf(
  view: DataView,
  kind: string,
  width: number,
): ((at: number) => number) | undefined {
  const isSmallFirst = kind === 'sowt';
  if (/^fl32$/i.test(kind) && width === 4) return (at) => view.getFloat32(at);
  if (/^fl64$/i.test(kind) && width === 8) return (at) => view.getFloat64(at);
  if (kind !== 'NONE' && kind !== 'twos' && !isSmallFirst) return undefined;
  if (width === 1) return (at) => view.getInt8(at) / 128;
  if (width === 2) return (at) => view.getInt16(at, isSmallFirst) / 2 ** 15;
  if (width === 4) return (at) => view.getInt32(at, isSmallFirst) / 2 ** 31;
  if (width !== 3) return undefined;
  return isSmallFirst
    ? (at) => ((view.getInt8(at + 2) << 16) | view.getUint16(at, true)) / 2 ** 23
    : (at) => ((view.getInt8(at) << 16) | view.getUint16(at + 1)) / 2 ** 23;
}

/** A number of 80 bits, as rates are written: a sign, an exponent of 15 bits, and 64 bits of which the first is whole. */
function extended(view: DataView, at: number): number {
  const exponent = (view.getUint16(at) & 0x7fff) - 16_383;
  const whole = view.getUint32(at + 2) * 2 ** 32 + view.getUint32(at + 6);
  return whole * 2 ** (exponent - 63);
}
