import { findPattern, findStrand, type Pattern, type PieceId, type Song } from '../model';
import type { Ticks } from '../time';
import { laidPlaces, placeAt, stackOf, type LaidPlace, type LaidSpan } from './sections';

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

/** Where a cell of the cloth comes from. */
export interface CellOrigin {
  /** What plays the piece there. */
  pattern: Pattern;
  lies: LaidSpan;
  /** What would play it without that. */
  over?: Pattern;
}

/** What plays a piece at a tick of a place, counted from its start, and what lies under it. */
export function originAt(
  song: Song,
  laid: LaidPlace,
  tick: Ticks,
  piece: PieceId,
): CellOrigin | undefined {
  const here = stackOf(laid)
    .filter(
      ({ span, from, to }) =>
        tick >= from && tick < to && (span.pieces === 'all' || span.pieces.includes(piece)),
    )
    .flatMap((lies) => {
      const pattern = findPattern(song, lies.span.pattern);
      return pattern ? [{ lies, pattern }] : [];
    });
  const plays = ({ pattern }: { pattern: Pattern }) =>
    (findStrand(pattern, piece)?.hits.length ?? 0) > 0;
  const top = here.findLastIndex((one) => one.lies.span.mode === 'replace' || plays(one));
  if (top < 0) return undefined;
  const under = here.slice(0, top).findLast(plays);
  return { ...here[top], ...(under && { over: under.pattern }) };
}
