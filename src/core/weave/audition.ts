import { anchored, type Pattern, type PieceId, type Place, type Song } from '../model';
import type { Ticks } from '../time';
import { belowFills } from './arrange';
import { laidPlaces } from './sections';

/** What is heard in place of the drums of a stretch of the song. */
export interface Candidate {
  pattern: Pattern;
  /** Only these pieces of it, over the song's own drums; absent is all of it instead of them. */
  pieces?: readonly PieceId[];
}

const HEARD = 'audition';

/**
 * The song as it would sound with a candidate in a stretch of it, from its first bar on and over and
 * over, below the fills of its places. The song itself is not changed, and everything outside the stretch is as it was.
 */
export function auditioned(
  song: Song,
  { pattern, pieces }: Candidate,
  from: Ticks,
  to: Ticks,
): Song {
  const heard = { ...pattern, id: HEARD };
  const places = new Map<Place, Place>(
    laidPlaces(song).flatMap(({ place, start, end }) => {
      const [first, last] = [Math.max(start, from), Math.min(end, to)];
      if (first >= last) return [];
      const span = {
        id: HEARD,
        role: 'change' as const,
        ...anchored(first - start, last - start, end - start),
        pieces: pieces ? [...pieces] : ('all' as const),
        pattern: HEARD,
        // Strands with loops of their own run on: how far into the pattern they are is not cut to it.
        offset: first - from,
        mode: 'replace' as const,
      };
      return [[place, { ...place, overlay: belowFills(place.overlay, span) }] as const];
    }),
  );
  return {
    ...song,
    patterns: [...song.patterns, heard],
    places: song.places.map((place) => places.get(place) ?? place),
  };
}
