import { findPattern, type Pattern, type Song } from '../model';
import { impossibles } from '../playing';
import { barTicks, type Ticks } from '../time';
import { laidPlaces, stackOf } from '../weave';
import { marksOf, touchedBars } from './marks';

/**
 * Leaves out of what was drafted what no drummer can play where bars and fills meet: what is missed least.
 * @param drafted patterns that were drafted now; of others nothing is left out
 */
export function mended(song: Song, drafted: ReadonlySet<string>): Song {
  let now = song;
  for (let round = 0; round < 4; round++) {
    const wrong = impossibles(now);
    const leave = new Map<string, Set<string>>();
    if (wrong.length > 0) {
      const where = hitOwners(now, drafted);
      for (const { leave: strokes } of wrong) {
        for (const { hit, home } of strokes) {
          const owner = where(hit, home);
          if (owner) (leave.get(owner) ?? leave.set(owner, new Set()).get(owner)!).add(hit);
        }
      }
    }
    if (leave.size === 0) return now;
    now = {
      ...now,
      patterns: now.patterns.map((pattern) => {
        const gone = leave.get(pattern.id);
        return gone ? withoutHits(pattern, gone) : pattern;
      }),
    };
  }
  return now;
}

/** Which drafted pattern a stroke of the song belongs to. */
function hitOwners(
  song: Song,
  drafted: ReadonlySet<string>,
): (hit: string, home: Ticks) => string | undefined {
  const laid = laidPlaces(song);
  return (hit, home) => {
    const place = laid.findLast(({ start }) => start <= home);
    if (!place) return undefined;
    const at = home - place.start;
    const lies = stackOf(place).findLast(({ span, from, to }) => {
      const pattern = findPattern(song, span.pattern);
      return (
        at >= from - 1e-6 &&
        at < to &&
        pattern?.strands.some(({ hits }) => hits.some(({ id }) => id === hit))
      );
    });
    const id = lies?.span.pattern;
    if (id === undefined || !drafted.has(id)) return undefined;
    const pattern = findPattern(song, id)!;
    const bar = Math.floor(
      ((at - lies!.from + lies!.offset) % pattern.length) / barTicks(pattern.meter),
    );
    // What a hand put there is its own business: the playable view says so.
    return touchedBars(pattern)?.has(bar) === false ? id : undefined;
  };
}

/** A drafted pattern without some of its strokes, as if they had never been drafted. */
function withoutHits(pattern: Pattern, gone: ReadonlySet<string>): Pattern {
  const { drafted, ...rest } = pattern;
  if (!drafted) return pattern;
  const touched = touchedBars(pattern);
  const left: Pattern = {
    ...rest,
    strands: pattern.strands.map((strand) => ({
      ...strand,
      hits: strand.hits.filter(({ id }) => !gone.has(id)),
    })),
  };
  const bars = marksOf(left).map((mark, n) => (touched?.has(n) ? drafted.bars[n] : mark));
  const whys = drafted.whys.flatMap(({ says, hits }) => {
    const kept = hits.filter((hit) => !gone.has(hit));
    return kept.length > 0 ? [{ says, hits: kept }] : [];
  });
  return { ...left, drafted: { ...drafted, bars, whys } };
}
