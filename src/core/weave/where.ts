import type { Pattern, Song } from '../model';
import type { Ticks } from '../time';
import { laidPlaces, placeAt, stackOf } from './sections';

/**
 * Where in a pattern the song is at a tick, when it plays that pattern there.
 * @returns ticks from the start of the pattern; undefined when something else plays
 */
export function patternTickAt(song: Song, pattern: Pattern, tick: Ticks): Ticks | undefined {
  const laid = placeAt(song, tick);
  if (!laid || tick < laid.start || tick >= laid.end) return undefined;
  const local = tick - laid.start;
  const lies = stackOf(laid).findLast(
    ({ span, from, to }) => span.pattern === pattern.id && local >= from && local < to,
  );
  return lies && (local - lies.from + lies.offset) % pattern.length;
}

/** Where in the song a pattern is first heard from its start; 0 when it is not in the song. */
export function firstStartOf(song: Song, patternId: string): Ticks {
  for (const laid of laidPlaces(song)) {
    const lies = stackOf(laid).find(({ span }) => span.pattern === patternId);
    if (lies) return laid.start + lies.from;
  }
  return 0;
}
