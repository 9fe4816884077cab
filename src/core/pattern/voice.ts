import {
  articulationOf,
  DEFAULT_KIT,
  findStrand,
  pieceOf,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
} from '../model';
import { placeHits, removeHits, type StrandHit } from './hits';
import { chosenHits, freeIds, mapHits, withHits } from './strands';

/** Strikes the chosen hits another way. Hits of a piece that has no such articulation stay. */
export function setArticulation(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  articulation: string,
  kit: Kit = DEFAULT_KIT,
): Pattern {
  return mapHits(pattern, ids, (hit, { piece }) => {
    const known = pieceOf(piece, kit).articulations.some((a) => a.id === articulation);
    return known && hit.articulation !== articulation ? { ...hit, articulation } : hit;
  });
}

/** Strikes each chosen hit the next way its piece can be struck, round and round. */
export function nextArticulation(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  kit: Kit = DEFAULT_KIT,
): Pattern {
  return mapHits(pattern, ids, (hit, { piece }) => {
    const { articulations } = pieceOf(piece, kit);
    if (articulations.length < 2) return hit;
    const now = articulations.indexOf(articulationOf(piece, hit.articulation, kit));
    return { ...hit, articulation: articulations[(now + 1) % articulations.length].id };
  });
}

/**
 * Puts the chosen hits on another piece, or strikes them another way. Steps, pushes and velocities
 * stay. What the other piece has on the same steps gives way.
 */
export function revoice(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { piece, articulation }: { piece: PieceId; articulation: string },
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const way = articulationOf(piece, articulation, kit).id;
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
  const left = removeHits(struck, new Set(moved.map(({ hit }) => hit.id)));
  return placeHits(left, [...louder.values()], kit);
}

/** Strikes the chosen hits of each strand in turn one way and the other. */
export function alternateWays(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { first, second }: { first: string; second: string },
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const counts = new Map<PieceId, number>();
  return mapHits(pattern, ids, (hit, { piece }) => {
    const ways = pieceOf(piece, kit).articulations.map((a) => a.id);
    if (!ways.includes(first) || !ways.includes(second)) return hit;
    const count = counts.get(piece) ?? 0;
    counts.set(piece, count + 1);
    const articulation = count % 2 === 0 ? first : second;
    return articulation === hit.articulation ? hit : { ...hit, articulation };
  });
}

/** What one piece plays the other one plays, and the other way round. */
export function swapStrands(
  pattern: Pattern,
  one: PieceId,
  other: PieceId,
  kit: Kit = DEFAULT_KIT,
): Pattern {
  if (one === other) return pattern;
  const hitsFor = (piece: PieceId, from: PieceId) =>
    (findStrand(pattern, from)?.hits ?? []).map((hit) => voiced(hit, piece, kit));
  const [toOne, toOther] = [hitsFor(one, other), hitsFor(other, one)];
  if (toOne.length + toOther.length === 0) return pattern;
  return withFrame(withHits(withHits(pattern, one, toOne, kit), other, toOther, kit), pattern, [
    [one, other],
    [other, one],
  ]);
}

/** The other piece plays what this one plays, instead of what it had. */
export function copyStrand(
  pattern: Pattern,
  from: PieceId,
  to: PieceId,
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const hits = findStrand(pattern, from)?.hits ?? [];
  if (from === to || hits.length === 0) return pattern;
  const free = freeIds(pattern);
  const copies = hits.map((hit) => ({ ...voiced(hit, to, kit), id: free(hit.id) }));
  return withFrame(withHits(pattern, to, copies, kit), pattern, [[to, from]]);
}

function voiced(hit: Hit, piece: PieceId, kit: Kit): Hit {
  return { ...hit, articulation: articulationOf(piece, hit.articulation, kit).id };
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
