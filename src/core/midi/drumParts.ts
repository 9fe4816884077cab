import { DRUM_CHANNEL, type Channel } from '../time';
import { coverOf } from './noteReading';
import type { SourceTrack } from './track';

/** How tracks of drums are called that are not on the drum channel. */
const NAMED_DRUMS = /drum|perc|\bkit\b|groove|beat/i;

/** A track that is named like drums is taken for them if a note map knows at least this share of its notes. */
const ENOUGH = 0.5;

/** Whether what a track has on a channel is drums. */
export type AreDrums = (track: number, channel: Channel) => boolean;

/**
 * Which parts of a file are its drums: those on a channel that was chosen, if there are any; else those on
 * channel 10; else the tracks that are named like drums and whose notes a note map knows.
 */
export function drumParts(
  tracks: readonly Pick<SourceTrack, 'name' | 'notes'>[],
  chosen?: Channel,
): AreDrums {
  for (const wanted of [chosen, DRUM_CHANNEL]) {
    if (wanted !== undefined && tracks.some(({ notes }) => notes.isOn(wanted))) {
      return (_, channel) => channel === wanted;
    }
  }
  const named = tracks.map(
    ({ name, notes }) => NAMED_DRUMS.test(name) && coverOf(notes.counts()) >= ENOUGH,
  );
  return (track) => named[track];
}
