import { strFromU8, strToU8, zipSync, type Zippable } from 'fflate';
import { isKit, samplesOf, type Kit, type SampleHash } from '@/core/model';
import type { StoredSample } from './db';
import { isSoundPart, readSoundParts, soundParts } from './soundParts';
import { cutOff, readZipParts } from './zipParts';

/** What such a file is called. */
const KIND = 'loomkit';
export const KIT_FILE_ENDING = `${KIND}.zip`;

/** Whether a file is called so; a browser numbers what it saves twice. */
export const hasKitEnding = (name: string): boolean =>
  new RegExp(`\\.${KIND}( ?\\(\\d+\\))?\\.zip$`, 'i').test(name);

const KIT = 'kit.json';
/** A kit file is refused beyond this, unpacked, in bytes. */
const LARGEST = 1024 ** 3;

/** A kit with its sounds as a file that any Verse Loom opens. See docs/formats/kit-file.md. */
export function writeKitFile(kit: Kit, samples: readonly StoredSample[]): Uint8Array {
  const json = strToU8(`${JSON.stringify({ application: 'Verse Loom', form: 1, kit }, null, 1)}\n`);
  const parts: Zippable = { [KIT]: [json, { level: 6 }] };
  Object.assign(parts, soundParts(samples));
  return zipSync(parts, { mtime: new Date(1980, 0, 1, 0, 2) });
}

/** What a kit file holds. */
export interface ReadKit {
  kit: Kit;
  sounds: StoredSample[];
  /** What of it could not be read, a sentence each. */
  problems: string[];
}

/**
 * Reads a kit file.
 * @param here the sounds that need not be read: they are at hand under the same names
 * @returns what it holds, or why it is no kit, in a sentence
 */
export async function readKitFile(
  bytes: Uint8Array,
  name: string,
  here: (hashes: readonly SampleHash[]) => Promise<ReadonlySet<SampleHash>>,
): Promise<ReadKit | string> {
  const unpacked = readZipParts(
    bytes,
    (part) => (part === KIT || isSoundPart(part) ? LARGEST : undefined),
    LARGEST,
  );
  if (unpacked === 'damaged')
    return `“${name}” is no kit file, or it is cut off: it cannot be unpacked.`;
  if (unpacked === 'huge') return `“${name}” unpacks to more than 1 GB and was not read.`;
  const { parts, isCut } = unpacked;
  if (!parts[KIT]) return `“${name}” holds no kit: there is no ${KIT} in it.`;
  const kit = kitOf(parts[KIT]);
  if (!kit) return `“${name}” holds a kit that cannot be played: it is not as it must be.`;
  const wanted = samplesOf(kit);
  const there = await here(wanted);
  const read = await readSoundParts(
    parts,
    wanted.filter((hash) => !there.has(hash)),
  );
  return {
    kit,
    sounds: read.sounds,
    problems: [...(isCut ? [cutOff(name)] : []), ...read.problems],
  };
}

function kitOf(bytes: Uint8Array): Kit | undefined {
  try {
    const { kit } = JSON.parse(strFromU8(bytes)) as { kit?: unknown };
    return isKit(kit) ? (kit as Kit) : undefined;
  } catch {
    return undefined;
  }
}
