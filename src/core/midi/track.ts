import { parseMidi, type MidiEvent } from 'midi-file';
import type { Channel, NoteNumber, Velocity } from '../time/units';
import type { TrackChunk } from './chunks';

/** A note of a source file, in the source's own ticks. */
export interface SourceNote {
  tick: number;
  duration: number;
  note: NoteNumber;
  velocity: Velocity;
  channel: Channel;
}

/** What one track of a file holds that matters to drums, in the source's own ticks. */
export interface SourceTrack {
  name: string;
  notes: SourceNote[];
  tempos: { tick: number; microseconds: number }[];
  meters: { tick: number; beats: number; unit: number }[];
  markers: { tick: number; text: string }[];
  end: number;
  /** The tick from which on the track could not be read. */
  damagedFrom?: number;
  /** Notes that never ended, and so last to the end of the track. */
  hanging: number;
  /** Events that say nothing about drum hits: controllers, programs, lyrics, system messages. */
  ignored: number;
}

/** The longest wait between two events that a file can say: four bytes of seven bits. */
const MAX_DELTA = 0x0fffffff;

/** Reads one track: the events by `midi-file`, each value checked, up to where it is damaged. */
export function readTrack(chunk: TrackChunk): SourceTrack {
  const { events, whole } = decode(chunk.data);
  const track: SourceTrack = {
    name: '',
    notes: [],
    tempos: [],
    meters: [],
    markers: [],
    end: 0,
    hanging: 0,
    ignored: 0,
  };
  // Notes that sound, per channel and pitch, first struck first: the first note-off ends the first.
  const sounding: (SourceNote[] | undefined)[] = new Array(16 * 128);
  let tick = 0;
  let ended = false;
  for (const event of events) {
    if (!isSound(event)) {
      track.damagedFrom = tick;
      break;
    }
    tick += event.deltaTime;
    if (event.type === 'noteOn') {
      const { noteNumber: note, velocity, channel } = event;
      const struck = { tick, duration: -1, note, velocity, channel };
      track.notes.push(struck);
      const key = channel * 128 + note;
      const queue = sounding[key];
      if (queue) queue.push(struck);
      else sounding[key] = [struck];
    } else if (event.type === 'noteOff') {
      const struck = sounding[event.channel * 128 + event.noteNumber]?.shift();
      if (struck) struck.duration = tick - struck.tick;
    } else if (event.type === 'endOfTrack') {
      ended = true;
      break;
    } else {
      readOther(event, tick, track);
    }
  }
  if (!ended && track.damagedFrom === undefined && (!whole || chunk.cut)) track.damagedFrom = tick;
  for (const queue of sounding) {
    for (const struck of queue ?? []) {
      struck.duration = tick - struck.tick;
      track.hanging++;
    }
  }
  track.end = tick;
  return track;
}

function readOther(event: MidiEvent, tick: number, track: SourceTrack): void {
  switch (event.type) {
    case 'setTempo':
      track.tempos.push({ tick, microseconds: event.microsecondsPerBeat });
      break;
    case 'timeSignature':
      track.meters.push({ tick, beats: event.numerator, unit: event.denominator });
      break;
    case 'marker':
    case 'cuePoint':
      track.markers.push({ tick, text: decodeText(event.text).trim() });
      break;
    case 'trackName':
      track.name ||= decodeText(event.text).trim();
      break;
    default:
      track.ignored++;
  }
}

/** Whether all values of an event are such as a file can say. */
function isSound(event: MidiEvent): boolean {
  if (!(event.deltaTime >= 0 && event.deltaTime <= MAX_DELTA)) return false;
  if (event.type === 'noteOn' || event.type === 'noteOff') {
    return event.noteNumber <= 127 && event.velocity <= 127 && event.channel <= 15;
  }
  if (event.type === 'setTempo') return Number.isFinite(event.microsecondsPerBeat);
  if (event.type === 'timeSignature') return event.numerator >= 0 && event.denominator >= 0;
  return true;
}

/**
 * The events of a track. `midi-file` throws at the first byte it cannot make out; whether it does
 * depends only on what came before, so the longest readable beginning is found by halving.
 */
function decode(data: Uint8Array): { events: MidiEvent[]; whole: boolean } {
  const all = parsed(data);
  if (all) return { events: all, whole: true };
  let good = 0;
  let bad = data.length;
  let events: MidiEvent[] = [];
  while (bad - good > 1) {
    const middle = (good + bad) >> 1;
    const some = parsed(data.subarray(0, middle));
    if (some) {
      good = middle;
      events = some;
    } else {
      bad = middle;
    }
  }
  return { events, whole: false };
}

function parsed(data: Uint8Array): MidiEvent[] | undefined {
  const file = new Uint8Array(22 + data.length);
  file.set([0x4d, 0x54, 0x68, 0x64, 0, 0, 0, 6, 0, 0, 0, 1, 0, 96, 0x4d, 0x54, 0x72, 0x6b]);
  new DataView(file.buffer).setUint32(18, data.length);
  file.set(data, 22);
  try {
    return parseMidi(file).tracks[0] ?? [];
  } catch {
    return undefined;
  }
}

/** Text of a meta event: UTF-8 where it is that, otherwise Latin-1 as `midi-file` gives it. */
function decodeText(latin1: string): string {
  try {
    const bytes = Uint8Array.from(latin1, (character) => character.charCodeAt(0));
    return new TextDecoder('utf-8', { fatal: true }).decode(bytes);
  } catch {
    return latin1;
  }
}
