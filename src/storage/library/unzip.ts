import { unzipSync } from 'fflate';
import { isGrooveFile } from '@/core/library';
import type { Found } from './reading';

/** A zip that unpacks to more than this is refused before anything of it is unpacked. */
export const MOST_UNPACKED = 1024 ** 3;

export type Unzipped = { files: Found[]; refused: string[] } | { problem: string };

/**
 * The groove files of a zip. Names that lead out of it are refused one by one; the sizes are added up
 * from its directory first.
 */
export function unzipGrooves(bytes: Uint8Array, name: string): Unzipped {
  const refused: string[] = [];
  let unpacked = 0;
  try {
    const files = unzipSync(bytes, {
      filter({ name: path, originalSize }) {
        unpacked += originalSize;
        if (unpacked > MOST_UNPACKED) throw new RangeError('too much');
        if (path.endsWith('/')) return false;
        if (leadsOut(path)) {
          refused.push(path);
          return false;
        }
        return isGrooveFile(path);
      },
    });
    return {
      refused,
      files: Object.entries(files).map(([path, content]) => ({
        path: `${name.replace(/\.zip$/i, '')}/${path}`,
        size: content.length,
        modified: 0,
        bytes: async () => content,
      })),
    };
  } catch (error) {
    return {
      problem:
        error instanceof RangeError
          ? `“${name}” unpacks to more than 1 GB and was not read. Unpack it and choose the folder instead.`
          : `“${name}” is no zip that can be read: it may be cut off. Nothing was taken from it.`,
    };
  }
}

/** Absolute paths, drives and steps upwards. */
function leadsOut(path: string): boolean {
  return /^([\\/]|[A-Za-z]:)/.test(path) || path.split(/[\\/]/).includes('..');
}
