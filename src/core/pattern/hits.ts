import {
  articulationOf,
  DEFAULT_KIT,
  findStrand,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
} from '../model';
import { inStepOrder, mapStrands, withHits } from './strands';

/** A hit together with the strand it goes on. */
export interface StrandHit {
  piece: PieceId;
  hit: Hit;
}

/**
 * Places hits on strands. A hit that lands on a step of the same strand takes the place of what is
 * there: a drum is struck once at a time. Hits outside the pattern are left out; behind the join of
 * a strand that loops they go where it sounds them from.
 */
export function placeHits(
  pattern: Pattern,
  placed: readonly StrandHit[],
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const inside = placed.filter(({ hit }) => hit.at >= 0 && hit.at < pattern.length);
  const voiced = inside.map(({ piece, hit }) => ({
    piece,
    hit: { ...hit, articulation: articulationOf(piece, hit.articulation, kit).id },
  }));
  return putHits(pattern, voiced, kit);
}

/** The same for hits that are struck as they are struck already: those of the pattern, on other steps. */
export function putHits(
  pattern: Pattern,
  placed: readonly StrandHit[],
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const byPiece = new Map<PieceId, Hit[]>();
  for (const { piece, hit } of placed) {
    if (!(hit.at >= 0 && hit.at < pattern.length)) continue;
    const { loopTicks } = findStrand(pattern, piece) ?? {};
    const there = loopTicks ? { ...hit, at: hit.at % loopTicks } : hit;
    const list = byPiece.get(piece);
    if (list) list.push(there);
    else byPiece.set(piece, [there]);
  }
  let result = pattern;
  for (const [piece, hits] of byPiece) {
    const taken = new Set(hits.map((hit) => hit.at));
    const kept = (findStrand(pattern, piece)?.hits ?? []).filter((hit) => !taken.has(hit.at));
    result = withHits(result, piece, inStepOrder([...kept, ...hits]), kit);
  }
  return result;
}

/** Removes the chosen hits, on whatever strand they are. */
export function removeHits(pattern: Pattern, ids: ReadonlySet<string>): Pattern {
  return mapStrands(pattern, ({ hits }) => {
    const kept = hits.filter((hit) => !ids.has(hit.id));
    return kept.length === hits.length ? hits : kept;
  });
}
