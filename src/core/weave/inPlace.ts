import { Latest } from '../memo';
import { findPattern, findPlace, type Pattern, type Song } from '../model';
import type { Ticks } from '../time';
import { editAt, ownOfSection, type Reach, type Spot } from './reach';
import { laidPlaces } from './sections';
import { WOVEN, wovenOf } from './woven';

/** A pattern that was opened where a place plays it. */
export interface Opened extends Spot {
  pattern: string;
}

const wovens = new Latest<readonly unknown[], Pattern>(4, 1);

/**
 * What is worked on when a pattern was opened in its place. With the reach of this place it is what the
 * stretch plays, with all that is laid over it; else it is the pattern itself.
 */
export function openedPattern(song: Song, opened: Opened, reach: Reach): Pattern | undefined {
  if (reach !== 'place') return findPattern(song, opened.pattern);
  const laid = laidPlaces(song).find(({ place }) => place.id === opened.place);
  if (!laid) return undefined;
  const key = [
    song.places,
    song.sections,
    song.patterns,
    song.kit,
    opened.place,
    opened.from,
    opened.to,
  ];
  const same = (known: readonly unknown[]) => key.every((part, i) => part === known[i]);
  return wovens.of('', same, key, () => wovenOf(song, laid, opened, 'place').pattern);
}

/** Where a tick of the song lies in what was opened; undefined where it is not heard then. */
export function openedTickAt(song: Song, opened: Opened, tick: Ticks): Ticks | undefined {
  const laid = laidPlaces(song).find(({ place }) => place.id === opened.place);
  const at = laid ? tick - laid.start : -1;
  return at >= opened.from && at < opened.to ? at - opened.from : undefined;
}

/**
 * Makes changes of a pattern that was opened in its place reach as far as they are to.
 * @param edit makes the changes in a song that has the pattern to be changed under this id
 * @returns the song and the id of the pattern that is worked on from now on; or why nothing changed
 */
export function editOpened(
  song: Song,
  opened: Opened,
  reach: Reach,
  edit: (song: Song, patternId: string) => Song | string,
): { song: Song; pattern: string } | string {
  const place = findPlace(song, opened.place);
  if (reach === 'everywhere' || !place) {
    const after = edit(song, opened.pattern);
    return typeof after === 'string' ? after : { song: after, pattern: opened.pattern };
  }
  if (reach === 'section') {
    const own = ownOfSection(song, place.section, opened.pattern);
    const after = edit(own.song, own.pattern);
    if (typeof after === 'string') return after;
    return after === own.song
      ? { song, pattern: opened.pattern }
      : { song: after, pattern: own.pattern };
  }
  const woven = openedPattern(song, opened, reach);
  if (!woven) return { song, pattern: opened.pattern };
  const after = edit({ ...song, patterns: [...song.patterns, woven] }, WOVEN);
  if (typeof after === 'string') return after;
  const changed = findPattern(after, WOVEN) ?? woven;
  const rest: Song = { ...after, patterns: after.patterns.filter(({ id }) => id !== WOVEN) };
  const others = rest.patterns.every((pattern, i) => pattern === song.patterns[i]);
  const kept: Song = others ? { ...rest, patterns: song.patterns } : rest;
  const same = (Object.keys(kept) as (keyof Song)[]).every((key) => kept[key] === song[key]);
  const written = editAt(same ? song : kept, opened, 'place', () => changed);
  return typeof written === 'string' ? written : { song: written, pattern: opened.pattern };
}
