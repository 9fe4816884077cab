import { findPattern, type Song } from '../model';
import { writtenSong } from '../midi';
import { inOne } from '../names';
import type { PartWish, What } from '../wishes';
import { bpmAt, laidPlaces, placeName, shelfOf } from '../weave';

/** A part of a song as a song of its own. */
export interface Part {
  song: Song;
  /** What the part is called; absent is the whole song. */
  name?: string;
}

/** A part of a song, at the tempo it has there. What is not there any more is the whole song. */
export function partOf(song: Song, { pattern, place, places, passes }: PartWish): Part {
  const chosen = new Set(place === undefined ? places : [place]);
  const laid = laidPlaces(song).filter((one) => chosen.has(one.place.id));
  if (laid.length > 0) {
    const bpm = bpmAt(song, laid[0].start);
    // Guides stand at a time of the song, which is another one where bars before it are left out.
    const alone: Song = {
      ...song,
      ...(laid.length === 1 && { bpm }),
      places: laid.map((one) => one.place),
      guides: [],
    };
    return { song: alone, name: namesOf(laid.map((one) => placeName(song, one))) };
  }
  const found = pattern === undefined ? undefined : findPattern(song, pattern);
  return found
    ? { song: writtenSong(song, { pattern: found.id, passes }), name: found.name }
    : { song };
}

/**
 * The part that a wish means in this song. Where nothing is laid out yet, the whole song is the pattern that is
 * shown, or the first of the shelf.
 * @param shown the pattern that is shown, by its id
 */
export function whatIn(song: Song, what: What, shown?: string): What {
  const { pattern, each } = what;
  const has = (id?: string) => id !== undefined && findPattern(song, id) !== undefined;
  if (song.places.length > 0 || each !== undefined || has(pattern)) return what;
  const id = has(shown) ? shown : shelfOf(song)[0]?.id;
  return id === undefined ? what : { pattern: id };
}

/** More names than these are too long for one file. */
const NAMED = 3;

const namesOf = (names: readonly string[]) =>
  names.length > NAMED ? `${names.length} sections` : names.join(' + ');

/** A part with the name of its file. */
export interface NamedPart extends Part {
  /** Without an ending; folders before it are set apart by `/`. */
  file: string;
  wish: PartWish;
  /** Only this track of it, by its id in the layout it is written in. */
  track?: string;
}

/**
 * The parts that are handed over, each with the name of its file as it is wished: two may be called alike, see
 * `pathsOf`.
 * @param names how several are called: text with `{song}`, `{part}` and `{nn}`, their number from 01 on; a `/`
 * makes a folder of what stands before it
 */
export function partsOf(song: Song, { each, ...wish }: What, names: string): NamedPart[] {
  if (each === undefined) {
    const part = partOf(song, wish);
    const file = inOne(part.name === undefined ? song.name : `${song.name}, ${part.name}`);
    return [{ ...part, file, wish }];
  }
  const wishes: PartWish[] =
    each === 'sections'
      ? laidPlaces(song)
          .filter(({ place }) => !wish.places?.length || wish.places.includes(place.id))
          .map(({ place }) => ({ place: place.id }))
      : shelfOf(song).map(({ id }) => ({ pattern: id, passes: wish.passes }));
  const width = Math.max(2, String(wishes.length).length);
  return wishes.map((one, i) => {
    const part = partOf(song, one);
    const nn = String(i + 1).padStart(width, '0');
    const file = named(names, { song: song.name, part: part.name ?? '', nn });
    return { ...part, file, wish: one };
  });
}

/** A template with what it names; what it names that there is not stays as it is. */
function named(template: string, values: Readonly<Record<string, string>>): string {
  const name = template.replace(/\{(\w+)\}/g, (all, key: string) =>
    Object.hasOwn(values, key) ? inOne(values[key]) : all,
  );
  const path = name.split('/').map((one) => one.trim());
  return path.filter((one) => one !== '' && !/^\.+$/.test(one)).join('/') || values.nn;
}
