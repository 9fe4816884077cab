import type { Song } from '../model';
import { MAX_BPM, MIN_BPM, type Bpm, type TempoChange, type Ticks } from '../time';
import { withPlace, withSection } from './arrange';
import { laidPlaces } from './sections';

/** A change of tempo as the song has it: in which place, and where there. */
export interface PlacedTempo extends TempoChange {
  place: string;
  /** Ticks from the start of the song. */
  tick: Ticks;
}

/** The tempos that sections and places have of their own, where they fall in the song. */
export function placedTempos(song: Song): PlacedTempo[] {
  const laid = laidPlaces(song);
  return laid.flatMap(({ place, start, end, tempos, index }) =>
    tempos
      .filter(({ at }) => start + at < end + (index === laid.length - 1 ? 1 : 0))
      .map((change) => ({ ...change, place: place.id, tick: start + change.at })),
  );
}

const sound = (bpm: Bpm) => bpm >= MIN_BPM && bpm <= MAX_BPM;

/** Sets the tempo of the song: of all that has no tempo of its own. */
export function setTempo(song: Song, bpm: Bpm): Song {
  return sound(bpm) && bpm !== song.bpm ? { ...song, bpm } : song;
}

/**
 * Sets the tempo from a tick of a place on. Where the place has tempos of its own they are changed,
 * otherwise those of its section, in all its places. At the very end of the last place it is where a glide goes to.
 */
export function setTempoAt(song: Song, placeId: string, at: Ticks, bpm: Bpm): Song {
  const laid = laidPlaces(song).find(({ place }) => place.id === placeId);
  const last = laid?.place === song.places.at(-1);
  const room = laid ? laid.end - laid.start + (last ? 1 : 0) : 0;
  if (!laid || !sound(bpm) || !(at >= 0 && at < room)) return song;
  return withTempos(song, placeId, (tempos) => {
    if (tempos.some((change) => change.at === at && change.bpm === bpm)) return tempos;
    const there = tempos.find((change) => change.at === at);
    const others = tempos.filter((change) => change !== there);
    // What comes before a first change of its own runs on as the song does.
    const start = at > 0 && tempos.length === 0 ? [{ at: 0, bpm: song.bpm }] : [];
    return [...start, ...others, { ...there, at, bpm }].sort((a, b) => a.at - b.at);
  });
}

/** Takes a change of tempo away; without the first one, all of a place's or section's go. */
export function removeTempoAt(song: Song, placeId: string, at: Ticks): Song {
  return withTempos(song, placeId, (tempos) => {
    if (!tempos.some((change) => change.at === at)) return tempos;
    return at === 0 ? [] : tempos.filter((change) => change.at !== at);
  });
}

/** Lets the tempo glide from a change to the next one, or jump there. */
export function setGlide(song: Song, placeId: string, at: Ticks, glide: boolean): Song {
  return withTempos(song, placeId, (tempos) => {
    const there = tempos.find((change) => change.at === at);
    if (!there || (there.glide ?? false) === glide) return tempos;
    const { glide: _, ...plain } = there;
    return tempos.map((c) => (c === there ? { ...plain, ...(glide && { glide: true }) } : c));
  });
}

function withTempos(
  song: Song,
  placeId: string,
  change: (tempos: readonly TempoChange[]) => readonly TempoChange[],
): Song {
  const place = song.places.find(({ id }) => id === placeId);
  if (!place) return song;
  if (place.tempos) {
    return withPlace(song, placeId, (before) => {
      const tempos = change(before.tempos!);
      return tempos === before.tempos ? before : { ...before, tempos };
    });
  }
  return withSection(song, place.section, (section) => {
    const tempos = change(section.tempos);
    return tempos === section.tempos ? section : { ...section, tempos };
  });
}
