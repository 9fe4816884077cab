import { findPlace, findSection, type Place, type Section, type Song, type Span } from '../model';
import { barNumber, sameMeters, type Ticks } from '../time';
import { withPlace, withSection } from './arrange';
import { changedRegions, type Region } from './changes';
import { writeOver } from './reach';
import { laidPlaces, placesOf, type LaidPlace } from './sections';
import { freeId, swept } from './shelf';
import { wovenOf } from './woven';

/** Takes away what is laid over one place; with spans named, only those. */
export function asSection(song: Song, placeId: string, spans?: readonly string[]): Song {
  return swept(
    withPlace(song, placeId, (place) => {
      const overlay = spans ? place.overlay.filter(({ id }) => !spans.includes(id)) : [];
      return overlay.length === place.overlay.length ? place : { ...place, overlay };
    }),
  );
}

/**
 * Carries what is laid over one place into its section, so that all its places play it. What other
 * places have of their own stays on top there.
 * @param spans only these; absent is all of it
 */
export function makeSections(song: Song, placeId: string, spans?: readonly string[]): Song {
  const place = findPlace(song, placeId);
  const section = place && findSection(song, place.section);
  if (!place || !section) return song;
  const wanted = place.overlay.filter(({ id }) => !spans || spans.includes(id));
  if (wanted.length === 0) return song;
  const taken = new Set(section.spans.map(({ id }) => id));
  const named = (span: Span): Span => {
    let id = span.id;
    for (let n = 2; taken.has(id); n++) id = `${span.id}-${n}`;
    taken.add(id);
    return id === span.id ? span : { ...span, id };
  };
  const moved = withSection(song, section.id, (before) => ({
    ...before,
    spans: [...before.spans, ...wanted.map(named)],
  }));
  return withPlace(moved, placeId, (before) => ({
    ...before,
    overlay: before.overlay.filter((span) => !wanted.includes(span)),
  }));
}

/**
 * Lets a place play a section of its own from now on, which begins as what it plays now.
 * @param newId the section's id; absent is one that nothing has yet
 */
export function onItsOwn(song: Song, placeId: string, newId?: string): Song {
  const place = findPlace(song, placeId);
  const section = place && findSection(song, place.section);
  if (!place || !section || placesOf(song, section.id) === 1) return song;
  return alone(song, [placeId], newId ?? freeId(song, section.id));
}

/** Lets some places of one section play a copy of it. */
export function alone(song: Song, placeIds: readonly string[], newId: string): Song {
  const section = findSection(song, findPlace(song, placeIds[0])?.section ?? '');
  if (!section || findSection(song, newId)) return song;
  const { locked: _, ...copy } = section;
  const index = song.sections.indexOf(section) + 1;
  const chosen = new Set(placeIds);
  return {
    ...song,
    sections: [
      ...song.sections.slice(0, index),
      { ...copy, id: newId },
      ...song.sections.slice(index),
    ],
    places: song.places.map((place) =>
      chosen.has(place.id) ? { ...place, section: newId } : place,
    ),
  };
}

/** What a place would play otherwise if it played another section, bar by bar and piece by piece. */
export function differencesOf(song: Song, placeId: string, sectionId: string): Region[] {
  const [here, there] = bothOf(song, placeId, sectionId);
  if (!here || !there) return [];
  const length = Math.max(here.end - here.start, there.end - there.start);
  const own = wovenOf(song, here, { from: 0, to: length }, 'place').pattern;
  const other = wovenOf(song, there, { from: 0, to: length }, 'section').pattern;
  return changedRegions(own, other, linesOf(here, there));
}

/** Why a place cannot play another section with its own bars kept. */
export function whyNotLinked(song: Song, placeId: string, sectionId: string): string | undefined {
  const [here, there] = bothOf(song, placeId, sectionId);
  if (!here || !there) return 'That section is not there any more.';
  const [a, b] = [here.section, there.section];
  if (a.id === b.id) return 'They are linked already.';
  if (a.bars !== b.bars || !sameMeters(a.meters, b.meters)) {
    return `“${a.name}” has ${a.bars} bars and “${b.name}” has ${b.bars}, or they are counted otherwise: linked, it would last as long as the other. Give both the same bars and meter first.`;
  }
  return undefined;
}

/**
 * Lets a place play another section, as long and counted alike. Its own section goes when no other
 * place plays it.
 * @param keep what the place played otherwise stays as changes of this place; without, it is as the
 *   other section has it
 */
export function linkPlace(song: Song, placeId: string, sectionId: string, keep: boolean): Song {
  const [here, there] = bothOf(song, placeId, sectionId);
  if (!here || !there || whyNotLinked(song, placeId, sectionId)) return song;
  const length = here.end - here.start;
  const own = wovenOf(song, here, { from: 0, to: length }, 'place').pattern;
  const gone = placesOf(song, here.section.id) === 1;
  const linked: Song = {
    ...song,
    sections: gone ? song.sections.filter(({ id }) => id !== here.section.id) : song.sections,
    places: song.places.map((place) =>
      place.id === placeId ? { ...place, section: sectionId, overlay: [] } : place,
    ),
  };
  if (!keep) return swept(linked);
  const now = laidPlaces(linked)[here.index];
  return swept(writeOver(linked, now, { from: 0, to: length }, own, 'place'));
}

function bothOf(song: Song, placeId: string, sectionId: string): (LaidPlace | undefined)[] {
  const laid = laidPlaces(song);
  return [
    laid.find(({ place }) => place.id === placeId),
    laid.find(({ section }) => section.id === sectionId),
  ];
}

/** The bar lines of the longer of two places. */
function linesOf(a: LaidPlace, b: LaidPlace): Ticks[] {
  const longer = a.end - a.start >= b.end - b.start ? a.section : b.section;
  return barLinesOf(longer);
}

/** Where the bars of a section begin, and its end. */
export function barLinesOf(section: Pick<Section, 'bars' | 'meters'>): Ticks[] {
  return Array.from({ length: section.bars + 1 }, (_, bar) => barNumber(section.meters, bar).start);
}

/** Marks places as the same as others on purpose, or not. */
export function setMeant(song: Song, placeIds: readonly string[], meant: boolean): Song {
  const chosen = new Set(placeIds);
  const places = song.places.map((place): Place => {
    if (!chosen.has(place.id) || (place.meant ?? false) === meant) return place;
    const { meant: _, ...rest } = place;
    return meant ? { ...rest, meant: true } : rest;
  });
  return places.every((place, i) => place === song.places[i]) ? song : { ...song, places };
}
