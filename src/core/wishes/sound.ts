import type { Hertz, Samples, Seconds } from '../time';

/** How finely samples are written: whole numbers of 16 or 24 bits, or floating point of 32. */
export const DEPTHS = ['16', '24', 'float'] as const;
export type Depth = (typeof DEPTHS)[number];

/** The rates that files are written at, in samples a second. */
export const RATES: readonly Hertz[] = [44_100, 48_000, 96_000];

/** Bytes of the header of a WAV file; samples of floating point are counted in a chunk of their own. */
export const wavHeaderBytes = (depth: Depth): number => (depth === 'float' ? 58 : 44);
const SIDES = 2;

/** Bytes of a sample of both sides. */
export const frameBytes = (depth: Depth): number => SIDES * { '16': 2, '24': 3, float: 4 }[depth];

/** Bytes of a file of so many samples. */
export const wavBytes = (depth: Depth, frames: Samples): number =>
  wavHeaderBytes(depth) + frames * frameBytes(depth);

/** What a file of sound is written as: samples as they are, the same packed without loss, or smaller with some. */
export const SOUND_KINDS = ['wav', 'flac', 'mp3'] as const;
export type SoundKind = (typeof SOUND_KINDS)[number];

/** How many bits a second of an MP3 file takes, in thousands. */
export const BITRATES = [128, 192, 256, 320] as const;
export type Bitrate = (typeof BITRATES)[number];

/** How files of sound are written. */
export interface SoundForm {
  kind: SoundKind;
  depth: Depth;
  rate: Hertz;
  /** Of an MP3 file. */
  bitrate: Bitrate;
}

export const USUAL_SOUND: SoundForm = { kind: 'wav', depth: '24', rate: 48_000, bitrate: 320 };

/** The depths that a kind of file can have; an MP3 file has none of its own. */
export const depthsOf = (kind: SoundKind): readonly Depth[] =>
  kind === 'wav' ? ['16', '24', 'float'] : kind === 'flac' ? ['16', '24'] : [];

/** The rates that a kind of file can have: MPEG-1 layer III ends at 48 kHz. */
export const ratesOf = (kind: SoundKind): readonly Hertz[] =>
  kind === 'mp3' ? RATES.filter((rate) => rate <= 48_000) : RATES;

/** A form as its kind can be written: what it cannot be is the nearest. */
export function writable(form: SoundForm): SoundForm {
  const rates = ratesOf(form.kind);
  return {
    ...form,
    depth: form.kind === 'flac' && form.depth === 'float' ? '24' : form.depth,
    rate: rates.includes(form.rate) ? form.rate : 48_000,
  };
}

/** Samples of a frame of MPEG-1 layer III. */
export const MP3_FRAME: Samples = 1152;
/** Samples that the encoder puts before the first: the delay of its filters. */
export const MP3_DELAY: Samples = 576;

/** Bytes of all frames of a constant rate: each is a whole number, the rest goes into the next ones as padding. */
const mp3FrameBytes = (frames: number, rate: Hertz, kilobits: number): number =>
  Math.floor((frames * (MP3_FRAME / 8) * kilobits * 1000) / rate);

/** Number of frames of a file with this many samples: the encoder's delay is before the first and, at least, behind the last. */
export const mp3Frames = (samples: Samples): number =>
  samples === 0 ? 0 : Math.ceil((samples + 2 * MP3_DELAY) / MP3_FRAME);

/** Bytes of an MP3 file with this many samples, with the frame that describes it. */
export const mp3Bytes = (samples: Samples, rate: Hertz, kilobits: number): number =>
  infoBytes(rate, kilobits) + mp3FrameBytes(mp3Frames(samples), rate, kilobits);

/** Bytes of the frame that describes a file. */
export const infoBytes = (rate: Hertz, kilobits: number): number =>
  mp3FrameBytes(1, rate, kilobits);

/** How large a file comes out, in bytes; undefined where that is known only once it is written. */
export function soundBytes({ kind, depth, rate, bitrate }: SoundForm, seconds: Seconds) {
  const samples = Math.ceil(seconds * rate - 1e-6);
  if (kind === 'flac') return undefined;
  return kind === 'wav' ? wavBytes(depth, samples) : mp3Bytes(samples, rate, bitrate);
}
