import {
  findPattern,
  findPlace,
  findSection,
  type Place,
  type Section,
  type Song,
  type Span,
} from '../model/song';
import { barTicks, type Meter } from '../time/meter';
import type { Ticks } from '../time/units';
import { placesOf, sectionTicks } from './sections';

/** Puts a new section into the song, once, before the place with this index. */
export function addSection(song: Song, section: Section, placeId: string, index: number): Song {
  return {
    ...song,
    sections: [...song.sections, section],
    places: inserted(song.places, { id: placeId, section: section.id, overlay: [] }, index),
  };
}

/** Repeats a place right after itself: the same section again, with the same overlay. */
export function repeatPlace(song: Song, placeId: string, newId: string): Song {
  const index = song.places.findIndex((place) => place.id === placeId);
  if (index < 0) return song;
  const copy = { ...song.places[index], id: newId };
  return { ...song, places: inserted(song.places, copy, index + 1) };
}

/** Moves a place so that it becomes the one with index `to`. */
export function movePlace(song: Song, placeId: string, to: number): Song {
  const from = song.places.findIndex((place) => place.id === placeId);
  const target = Math.max(0, Math.min(song.places.length - 1, to));
  if (from < 0 || from === target) return song;
  const rest = song.places.filter((place) => place.id !== placeId);
  return { ...song, places: inserted(rest, song.places[from], target) };
}

/** Takes a place out; its section goes too when no other place plays it. */
export function removePlace(song: Song, placeId: string): Song {
  const place = song.places.find(({ id }) => id === placeId);
  if (!place) return song;
  const last = placesOf(song, place.section) === 1;
  return {
    ...song,
    places: song.places.filter(({ id }) => id !== placeId),
    sections: last ? song.sections.filter(({ id }) => id !== place.section) : song.sections,
  };
}

/** Changes a section's name, kind or another property of its own, in all its places. */
export function changeSection(
  song: Song,
  sectionId: string,
  change: Partial<Pick<Section, 'name' | 'kind'>>,
): Song {
  return withSection(song, sectionId, (section) => ({ ...section, ...change }));
}

/** The longest section: as long as the longest piece of music anyone writes in one part. */
export const MAX_SECTION_BARS = 10_000;

/**
 * Makes a section longer or shorter. What played up to its old end goes on to the new one; what
 * lay beyond the new end goes, in the section and in the overlays of its places. An overlay that
 * sat on the end moves with the end.
 */
export function setSectionBars(song: Song, sectionId: string, bars: number): Song {
  const section = findSection(song, sectionId);
  if (!section || !(bars >= 1) || bars > MAX_SECTION_BARS || bars === section.bars) return song;
  return refit(song, section, section.meter, Math.floor(bars));
}

/** Counts a section in another meter, with as many bars as before. */
export function setSectionMeter(song: Song, sectionId: string, meter: Meter): Song {
  const section = findSection(song, sectionId);
  return section ? refit(song, section, meter, section.bars) : song;
}

function refit(song: Song, section: Section, meter: Meter, bars: number): Song {
  const before = sectionTicks(section);
  const after = bars * barTicks(meter);
  const moved = after - before;
  const stretched = (span: Span): Span[] => {
    const to = span.to === before ? after : Math.min(span.to, after);
    return span.from < to ? [{ ...span, to }] : [];
  };
  const atEnd = (span: Span): Span[] => {
    const from = span.to === before ? span.from + moved : span.from;
    const to = span.to === before ? after : Math.min(span.to, after);
    return from >= 0 && from < to ? [{ ...span, from, to }] : [];
  };
  const next = withSection(song, section.id, () => ({
    ...section,
    meter,
    bars,
    spans: section.spans.flatMap((span) =>
      span.from > 0 && isTail(span, section) ? atEnd(span) : stretched(span),
    ),
  }));
  return {
    ...next,
    places: next.places.map((place) =>
      place.section === section.id && place.overlay.length > 0
        ? { ...place, overlay: place.overlay.flatMap(atEnd) }
        : place,
    ),
  };
}

/** A span that lies on top of another one up to the end of the section, as a fill does. */
function isTail(span: Span, section: Section): boolean {
  return (
    span.to === sectionTicks(section) &&
    section.spans.some((below) => below !== span && below.from < span.from && below.to >= span.to)
  );
}

/** Puts a span on top of a section's stack, so that all its places play it. */
export function addSpan(song: Song, sectionId: string, span: Span): Song {
  if (!fits(song, sectionId, span)) return song;
  return withSection(song, sectionId, (section) => ({
    ...section,
    spans: [...section.spans, span],
  }));
}

export function removeSpan(song: Song, sectionId: string, index: number): Song {
  if (!findSection(song, sectionId)?.spans[index]) return song;
  return withSection(song, sectionId, (section) => ({
    ...section,
    spans: section.spans.filter((_, i) => i !== index),
  }));
}

/** Lays a span over one place only. */
export function addOverlay(song: Song, placeId: string, span: Span): Song {
  const section = findPlace(song, placeId)?.section;
  if (section === undefined || !fits(song, section, span)) return song;
  return withPlace(song, placeId, (place) => ({ ...place, overlay: [...place.overlay, span] }));
}

export function removeOverlay(song: Song, placeId: string, index: number): Song {
  if (!findPlace(song, placeId)?.overlay[index]) return song;
  return withPlace(song, placeId, (place) => ({
    ...place,
    overlay: place.overlay.filter((_, i) => i !== index),
  }));
}

/** Whether a span plays a pattern of the song and lies within the section. */
function fits(song: Song, sectionId: string, span: Span): boolean {
  const section = findSection(song, sectionId);
  return (
    section !== undefined &&
    findPattern(song, span.pattern) !== undefined &&
    span.from >= 0 &&
    span.from < span.to &&
    span.to <= sectionTicks(section)
  );
}

/** A span that ends with the section and starts as early as the pattern is long: for a fill. */
export function spanAtEnd(song: Song, sectionId: string, patternId: string): Span | undefined {
  const section = findSection(song, sectionId);
  const pattern = findPattern(song, patternId);
  if (!section || !pattern) return undefined;
  const to = sectionTicks(section);
  return spanOf(patternId, Math.max(0, to - pattern.length), to);
}

/** A span over the whole section. */
export function spanOver(song: Song, sectionId: string, patternId: string): Span | undefined {
  const section = findSection(song, sectionId);
  return section && findPattern(song, patternId)
    ? spanOf(patternId, 0, sectionTicks(section))
    : undefined;
}

function spanOf(pattern: string, from: Ticks, to: Ticks): Span {
  return { pieces: 'all', from, to, pattern, offset: 0, mode: 'replace' };
}

/** How often a pattern is laid out: spans of sections count once for each place. */
export function usesOf(song: Song, patternId: string): number {
  return song.places.reduce((sum, place) => {
    const spans = [...(findSection(song, place.section)?.spans ?? []), ...place.overlay];
    return sum + (spans.some((span) => span.pattern === patternId) ? 1 : 0);
  }, 0);
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

function withSection(song: Song, id: string, change: (section: Section) => Section): Song {
  if (!findSection(song, id)) return song;
  return { ...song, sections: song.sections.map((s) => (s.id === id ? change(s) : s)) };
}

function withPlace(song: Song, id: string, change: (place: Place) => Place): Song {
  if (!findPlace(song, id)) return song;
  return { ...song, places: song.places.map((p) => (p.id === id ? change(p) : p)) };
}

function inserted<T>(list: readonly T[], item: T, index: number): T[] {
  return [...list.slice(0, index), item, ...list.slice(index)];
}
