import type { TrackChunk } from './chunks';
import { SourceNotes } from './notes';

/** What one track of a file holds that matters to drums, in the source's own ticks. */
export interface SourceTrack {
  name: string;
  notes: SourceNotes;
  tempos: { tick: number; microseconds: number }[];
  meters: { tick: number; beats: number; unit: number }[];
  markers: { tick: number; text: string }[];
  end: number;
  /** The tick from which on the track could not be read. */
  damagedFrom?: number;
  /** Notes that never ended, and so last to the end of the track. */
  hanging: number;
  /** Ends of notes that never began: their beginnings were lost. */
  orphans: number;
  /** Whether the end mark is missing, and how many bytes follow after it. */
  endless: boolean;
  surplus: number;
  /** Events that say nothing about drum hits: controllers, programs, lyrics, system messages. */
  ignored: number;
}

/** No song is that long: at any resolution it is more than 65,000 quarter notes. */
const LATEST_TICK = 0x7fffffff;

/**
 * Reads one track up to its end mark, or up to where it is damaged: every value is checked, and the
 * first that no file may hold ends the reading. Source: Standard MIDI Files 1.0, "MTrk event".
 *
 * Notes go straight into lists of numbers. Making an object of every event first, as general readers
 * do, costs three times as much (docs/decisions/0004-reading-tracks.md).
 * @param room lists to read the notes into, emptied first; new ones when absent
 */
export function readTrack(
  { data, cut }: TrackChunk,
  // A note takes three bytes at least: its delta and two values, with running status.
  room = new SourceNotes(Math.ceil(data.length / 3)),
): SourceTrack {
  room.length = 0;
  room.chokes.clear();
  const track: SourceTrack = {
    name: '',
    notes: room,
    tempos: [],
    meters: [],
    markers: [],
    end: 0,
    hanging: 0,
    orphans: 0,
    endless: false,
    surplus: 0,
    ignored: 0,
  };
  const { notes } = track;
  const bytes = new Bytes(data);
  let running = 0;
  let tick = 0;
  let ended = false;
  let struck: LastStruck | undefined;
  while (!ended && !bytes.damaged && bytes.at < data.length) {
    const delta = bytes.length();
    let status = data[bytes.at];
    if (status >= 0x80) bytes.at++;
    else status = running;
    if (bytes.damaged || !(status >= 0x80) || tick + delta > LATEST_TICK) break;
    tick += delta;
    if (status < 0xf0) {
      running = status;
      const kind = status & 0xf0;
      const first = bytes.value();
      const second = kind === 0xc0 || kind === 0xd0 ? 0 : bytes.value();
      if (bytes.damaged) break;
      if (kind === 0x90 && second > 0) {
        const channel = status & 15;
        sounding.begin(channel * 128 + first, notes.add(tick, -1, first, second, channel));
        if (struck) struck.at[channel * 128 + first] = notes.length - 1;
      } else if (kind === 0x80 || kind === 0x90) {
        const over = sounding.end((status & 15) * 128 + first);
        if (over >= 0) notes.durations[over] = tick - notes.ticks[over];
        else track.orphans++;
      } else if (kind === 0xa0) {
        struck ??= new LastStruck(notes);
        if (!struck.press((status & 15) * 128 + first, tick, second)) track.ignored++;
      } else {
        track.ignored++;
      }
    } else if (status === 0xff) {
      ended = readMeta(bytes, tick, track);
    } else if (status === 0xf0 || status === 0xf7) {
      bytes.take(bytes.length());
      track.ignored++;
    } else {
      // Messages of the wire, such as clock, have no place in a file.
      bytes.damaged = true;
    }
  }
  if (!ended && (bytes.damaged || cut || bytes.at < data.length)) track.damagedFrom = tick;
  else if (!ended) track.endless = true;
  else track.surplus = Math.max(0, data.length - bytes.at);
  sounding.clear();
  for (let i = 0; i < notes.length; i++) {
    if (notes.durations[i] >= 0) continue;
    notes.durations[i] = tick - notes.ticks[i];
    track.hanging++;
  }
  track.end = tick;
  return track;
}

