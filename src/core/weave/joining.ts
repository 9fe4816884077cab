import { findPattern, nextDye, type Pattern, type Song } from '../model';
import { joinPatterns, laidTogether, splitPattern } from '../pattern';
import type { Ticks } from '../time';

/** Puts the two parts of a pattern on the shelf behind it; the pattern itself stays where it plays. */
export function splitOnShelf(
  song: Song,
  id: string,
  at: Ticks,
  ids: readonly [string, string],
): Song {
  const pattern = findPattern(song, id);
  const parts = pattern && splitPattern(pattern, at, ids);
  if (!parts || ids[0] === ids[1] || ids.some((other) => findPattern(song, other))) return song;
  return behind(song, id, parts);
}

/** What a pattern made of others is to be. */
interface Made {
  newId: string;
  name: string;
}

/** Puts patterns joined end to end on the shelf, behind the last of them; they stay themselves. */
export function joinOnShelf(song: Song, ids: readonly string[], made: Made): Song {
  return madeOnShelf(song, ids, made, joinPatterns);
}

/** Puts patterns laid over each other on the shelf as one, behind the last of them; they stay themselves. */
export function layTogetherOnShelf(song: Song, ids: readonly string[], made: Made): Song {
  return madeOnShelf(song, ids, made, laidTogether);
}

function madeOnShelf(
  song: Song,
  ids: readonly string[],
  { newId, name }: Made,
  make: typeof laidTogether,
): Song {
  if (findPattern(song, newId)) return song;
  const patterns = ids.flatMap((one) => findPattern(song, one) ?? []);
  const pattern = make(patterns, { id: newId, name, dye: nextDye(song) }, song.kit);
  return pattern && patterns.length === ids.length
    ? behind(song, ids[ids.length - 1], [pattern])
    : song;
}

/** Puts the pieces a pattern was joined from back on the shelf, as far as they are not there. */
export function takeApart(song: Song, id: string): Song {
  const pattern = findPattern(song, id);
  const missing = pattern?.joined?.filter((piece) => !findPattern(song, piece.id)) ?? [];
  const unique = missing.filter((piece, i) => missing.findIndex((p) => p.id === piece.id) === i);
  return unique.length > 0 ? behind(song, id, unique) : song;
}

/** Puts patterns on the shelf behind another one; without that one, at the front. */
export function behind(song: Song, id: string, patterns: readonly Pattern[]): Song {
  const index = song.patterns.findIndex((pattern) => pattern.id === id) + 1;
  return {
    ...song,
    patterns: [...song.patterns.slice(0, index), ...patterns, ...song.patterns.slice(index)],
  };
}
