import {
  findPattern,
  findPlace,
  findSection,
  MAX_SECTION_BARS,
  MAX_TICKS,
  type Place,
  type Section,
  type Song,
  type Span,
} from '../model';
import { ticksOfBars } from '../time';
import { guideStart } from './guideStart';
import { laidPlaces, placesOf } from './sections';

/** Puts a new section into the song, once, before the place with this index. */
export function addSection(song: Song, section: Section, placeId: string, index: number): Song {
  if (findSection(song, section.id) || findPlace(song, placeId)) return song;
  return {
    ...song,
    sections: [...song.sections, section],
    places: inserted(song.places, { id: placeId, section: section.id, overlay: [] }, index),
  };
}

/**
 * Takes a place out; its section goes too when no other place plays it. A guide that starts in it
 * starts where it did, in the place that is there then.
 */
export function removePlace(song: Song, placeId: string): Song {
  const place = findPlace(song, placeId);
  if (!place) return song;
  const alone = placesOf(song, place.section) === 1;
  const next: Song = {
    ...song,
    places: song.places.filter(({ id }) => id !== placeId),
    sections: alone ? song.sections.filter(({ id }) => id !== place.section) : song.sections,
  };
  if (!song.guides.some((guide) => guide.place === placeId)) return next;
  const guides = song.guides.map((guide) => {
    if (guide.place !== placeId) return guide;
    const start = guideStart(song, guide);
    const here = laidPlaces(next).findLast((laid) => laid.start <= start);
    const { place: _, ...rest } = guide;
    return here
      ? { ...rest, place: here.place.id, at: start - here.start }
      : { ...rest, at: start };
  });
  return { ...next, guides };
}

/** Changes a section's name, kind or another property of its own, in all its places. */
export function changeSection(
  song: Song,
  sectionId: string,
  change: Partial<Pick<Section, 'name' | 'kind'>>,
): Song {
  return withSection(song, sectionId, (section) => {
    const { name = section.name, kind = section.kind } = change;
    return name === section.name && kind === section.kind ? section : { ...section, name, kind };
  });
}

/** Whether so many bars in these meters can be a section. */
export function canLast(meters: Section['meters'], bars: number): boolean {
  const whole = Number.isInteger(bars) && bars >= 1 && bars <= MAX_SECTION_BARS;
  return whole && ticksOfBars(meters, bars) <= MAX_TICKS;
}

/** Puts a span on top of a section's stack, so that all its places play it. */
export function addSpan(song: Song, sectionId: string, span: Span): Song {
  if (!findPattern(song, span.pattern)) return song;
  return withSection(song, sectionId, (section) =>
    isThere(section.spans, span.id) ? section : { ...section, spans: [...section.spans, span] },
  );
}

/** Lays a span over one place only. */
export function addOverlay(song: Song, placeId: string, span: Span): Song {
  if (!findPattern(song, span.pattern)) return song;
  return withPlace(song, placeId, (place) =>
    isThere(place.overlay, span.id) ? place : { ...place, overlay: [...place.overlay, span] },
  );
}

/** Spans with another one on top of them, but below the fills that are there: what was laid to lead on does so. */
export function belowFills(spans: readonly Span[], span: Span): Span[] {
  const fill = span.role === 'fill' ? -1 : spans.findIndex(({ role }) => role === 'fill');
  return fill < 0 ? [...spans, span] : [...spans.slice(0, fill), span, ...spans.slice(fill)];
}

/** Lays a span over a section, or over one place, below the fills that are there. */
export function layBelowFills(
  song: Song,
  { of, id }: { of: 'section' | 'place'; id: string },
  span: Span,
): Song {
  if (!findPattern(song, span.pattern)) return song;
  return of === 'place'
    ? withPlace(song, id, (place) =>
        isThere(place.overlay, span.id)
          ? place
          : { ...place, overlay: belowFills(place.overlay, span) },
      )
    : withSection(song, id, (section) =>
        isThere(section.spans, span.id)
          ? section
          : { ...section, spans: belowFills(section.spans, span) },
      );
}

const isThere = (spans: readonly Span[], id: string) => spans.some((span) => span.id === id);

/** In how many places a pattern is laid out. */
export function usesOf(song: Song, patternId: string): number {
  const plays = ({ pattern }: Span) => pattern === patternId;
  const playing = new Set(
    song.sections.flatMap(({ id, spans }) => (spans.some(plays) ? [id] : [])),
  );
  return song.places.filter(({ section, overlay }) => playing.has(section) || overlay.some(plays))
    .length;
}

/** Takes a pattern off the shelf and out of every section and place that plays it. */
export function removePattern(song: Song, patternId: string): Song {
  if (!findPattern(song, patternId)) return song;
  const other = (span: Span) => span.pattern !== patternId;
  return {
    ...song,
    patterns: song.patterns.filter(({ id }) => id !== patternId),
    sections: song.sections.map((section) =>
      section.spans.every(other) ? section : { ...section, spans: section.spans.filter(other) },
    ),
    places: song.places.map((place) =>
      place.overlay.every(other) ? place : { ...place, overlay: place.overlay.filter(other) },
    ),
  };
}

/** The song with one section changed; the very same song where the section stays the same. */
export function withSection(song: Song, id: string, change: (section: Section) => Section): Song {
  const before = findSection(song, id);
  const after = before && change(before);
  if (!after || after === before) return song;
  return { ...song, sections: song.sections.map((s) => (s === before ? after : s)) };
}

/** The song with one place changed; the very same song where the place stays the same. */
export function withPlace(song: Song, id: string, change: (place: Place) => Place): Song {
  const before = findPlace(song, id);
  const after = before && change(before);
  if (!after || after === before) return song;
  return { ...song, places: song.places.map((p) => (p === before ? after : p)) };
}

function inserted<T>(list: readonly T[], item: T, index: number): T[] {
  return [...list.slice(0, index), item, ...list.slice(index)];
}
