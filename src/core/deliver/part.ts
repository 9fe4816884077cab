import { findPattern, type Song } from '../model';
import { writtenSong } from '../midi';
import { bpmAt, laidPlaces, placeName } from '../weave';

/** What of a song is meant: a place or a pattern by its id; neither is the whole song. */
export interface PartWish {
  pattern?: string;
  place?: string;
  /** How often a pattern is played; absent is until everything in it was heard. */
  passes?: number;
}

/** A part of a song as a song of its own. */
export interface Part {
  song: Song;
  /** What the part is called; absent is the whole song. */
  name?: string;
}

/** A part of a song, at the tempo it has there. What is not there any more is the whole song. */
export function partOf(song: Song, { pattern, place, passes }: PartWish): Part {
  const laid = laidPlaces(song).find((one) => one.place.id === place);
  if (laid) {
    const bpm = bpmAt(song, laid.start);
    const alone: Song = { ...song, bpm, places: [laid.place], guides: [] };
    return { song: alone, name: placeName(song, laid) };
  }
  const found = pattern === undefined ? undefined : findPattern(song, pattern);
  return found
    ? { song: writtenSong(song, { pattern: found.id, passes }), name: found.name }
    : { song };
}
