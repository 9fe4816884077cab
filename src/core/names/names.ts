/** Longest name of a file or folder, in bytes of UTF-8 without its ending: file systems end at 255 with it. */
const LONGEST = 160;

/** Devices that some systems reserve these names for, whatever ending follows. */
const RESERVED = /^(con|prn|aux|nul|conin\$|conout\$|(com|lpt)[0-9¹²³])(\.|$)/i;

/** Characters that file systems refuse, and unseen ones by which a name reads otherwise than it is written. */
const REFUSED =
  /[\\/:*?"<>|\p{Cc}\p{Zl}\p{Zp}\u061c\u200b\u200e\u200f\u202a-\u202e\u2060-\u2069\ufeff]+/gu;

/**
 * A name of a file or folder that every file system takes: without characters that any of them refuses, without
 * characters of direction, no name of a device, not hidden, at most 160 bytes.
 * @param otherwise stands where nothing is left of it
 */
export function cleanName(name: string, otherwise = 'song'): string {
  const plain = wellFormed(name).normalize('NFC').replace(REFUSED, '-');
  const cut = trimmed(shortened(trimmed(plain), LONGEST));
  if (cut === '') return otherwise;
  return RESERVED.test(cut) ? `${cut.replace(/\..*$/, '')}-` : cut;
}

/** The name of a file. @param ending without its dot */
export const fileName = (name: string, ending: string): string => `${cleanName(name)}.${ending}`;

/** A name in which nothing makes a folder. */
export const inOne = (name: string) => name.replaceAll('/', '-');

/** Dots and spaces at the ends: some systems drop the last ones, others hide what begins with one. */
const trimmed = (name: string) => name.replace(/^[\s.]+|[\s.]+$/gu, '');

/** Halves of characters that stand alone cannot be written as UTF-8. */
const wellFormed = (text: string) => text.replace(/\p{Cs}/gu, '-');

/** The beginning of a text that fits into a number of bytes as UTF-8, without a character by half. */
function shortened(text: string, bytes: number): string {
  let left = bytes;
  let end = 0;
  for (const { segment } of new Intl.Segmenter().segment(text)) {
    left -= ENCODER.encode(segment).length;
    if (left < 0) return text.slice(0, end);
    end += segment.length;
  }
  return text;
}

const ENCODER = new TextEncoder();

/** A file that is named: folders before it are set apart by `/`. */
export interface Named {
  file: string;
  /** Without its dot. */
  ending: string;
}

/**
 * The paths of files that lie together. Each is clean, and none is another one, whether a system tells small letters
 * from large ones or not: those that agree once they are clean and cut get a number.
 * @param flat only their own names are kept, without folders
 */
export function pathsOf(files: readonly Named[], flat = false): string[] {
  const taken = new Set<string>();
  const numbers = new Map<string, number>();
  return files.map(({ file, ending }) => {
    const folders = file.split('/').map((one) => cleanName(one));
    const own = folders.pop()!;
    const folder = flat ? '' : folders.map((one) => `${one}/`).join('');
    const key = `${folder}${own}.${ending}`.toLowerCase();
    let path = `${folder}${own}.${ending}`;
    let n = numbers.get(key) ?? 1;
    while (taken.has(path.toLowerCase())) path = `${folder}${own} (${++n}).${ending}`;
    numbers.set(key, n);
    taken.add(path.toLowerCase());
    return path;
  });
}
