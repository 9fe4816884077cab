/** The frame of a Standard MIDI File: its header's values and the bytes of each track. */
export interface SmfFrame {
  format: number;
  /** Pulses per quarter note. */
  ppq: number;
  tracks: TrackChunk[];
  repaired: string[];
}

export interface TrackChunk {
  data: Uint8Array;
  /** The file ended before the chunk did. */
  cut: boolean;
}

/** A file that cannot be read at all, with a sentence for its owner. */
export interface Unreadable {
  error: string;
}

/** The largest file that is read; a drum part of ten thousand bars stays far below. */
export const MAX_FILE_BYTES = 16 * 1024 * 1024;

/** More tracks than this are not read; no program writes them. */
const MAX_TRACKS = 4096;

/** The four letters of a chunk's name as the number they are in the file. */
const idOf = (letters: string) => uint32(new TextEncoder().encode(letters), 0);
const [HEADER, TRACK, RIFF, RMID, DATA] = ['MThd', 'MTrk', 'RIFF', 'RMID', 'data'].map(idOf);

/**
 * Walks the chunks of a Standard MIDI File (The Complete MIDI 1.0 Detailed Specification, Standard
 * MIDI Files 1.0): unknown chunks are skipped as it asks, RIFF-wrapped files (RMID) are unwrapped,
 * and a last chunk that is shorter than it says is kept as far as it goes.
 */
export function readFrame(bytes: Uint8Array, name: string): SmfFrame | Unreadable {
  if (bytes.length === 0) return { error: `“${name}” is empty: there is nothing in it to read.` };
  if (bytes.length > MAX_FILE_BYTES) return { error: tooLarge(name, bytes.length) };
  const smf = unwrapRiff(bytes);
  if (uint32(smf, 0) !== HEADER) return { error: notMidi(bytes, name) };
  if (smf.length < 14) {
    return {
      error: `“${name}” ends inside its header: only its first ${smf.length} bytes are there.`,
    };
  }
  const repaired: string[] = [];
  const format = uint16(smf, 8);
  const ppq = resolution(uint16(smf, 12), repaired);
  const tracks: TrackChunk[] = [];
  const promised = uint16(smf, 10);
  let at = 8 + Math.max(6, Math.min(uint32(smf, 4), smf.length));
  if (!isChunkAt(smf, at)) at = nextTrack(smf, 8);
  let skipped = 0;
  let found = 0;
  while (at + 8 <= smf.length) {
    const stated = at + 8 + uint32(smf, at + 4);
    const isTrack = uint32(smf, at) === TRACK;
    // A length that leads into the middle of something, or past tracks still to come, is damaged.
    const astray = stated > smf.length ? isTrack && found + 1 < promised : !isChunkAt(smf, stated);
    const end = astray ? nextTrack(smf, at + 8) : Math.min(stated, smf.length);
    if (!isTrack) skipped++;
    else if (++found <= MAX_TRACKS) {
      tracks.push({ data: smf.subarray(at + 8, end), cut: !astray && stated > smf.length });
    }
    if (astray && end !== stated) {
      const what = isTrack ? `Track ${found}` : 'A chunk of an unknown kind';
      repaired.push(
        `${what} states a wrong length; it was read up to where the next track begins.`,
      );
    }
    at = end;
  }
  if (skipped > 0) repaired.push(`${count(skipped, 'chunk')} of an unknown kind skipped.`);
  if (at < smf.length)
    repaired.push(`${count(smf.length - at, 'byte')} after the last track skipped.`);
  if (found < promised) {
    repaired.push(`Its header promises ${count(promised, 'track')}; ${found} could be found.`);
  }
  if (found > MAX_TRACKS) {
    repaired.push(
      `${count(found - MAX_TRACKS, 'track')} after the first ${MAX_TRACKS.toLocaleString('en')} left out.`,
    );
  }
  if (tracks.length === 0) return { error: `“${name}” is a MIDI file without any track in it.` };
  return { format, ppq, tracks, repaired };
}

