import { findPattern, layoutOf, MOST, nextDye, type Pattern, type Song, type Span } from '../model';
import { croppedToHits, joinPatterns, onlyHits, whyNotJoined } from '../pattern';
import type { Ticks } from '../time';
import { behind, freeId, laidPlaces, wovenOf } from '../weave';
import { hitsOnTrack } from './grouping';

/** From what a track is lifted: a pattern, or what a stretch of the song plays. */
export type LiftedFrom = { pattern: string } | { from: Ticks; to: Ticks };

/** What a lifted track becomes. */
export interface Lifting {
  track: string;
  /** From the beat of its first hit to the end of that of its last; or as long as what it comes from. */
  cropped: boolean;
  newId: string;
}

const GONE = 'That track is not there any more.';

/** Puts what a track of the layout in use has of a pattern or a stretch on the shelf. Nothing that plays changes. */
export function liftTrack(song: Song, of: LiftedFrom, lifting: Lifting): Song | string {
  const { track: id, cropped, newId } = lifting;
  const track = layoutOf(song).tracks.find((one) => one.id === id);
  if (!track) return GONE;
  if (findPattern(song, newId)) return song;
  const source = 'pattern' in of ? findPattern(song, of.pattern) : stretchOf(song, of.from, of.to);
  if (!source) return 'There is nothing to extract: that pattern is not there any more.';
  if (typeof source === 'string') return source;
  const alone = onlyHits(source, hitsOnTrack(song, source, id));
  if (alone.strands.length === 0)
    return `“${source.name}” has nothing on the track “${track.name}”.`;
  const whole = ownPattern(alone, {
    id: newId,
    name: `${source.name}, ${track.name}`,
    dye: nextDye(song),
  });
  const lifted = cropped ? croppedToHits(whole) : whole;
  const shelved = 'pattern' in of ? of.pattern : (song.patterns.at(-1)?.id ?? '');
  return behind(song, shelved, [lifted]);
}

/** A pattern of its own: nothing of it says any more where it was kept from. */
function ownPattern(pattern: Pattern, head: Pick<Pattern, 'id' | 'name' | 'dye'>): Pattern {
  const {
    local: _,
    locked: __,
    joined: ___,
    groove: ____,
    stars: _____,
    notes: ______,
    ...rest
  } = pattern;
  return { ...rest, ...head };
}

/** What a stretch of the song plays, as one pattern; or why it cannot be one. */
function stretchOf(song: Song, from: Ticks, to: Ticks): Pattern | string | undefined {
  const parts = laidPlaces(song)
    .filter(({ start, end }) => start < to && end > from)
    .map((laid) => {
      const stretch = { from: from - laid.start, to: to - laid.start };
      return wovenOf(song, laid, stretch, 'place').pattern;
    });
  if (parts.length < 2) return parts[0] && { ...parts[0], name: nameOf(song, from) };
  const name = nameOf(song, from);
  return whyNotJoined(parts) ?? joinPatterns(parts, { id: '', name, dye: 0 }, song.kit);
}

const nameOf = (song: Song, from: Ticks) =>
  laidPlaces(song).findLast(({ start }) => start <= from)?.section.name ?? song.name;

/**
 * Gives each track of the layout in use a pattern of its own in place of a whole one, wherever the song plays
 * it: they are edited without each other from then on. The whole pattern stays on the shelf and is silent. The
 * song sounds the same.
 */
export function ownTracks(song: Song, patternId: string): Song | string {
  const pattern = findPattern(song, patternId);
  if (!pattern) return 'That pattern is not there any more.';
  const parts: Pattern[] = [];
  let result = song;
  for (const track of layoutOf(song).tracks) {
    const alone = onlyHits(pattern, hitsOnTrack(song, pattern, track.id));
    if (alone.strands.length === 0) continue;
    const part = ownPattern(alone, {
      id: freeId(result, `${pattern.id}-${track.id}`),
      name: `${pattern.name}, ${track.name}`.slice(0, 300),
      dye: nextDye(result),
    });
    parts.push(part);
    result = behind(result, parts.at(-2)?.id ?? pattern.id, [part]);
  }
  if (parts.length < 2)
    return `All of “${pattern.name}” is on one track. Choose a layout that splits it first.`;
  if (result.patterns.length > MOST.patterns)
    return 'A song cannot hold more patterns than it does.';
  const places = song.places.map((place) => ({ ...place, overlay: apart(place.overlay) }));
  const sections = song.sections.map((section) => ({ ...section, spans: apart(section.spans) }));
  const most = Math.max(
    0,
    ...[...places.map((p) => p.overlay), ...sections.map((s) => s.spans)].map((l) => l.length),
  );
  if (most > MOST.spans) return 'A section would have more layers than it can hold.';
  return {
    ...result,
    places: places.map((place, i) =>
      place.overlay === song.places[i].overlay ? song.places[i] : place,
    ),
    sections: sections.map((section, i) =>
      section.spans === song.sections[i].spans ? song.sections[i] : section,
    ),
  };

  function apart<T extends readonly Span[]>(spans: T): T | Span[] {
    if (!spans.some((span) => span.pattern === patternId)) return spans;
    const taken = new Set(spans.map(({ id }) => id));
    return spans.flatMap((span) => {
      if (span.pattern !== patternId) return [span];
      // The first one silences what the whole silenced; the others sound with it.
      return parts.map((part, i): Span => {
        if (i === 0) return { ...span, pattern: part.id };
        let id = `${span.id}-${i}`;
        while (taken.has(id)) id += '-';
        taken.add(id);
        return { ...span, id, pattern: part.id, mode: 'add' };
      });
    });
  }
}
