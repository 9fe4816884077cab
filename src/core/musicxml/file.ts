import { unzipSync } from 'fflate';
import { emptyReport, tooLarge, type Imported } from '../midi';
import { readMusicXml, type MusicXmlOptions } from './read';

/** The largest score that is read, packed or not: thousands of bars stay far below. */
export const MAX_SCORE_BYTES = 64 * 1024 * 1024;

const ENDING = /\.(musicxml|mxl|xml)$/i;

/** Whether a file is a score, by its name. */
export const isMusicXml = (name: string): boolean => ENDING.test(name);

/**
 * Reads a file with MusicXML into a song, also a packed one (.mxl). Never throws for any bytes.
 * @param name the file's name, for the report and the song
 */
export function importMusicXml(
  bytes: Uint8Array,
  name: string,
  options: MusicXmlOptions = {},
): Imported {
  const failed = (error: string): Imported => ({ report: { ...emptyReport(name), error } });
  if (bytes.length === 0) return failed(`“${name}” is empty: there is nothing in it to read.`);
  if (bytes.length > MAX_SCORE_BYTES) return failed(tooLarge(name, bytes.length));
  if (bytes[0] !== 0x50 || bytes[1] !== 0x4b) return readMusicXml(decoded(bytes), name, options);
  const unpacked = scoreOf(bytes, name);
  return 'error' in unpacked
    ? failed(unpacked.error)
    : readMusicXml(decoded(unpacked.score), name, options);
}

/** Text in the encoding that its first bytes say: UTF-16 with its mark, or what the XML declares. */
function decoded(bytes: Uint8Array): string {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return new TextDecoder('utf-16le').decode(bytes);
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return new TextDecoder('utf-16be').decode(bytes);
  const head = new TextDecoder('latin1').decode(bytes.subarray(0, 200));
  const latin = /encoding=["'](iso-8859-1|windows-1252|us-ascii)["']/i.test(head);
  return new TextDecoder(latin ? 'latin1' : 'utf-8').decode(bytes);
}

const CONTAINER = 'META-INF/container.xml';

/** The score within a packed file: the one that its container names, or else the only one there is. */
function scoreOf(bytes: Uint8Array, name: string): { score: Uint8Array } | { error: string } {
  let large = false;
  /** Files of the archive that are wanted; one that unpacks to more than a score may is not touched. */
  const unpack = (wanted: (path: string) => boolean) =>
    unzipSync(bytes, {
      filter: (file) => {
        if (!wanted(file.name)) return false;
        if (file.originalSize <= MAX_SCORE_BYTES) return true;
        large = true;
        return false;
      },
    });
  try {
    const container = unpack((path) => path === CONTAINER)[CONTAINER];
    const named = container && /full-path="([^"]+)"/.exec(decoded(container))?.[1];
    let first = true;
    const files = unpack((path) => {
      const wanted =
        first && (named ? path === named : isMusicXml(path) && !path.startsWith('META-INF/'));
      if (wanted) first = false;
      return wanted;
    });
    const [score] = Object.values(files);
    if (score) return { score };
    if (large) return { error: `“${name}” unpacks to more than 64 MB: no score is that long.` };
    return { error: `“${name}” is a zip without a score in it.` };
  } catch {
    return { error: `“${name}” is a packed score that is damaged or cut off. Export it again.` };
  }
}