/** Reads a meta event. @returns whether it is the end mark of the track */
function readMeta(bytes: Bytes, tick: number, track: SourceTrack): boolean {
  const kind = bytes.value();
  const content = bytes.take(bytes.length());
  if (bytes.damaged) return false;
  if (kind === 0x2f) return true;
  if (kind === 0x51 && content.length >= 3) {
    const [high, middle, low] = content;
    track.tempos.push({ tick, microseconds: high * 65536 + middle * 256 + low });
  } else if (kind === 0x58 && content.length >= 2) {
    track.meters.push({ tick, beats: content[0], unit: 2 ** content[1] });
  } else if (kind === 0x06 || kind === 0x07) {
    track.markers.push({ tick, text: decodeText(content) });
  } else if (kind === 0x03) {
    track.name ||= decodeText(content);
  } else {
    track.ignored++;
  }
  return false;
}

/** A walk over the bytes of a track that notes when it meets what cannot be. */
class Bytes {
  at = 0;
  damaged = false;

  constructor(private readonly data: Uint8Array) {}

  /** A number in one to four bytes of seven bits, the high bit saying that more follow. */
  length(): number {
    if (this.data[this.at] < 0x80) return this.data[this.at++];
    let value = 0;
    for (let i = 0; i < 4; i++) {
      const byte = this.data[this.at++];
      if (byte < 0x80) return value * 128 + byte;
      if (byte === undefined) break;
      value = value * 128 + (byte & 0x7f);
    }
    this.damaged = true;
    return 0;
  }

  /** A value of seven bits. */
  value(): number {
    const byte = this.data[this.at++];
    if (!(byte < 0x80)) this.damaged = true;
    return byte;
  }

  take(length: number): Uint8Array {
    const from = this.at;
    this.at += length;
    if (this.at > this.data.length) this.damaged = true;
    return this.data.subarray(from, this.at);
  }
}

/**
 * Which notes sound, for each channel and pitch. The first struck is the first to end: a file
 * cannot say otherwise. Nearly always one at most sounds; only further ones need a queue.
 */
class Sounding {
  private readonly first = new Int32Array(16 * 128).fill(-1);
  private readonly more = new Map<number, { notes: number[]; ended: number }>();
  private open = 0;

  begin(key: number, note: number): void {
    if (this.first[key] < 0) {
      this.first[key] = note;
      this.open++;
      return;
    }
    const queue = this.more.get(key);
    if (queue) queue.notes.push(note);
    else this.more.set(key, { notes: [note], ended: 0 });
  }

  /** @returns the note that ends; -1 when none sounds */
  end(key: number): number {
    const ended = this.first[key];
    const queue = this.more.size > 0 ? this.more.get(key) : undefined;
    const next = queue?.notes[queue.ended++] ?? -1;
    if (next < 0) this.more.delete(key);
    this.first[key] = next;
    if (ended >= 0 && next < 0) this.open--;
    return ended;
  }

  /** Forgets what never ended. */
  clear(): void {
    if (this.open === 0) return;
    this.first.fill(-1);
    this.more.clear();
    this.open = 0;
  }
}

/** From this much pressure on, a hand stops the sound. */
const HAND_ON = 64;

/** Which note was struck last, for each channel and pitch: only looked for where a track has key pressure. */
class LastStruck {
  readonly at = new Int32Array(16 * 128).fill(-1);

  constructor(private readonly notes: SourceNotes) {
    for (let i = 0; i < notes.length; i++) this.at[notes.channels[i] * 128 + notes.notes[i]] = i;
  }

  /** @returns whether the pressure is on a note that was struck: a choke, or its end */
  press(key: number, tick: number, pressure: number): boolean {
    const note = this.at[key];
    if (note < 0) return false;
    const { chokes, ticks } = this.notes;
    if (pressure >= HAND_ON && tick > ticks[note] && !chokes.has(note)) {
      chokes.set(note, tick - ticks[note]);
    }
    return true;
  }
}

/** One for all tracks, read one after the other: making its table costs as much as reading a bar. */
const sounding = new Sounding();

const UTF8 = new TextDecoder('utf-8', { fatal: true });

/** Text of a meta event: UTF-8 where it is that, otherwise Latin-1 as older programs write. */
function decodeText(bytes: Uint8Array): string {
  try {
    return UTF8.decode(bytes).trim();
  } catch {
    return Array.from(bytes, (byte) => String.fromCharCode(byte))
      .join('')
      .trim();
  }
}
