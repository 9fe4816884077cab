import { findPattern, findPlace, type PieceId, type Song, type Span } from '../model';
import { alone } from './links';
import { freeId } from './shelf';

/** How far a pattern is replaced by another. */
export const SCOPES = ['everywhere', 'chosen sections', 'from here on'] as const;
export type Scope = (typeof SCOPES)[number];

export interface Replacing {
  pattern: string;
  by: string;
  /** Only these pieces of it; absent is the whole of it. */
  pieces?: readonly PieceId[];
  scope: Scope;
  /** The places whose sections are chosen, or the first of them from which on. */
  places: readonly string[];
}

/** The sections and places that a replacement is made in; of linked ones beyond it, copies come first. */
function within(song: Song, { scope, places }: Replacing): { song: Song; places: Set<string> } {
  if (scope === 'everywhere') return { song, places: new Set(song.places.map(({ id }) => id)) };
  const first = song.places.findIndex(({ id }) => places.includes(id));
  const chosen = song.places.flatMap(({ id, section }, i) => {
    const linked = places.some((one) => findPlace(song, one)?.section === section);
    return (scope === 'from here on' ? first >= 0 && i >= first : linked) ? [id] : [];
  });
  const inside = new Set(chosen);
  let next = song;
  for (const section of song.sections) {
    const of = song.places.filter((place) => place.section === section.id).map(({ id }) => id);
    const here = of.filter((id) => inside.has(id));
    if (here.length > 0 && here.length < of.length) {
      next = alone(next, here, freeId(next, section.id));
    }
  }
  return { song: next, places: inside };
}

/**
 * Plays one pattern wherever another one is played, as far as the scope goes; its fills, and whatever
 * else lies over it, stay. Of single pieces, only those are taken over, right on top of the other.
 */
export function replacePattern(song: Song, replacing: Replacing): Song {
  const { pattern, by, pieces } = replacing;
  if (pattern === by || !findPattern(song, pattern) || !findPattern(song, by)) return song;
  const plays = (span: Span) => span.pattern === pattern;
  const struck = findPattern(song, pattern)!.strands.map(({ piece }) => piece);
  const { places: reached } = within(song, replacing);
  const meant = song.places.filter(({ id }) => reached.has(id));
  const touched =
    meant.some(({ overlay }) => overlay.some(plays)) ||
    song.sections.some(
      ({ id, spans }) => spans.some(plays) && meant.some(({ section }) => section === id),
    );
  if (!touched) return song;
  const { song: ready, places } = within(song, replacing);
  const sections = new Set(
    ready.places.filter(({ id }) => places.has(id)).map(({ section }) => section),
  );
  const put = (spans: Span[]): Span[] => {
    if (!spans.some(plays)) return spans;
    const ids = new Set(spans.map(({ id }) => id));
    return spans.flatMap((span) => {
      if (!plays(span)) return [span];
      if (!pieces) return [{ ...span, pattern: by }];
      const taken = pieces.filter((piece) => span.pieces === 'all' || span.pieces.includes(piece));
      if (taken.length === 0) return [span];
      let id = `${span.id}-${by}`;
      for (let n = 2; ids.has(id); n++) id = `${span.id}-${by}-${n}`;
      ids.add(id);
      const change: Span = { ...span, id, pattern: by, pieces: taken, role: 'change' };
      if (span.mode === 'replace') return [span, change];
      // Beside others both would be heard: the old one leaves those pieces to the new one.
      const all = span.pieces === 'all' ? struck : span.pieces;
      const left = all.filter((piece) => !taken.includes(piece));
      return left.length > 0 ? [{ ...span, pieces: left }, change] : [change];
    });
  };
  return {
    ...ready,
    sections: ready.sections.map((section) => {
      const spans = sections.has(section.id) ? put(section.spans) : section.spans;
      return spans === section.spans ? section : { ...section, spans };
    }),
    places: ready.places.map((place) => {
      const overlay = places.has(place.id) ? put(place.overlay) : place.overlay;
      return overlay === place.overlay ? place : { ...place, overlay };
    }),
  };
}

/** How many places play something else in another state of a song with the same places. */
export function placesChanged(before: Song, after: Song): number {
  const spansOf = (song: Song, section: string) =>
    song.sections.find(({ id }) => id === section)?.spans;
  return after.places.filter(
    (place, i) =>
      place.overlay !== before.places[i]?.overlay ||
      spansOf(after, place.section) !== spansOf(before, before.places[i].section),
  ).length;
}