/** Whether the file ends here, or a chunk can begin: its name is four letters. */
function isChunkAt(bytes: Uint8Array, at: number): boolean {
  if (at >= bytes.length) return true;
  // A byte or two that fill up are no chunk, and no damage to what is before them.
  if (at + 8 > bytes.length) return true;
  for (let i = at; i < at + 4; i++) {
    const letter = bytes[i] | 0x20;
    if (!((letter >= 0x61 && letter <= 0x7a) || bytes[i] === 0x20)) return false;
  }
  return true;
}

/** Where the next track begins, from a byte on; the end of the file when none does. */
function nextTrack(bytes: Uint8Array, from: number): number {
  for (let at = bytes.indexOf(0x4d, from); at >= 0; at = bytes.indexOf(0x4d, at + 1)) {
    if (uint32(bytes, at) === TRACK) return at;
  }
  return bytes.length;
}

export function count(n: number, what: string): string {
  return `${n.toLocaleString('en')} ${what}${n === 1 ? '' : 's'}`;
}

/** Says that a file is too large to be read. */
export function tooLarge(name: string, size: number): string {
  const mega = (bytes: number) => Math.round(bytes / 1024 / 1024);
  return `“${name}” is ${mega(size)} MB. MIDI files up to ${mega(MAX_FILE_BYTES)} MB are read; drum parts are far smaller. Export only the drum tracks and try again.`;
}

/** The 16 bits of the header's division as pulses per quarter note. */
function resolution(division: number, repaired: string[]): number {
  if (division & 0x8000) {
    // SMPTE time: so many frames a second, so many ticks a frame. Heard at 120 bpm a quarter note
    // lasts half a second, which keeps every hit at its moment.
    const frames = 256 - (division >> 8);
    const ppq = Math.max(1, Math.round(((frames === 29 ? 29.97 : frames) * (division & 0xff)) / 2));
    repaired.push('Its time is counted in film frames; it was laid out at 120 beats a minute.');
    return ppq;
  }
  if (division === 0) {
    repaired.push('Its header gives no resolution; 480 ticks a quarter note were taken.');
    return 480;
  }
  return division;
}

function unwrapRiff(bytes: Uint8Array): Uint8Array {
  if (uint32(bytes, 0) !== RIFF || uint32(bytes, 8) !== RMID) return bytes;
  let at = 12;
  while (at + 8 <= bytes.length) {
    const length = uint32LittleEndian(bytes, at + 4);
    if (uint32(bytes, at) === DATA) return bytes.subarray(at + 8, at + 8 + length);
    at += 8 + length + (length % 2);
  }
  return bytes;
}

/** Says what a file that is no MIDI file seems to be. */
function notMidi(bytes: Uint8Array, name: string): string {
  const start = String.fromCharCode(...bytes.subarray(0, 4));
  const kinds: [RegExp, string][] = [
    [/^RIFF/, 'a sound file (RIFF)'],
    [/^PK/, 'a zip archive; unpack it first'],
    [/^(ID3|\xff\xfb)/, 'an MP3 recording'],
    [/^fLaC|^OggS/, 'a sound recording'],
    [/^\x89PNG|^\xff\xd8|^GIF8/, 'a picture'],
    [/^%PDF/, 'a PDF document'],
  ];
  const known = kinds.find(([pattern]) => pattern.test(start))?.[1];
  const text = bytes.subarray(0, 512).every((b) => b === 9 || b === 10 || b === 13 || b >= 32);
  const what = known ?? (text ? 'a text file' : 'something else');
  return `“${name}” is not a MIDI file: by its content it is ${what}. Choose a file that ends in .mid.`;
}

function uint16(bytes: Uint8Array, at: number): number {
  return (bytes[at] << 8) | bytes[at + 1];
}

function uint32(bytes: Uint8Array, at: number): number {
  return bytes[at] * 0x1000000 + ((bytes[at + 1] << 16) | (bytes[at + 2] << 8) | bytes[at + 3]);
}

function uint32LittleEndian(bytes: Uint8Array, at: number): number {
  return bytes[at + 3] * 0x1000000 + ((bytes[at + 2] << 16) | (bytes[at + 1] << 8) | bytes[at]);
}
