import type { Zippable } from 'fflate';
import wavDecoder from 'wav-decoder';
import wavEncoder from 'wav-encoder';
import type { SampleHash } from '@/core/model';
import { hashOfSound, type Pcm } from '@/core/sound';
import type { StoredSample } from './db';

/** At which rate sounds are kept, in samples a second. */
const RATE = 48_000;
const FOLDER = 'sounds/';
const LIST = `${FOLDER}sounds.json`;

const partOf = (hash: SampleHash) => `${FOLDER}${hash}.wav`;

/** Whether a part of a zip belongs to its sounds. */
export const isSoundPart = (part: string) => part.startsWith(FOLDER);

/**
 * Sounds as parts of a zip, none for none: WAV files of 32 bits in floating point, which are the very samples, and
 * their names. They hardly get smaller: packing them would take ten times as long as all else.
 */
export function soundParts(samples: readonly StoredSample[]): Zippable {
  if (samples.length === 0) return {};
  const files = samples.map(({ hash, left, right }): [string, Uint8Array] => {
    // Storage hands out arrays that the encoder may not know as its own kind.
    const channelData = (right ? [left, right] : [left]).map(
      ({ buffer, byteOffset, length }) => new Float32Array(buffer, byteOffset, length),
    );
    const wav = wavEncoder.encode.sync(
      { sampleRate: RATE, channelData },
      { float: true, bitDepth: 32, symmetric: false },
    );
    return [partOf(hash), new Uint8Array(wav)];
  });
  const list = samples.map(({ hash, name }) => ({ hash, name }));
  const json = new TextEncoder().encode(`${JSON.stringify(list, null, 1)}\n`);
  return Object.fromEntries(
    // Names first: a file that is cut off still says what is missing.
    [[LIST, json] as const, ...files].map(([name, bytes]) => [name, [bytes, { level: 0 }]]),
  );
}

/** The sounds of a zip. */
export interface ReadSounds {
  sounds: StoredSample[];
  /** What could not be read, a sentence each. */
  problems: string[];
}

/**
 * Reads the sounds that something needs from the parts of a zip. A file is called by the hash of what it holds: one
 * that holds something else was damaged or changed, and is not taken for the sound it is called.
 */
export async function readSoundParts(
  parts: Readonly<Record<string, Uint8Array>>,
  wanted: readonly SampleHash[],
): Promise<ReadSounds> {
  const names = namesIn(parts[LIST]);
  const sounds: StoredSample[] = [];
  const problems: string[] = [];
  const UNTIL = 'and is silent until its file is dropped on its piece.';
  for (const hash of wanted) {
    const called = names.get(hash) ?? hash.slice(0, 8);
    const bytes = parts[partOf(hash)];
    const pcm = bytes && pcmOf(bytes);
    if (pcm && (await hashOfSound(pcm)) === hash) sounds.push({ hash, name: called, ...pcm });
    else if (!bytes) problems.push(`The sound “${called}” is missing ${UNTIL}`);
    else if (!pcm) problems.push(`The sound “${called}” cannot be read ${UNTIL}`);
    else problems.push(`The sound “${called}” was changed on its way: it is not taken, ${UNTIL}`);
  }
  return { sounds, problems };
}

/** The samples of a WAV file at the rate that is kept; undefined where it is none. */
export function pcmOf(bytes: Uint8Array): Pcm | undefined {
  try {
    const { sampleRate, channelData } = wavDecoder.decode.sync(bytes.slice().buffer as ArrayBuffer);
    const [left, right] = channelData;
    if (sampleRate !== RATE || !left || left.length === 0) return undefined;
    if (!isSound(left) || (right && !isSound(right))) return undefined;
    return { left, ...(right && { right }) };
  } catch {
    return undefined;
  }
}

/** Whether every sample is a number: what is none, or endless, is none less itself. */
function isSound(samples: Float32Array): boolean {
  let off = 0;
  for (let i = 0; i < samples.length; i++) off += samples[i] - samples[i];
  return off === 0;
}

function namesIn(list: Uint8Array | undefined): Map<SampleHash, string> {
  try {
    const rows: unknown = JSON.parse(new TextDecoder().decode(list));
    return new Map(
      (Array.isArray(rows) ? rows : []).flatMap((row: { hash?: unknown; name?: unknown } | null) =>
        typeof row?.hash === 'string' && typeof row.name === 'string'
          ? [[row.hash, row.name.slice(0, 300)] as const]
          : [],
      ),
    );
  } catch {
    return new Map();
  }
}
