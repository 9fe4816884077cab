import { readFrame, readTrack, type SourceTrack } from '../midi';
import type { GuideNote } from '../model';
import { DRUM_CHANNEL, PPQ, toVelocity } from '../time';

/** One track and channel of a file that could be a guide. */
export interface GuideSource {
  /** `track:channel`. */
  id: string;
  name: string;
  channel: number;
  notes: number;
}

export interface ReadGuides {
  /** Why nothing could be read. */
  error?: string;
  /** Parts that are no drums first, in the order of the file. */
  sources: GuideSource[];
  /** The notes of a source, in the ticks of a song. */
  notesOf(id: string): GuideNote[];
}

/** A guide holds no more notes than a very long song of sixteenths. */
const MOST_NOTES = 20_000;

/**
 * Reads the parts of a MIDI file that can be played against. Never throws; what is damaged is read up
 * to the damage.
 */
export function readGuides(bytes: Uint8Array, name: string): ReadGuides {
  const frame = readFrame(bytes, name);
  if ('error' in frame) return { error: frame.error, sources: [], notesOf: () => [] };
  const tracks = frame.tracks.map((chunk) => readTrack(chunk));
  const sources = tracks.flatMap(sourcesOf);
  sources.sort((a, b) => Number(a.channel === DRUM_CHANNEL) - Number(b.channel === DRUM_CHANNEL));
  return {
    ...(sources.length === 0 && {
      error: `“${name}” holds no notes, so there is no part to play against.`,
    }),
    sources,
    notesOf(id) {
      const [track, channel] = id.split(':').map(Number);
      return tracks[track] ? notesOf(tracks[track], channel, PPQ / frame.ppq) : [];
    },
  };
}

function sourcesOf({ name, notes }: SourceTrack, index: number): GuideSource[] {
  const counts = new Array<number>(16).fill(0);
  for (let i = 0; i < notes.length; i++) counts[notes.channels[i]]++;
  return counts.flatMap((count, channel) =>
    count === 0
      ? []
      : [{ id: `${index}:${channel}`, name: name || `Track ${index + 1}`, channel, notes: count }],
  );
}

function notesOf({ notes }: SourceTrack, channel: number, scale: number): GuideNote[] {
  const out: GuideNote[] = [];
  for (let i = 0; i < notes.length && out.length < MOST_NOTES; i++) {
    if (notes.channels[i] !== channel) continue;
    out.push({
      at: notes.ticks[i] * scale,
      length: Math.max(1, notes.durations[i] * scale),
      note: notes.notes[i],
      velocity: toVelocity(notes.velocities[i]),
    });
  }
  return out.sort((a, b) => a.at - b.at);
}
