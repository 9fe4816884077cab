import { Unzip, UnzipInflate, unzipSync } from 'fflate';

/** The parts of a zip that are wanted, by their names. */
export interface ZipParts {
  parts: Record<string, Uint8Array>;
  /** The file ends too early or is damaged: only parts that were whole are here. */
  isCut: boolean;
}

/** The sentence about a file that was cut off or damaged on its way. */
export const cutOff = (name: string): string =>
  `“${name}” is cut off or damaged: what is whole in it was opened, the rest is missing.`;

/** @returns the largest size of a part that is wanted, in bytes, and nothing where it is not */
export type Wanted = (name: string) => number | undefined;

/**
 * Unpacks a zip, or what is whole of one that was cut off on its way.
 * @param most of all wanted parts together, in bytes; each has a largest size besides
 * @returns `huge` where it states, or unpacks to, more; `damaged` where nothing can be unpacked
 */
export function readZipParts(
  bytes: Uint8Array,
  wanted: Wanted,
  most: number,
): ZipParts | 'huge' | 'damaged' {
  let size = 0;
  let isHuge = false;
  try {
    const parts = unzipSync(bytes, {
      filter: ({ name, originalSize }) => {
        const largest = wanted(name);
        if (largest === undefined) return false;
        size += originalSize;
        isHuge ||= originalSize > largest || size > most;
        return !isHuge;
      },
    });
    return isHuge ? 'huge' : { parts, isCut: false };
  } catch {
    return wholeParts(bytes, wanted, most);
  }
}

/** Reads part after part, as the list of them at the end of the file is missing. */
function wholeParts(
  bytes: Uint8Array,
  wanted: Wanted,
  most: number,
): ZipParts | 'huge' | 'damaged' {
  const parts: Record<string, Uint8Array> = {};
  let size = 0;
  let isHuge = false;
  const unzip = new Unzip((file) => {
    const largest = wanted(file.name);
    if (largest === undefined || isHuge) return;
    const pieces: Uint8Array[] = [];
    let own = 0;
    file.ondata = (error, piece, isLast) => {
      if (error) return;
      pieces.push(piece);
      own += piece.length;
      size += piece.length;
      if (own > largest || size > most) {
        isHuge = true;
        file.terminate();
      } else if (isLast) parts[file.name] = joined(pieces, own);
    };
    file.start();
  });
  unzip.register(UnzipInflate);
  try {
    // In pieces, so that nothing is unpacked far beyond what is allowed.
    for (let at = 0; at < bytes.length && !isHuge; at += PIECE) {
      unzip.push(bytes.subarray(at, at + PIECE), at + PIECE >= bytes.length);
    }
  } catch {
    // The part that is cut is not among those that are whole.
  }
  if (isHuge) return 'huge';
  return Object.keys(parts).length > 0 ? { parts, isCut: true } : 'damaged';
}

const PIECE = 64 * 1024;

function joined(pieces: readonly Uint8Array[], length: number): Uint8Array {
  const whole = new Uint8Array(length);
  let at = 0;
  for (const piece of pieces) {
    whole.set(piece, at);
    at += piece.length;
  }
  return whole;
}
