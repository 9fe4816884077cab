import { articulationOf, pieceOf, type PieceId } from '../model/pieces';
import type { Hit, Pattern } from '../model/song';
import { findStrand } from '../model/song';
import { placeHits, removeHits, type StrandHit } from './place';
import { chosenHits, freeIds, mapHits, withHits } from './strands';

/**
 * Puts the chosen hits on another piece, or strikes them another way. Steps, pushes and velocities
 * stay. What the other piece has on the same steps gives way.
 */
export function revoice(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { piece, articulation }: { piece: PieceId; articulation: string },
): Pattern {
  const way = articulationOf(piece, articulation).id;
  const moved = chosenHits(pattern, ids).filter((on) => on.piece !== piece);
  const struck = mapHits(pattern, ids, (hit, strand) =>
    strand.piece === piece && hit.articulation !== way ? { ...hit, articulation: way } : hit,
  );
  if (moved.length === 0) return struck;
  // Where two pieces were struck together, one stroke is left: the harder one.
  const louder = new Map<string, StrandHit>();
  for (const { hit } of moved) {
    const key = `${hit.at} ${hit.push}`;
    if ((louder.get(key)?.hit.velocity ?? 0) >= hit.velocity) continue;
    louder.set(key, { piece, hit: { ...hit, articulation: way } });
  }
  return placeHits(removeHits(struck, new Set(moved.map(({ hit }) => hit.id))), [
    ...louder.values(),
  ]);
}

/** Strikes the chosen hits of each strand in turn one way and the other. */
export function alternateWays(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { first, second }: { first: string; second: string },
): Pattern {
  const turns = new Map<PieceId, number>();
  return mapHits(pattern, ids, (hit, { piece }) => {
    const ways = pieceOf(piece).articulations.map((a) => a.id);
    if (!ways.includes(first) || !ways.includes(second)) return hit;
    const turn = turns.get(piece) ?? 0;
    turns.set(piece, turn + 1);
    const articulation = turn % 2 === 0 ? first : second;
    return articulation === hit.articulation ? hit : { ...hit, articulation };
  });
}

/** What one piece plays the other one plays, and the other way round. */
export function swapStrands(pattern: Pattern, one: PieceId, other: PieceId): Pattern {
  if (one === other) return pattern;
  const hitsFor = (piece: PieceId, from: PieceId) =>
    (findStrand(pattern, from)?.hits ?? []).map((hit) => voiced(hit, piece));
  const [toOne, toOther] = [hitsFor(one, other), hitsFor(other, one)];
  if (toOne.length + toOther.length === 0) return pattern;
  return withFrame(withHits(withHits(pattern, one, toOne), other, toOther), pattern, [
    [one, other],
    [other, one],
  ]);
}

/** The other piece plays what this one plays, instead of what it had. */
export function copyStrand(pattern: Pattern, from: PieceId, to: PieceId): Pattern {
  const hits = findStrand(pattern, from)?.hits ?? [];
  if (from === to || hits.length === 0) return pattern;
  const free = freeIds(pattern);
  const copies = hits.map((hit) => ({ ...voiced(hit, to), id: free(hit.id) }));
  return withFrame(withHits(pattern, to, copies), pattern, [[to, from]]);
}

function voiced(hit: Hit, piece: PieceId): Hit {
  return { ...hit, articulation: articulationOf(piece, hit.articulation).id };
}

/** Gives strands the step rate and loop that other strands had. */
function withFrame(
  pattern: Pattern,
  before: Pattern,
  pairs: readonly (readonly [to: PieceId, from: PieceId])[],
): Pattern {
  const strands = pattern.strands.map((strand) => {
    const from = pairs.find(([to]) => to === strand.piece)?.[1];
    if (!from) return strand;
    const { stepTicks, loopTicks } = findStrand(before, from) ?? {};
    const { piece, hits } = strand;
    return { piece, hits, ...(stepTicks && { stepTicks }), ...(loopTicks && { loopTicks }) };
  });
  return { ...pattern, strands };
}
