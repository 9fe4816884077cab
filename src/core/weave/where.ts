import type { Pattern, Song } from '../model/song';
import type { Ticks } from '../time/units';
import { laidPlaces } from './sections';

/**
 * Where in a pattern the song is at a tick, when it plays that pattern there.
 * @returns ticks from the start of the pattern; undefined when something else plays
 */
export function patternTickAt(song: Song, pattern: Pattern, tick: Ticks): Ticks | undefined {
  const laid = laidPlaces(song).find(({ start, end }) => tick >= start && tick < end);
  if (!laid) return undefined;
  const local = tick - laid.start;
  const span = [...laid.section.spans, ...laid.place.overlay].findLast(
    (s) => s.pattern === pattern.id && local >= s.from && local < s.to,
  );
  return span && (local - span.from + span.offset) % pattern.length;
}

/** Where in the song a pattern is first heard from its start; 0 when it is not in the song. */
export function firstStartOf(song: Song, patternId: string): Ticks {
  for (const { place, section, start } of laidPlaces(song)) {
    const span = [...section.spans, ...place.overlay].find(({ pattern }) => pattern === patternId);
    if (span) return start + span.from;
  }
  return 0;
}
