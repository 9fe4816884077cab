import { type Place, type Section, type Song } from '../model';
import { removePlace } from './arrange';
import { freeIdsIn } from './shelf';

/** Places that were copied, with the sections they play. */
export interface Copied {
  places: readonly Place[];
  sections: readonly Section[];
}

/** The places with these ids, in the order of the song. */
export function copyPlaces(song: Song, ids: readonly string[]): Copied {
  const chosen = new Set(ids);
  const places = song.places.filter(({ id }) => chosen.has(id));
  const wanted = new Set(places.map(({ section }) => section));
  return { places, sections: song.sections.filter(({ id }) => wanted.has(id)) };
}

/** Whether what is pasted or repeated stays linked to what it was copied from. */
export const LINKINGS = ['linked', 'unlinked'] as const;
export type Linking = (typeof LINKINGS)[number];

/**
 * Puts copied places before the place with this index. Linked, they play the sections that are there,
 * or bring those that are gone; on their own, they play copies, which stay linked among themselves.
 * @param newIds one for each place
 */
export function pastePlaces(
  song: Song,
  copied: Copied,
  { index, linking, newIds }: { index: number; linking: Linking; newIds: readonly string[] },
): Song {
  if (copied.places.length === 0 || newIds.length < copied.places.length) return song;
  const fresh = new Set(newIds);
  if (fresh.size < newIds.length || song.places.some(({ id }) => fresh.has(id))) return song;
  const free = freeIdsIn(song);
  const sections = [...song.sections];
  const known = new Set(sections.map(({ id }) => id));
  const names = new Map<string, string>();
  for (const section of copied.sections) {
    if (known.has(section.id) && linking === 'linked') {
      names.set(section.id, section.id);
      continue;
    }
    const id = free(section.id);
    const { locked: _, ...rest } = section;
    names.set(section.id, id);
    sections.push({ ...rest, id });
  }
  const places = copied.places.flatMap((place, i): Place[] => {
    const section = names.get(place.section);
    const { locked: _, ...rest } = place;
    return section === undefined ? [] : [{ ...rest, id: newIds[i], section }];
  });
  const at = Math.max(0, Math.min(song.places.length, Math.floor(index)));
  const all = [...song.places.slice(0, at), ...places, ...song.places.slice(at)];
  const same = sections.length === song.sections.length;
  return { ...song, sections: same ? song.sections : sections, places: all };
}

/**
 * Moves several places together, in the order they have, so that the first of them becomes the one with
 * index `to` among the others.
 */
export function movePlaces(song: Song, ids: readonly string[], to: number): Song {
  const chosen = new Set(ids);
  const moved = song.places.filter(({ id }) => chosen.has(id));
  const rest = song.places.filter(({ id }) => !chosen.has(id));
  const at = Math.max(0, Math.min(rest.length, Math.floor(to)));
  const places = [...rest.slice(0, at), ...moved, ...rest.slice(at)];
  return places.every((place, i) => place === song.places[i]) ? song : { ...song, places };
}

export function removePlaces(song: Song, ids: readonly string[]): Song {
  const chosen = new Set(ids);
  // A guide that begins with one of them goes along with each step.
  if (song.guides.some(({ place }) => place !== undefined && chosen.has(place))) {
    return ids.reduce(removePlace, song);
  }
  const places = song.places.filter(({ id }) => !chosen.has(id));
  if (places.length === song.places.length) return song;
  const played = new Set(places.map(({ section }) => section));
  const before = new Set(song.places.map(({ section }) => section));
  const sections = song.sections.filter(({ id }) => played.has(id) || !before.has(id));
  return {
    ...song,
    places,
    sections: sections.length === song.sections.length ? song.sections : sections,
  };
}
