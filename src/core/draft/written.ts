import { byStaffOrder, type Hit, type Kit, type Pattern, type PieceId } from '../model';
import { type Ticks } from '../time';

/** A stroke as it is written into a pattern. */
export interface Written {
  piece: PieceId;
  at: Ticks;
  hit: Hit;
  /** Its name in the pattern; absent is one that says where it stands. */
  id?: string;
}

/** A pattern of some strokes: one a piece and step, in staff order, each with a name of its own. */
export function patternFrom(
  head: Omit<Pattern, 'strands'>,
  strokes: readonly Written[],
  kit: Kit,
): Pattern {
  const strands = new Map<PieceId, Map<number, Hit>>();
  for (const { piece, at, hit, id = `${piece}@${Math.round(at)}` } of strokes) {
    if (at < 0 || at >= head.length) continue;
    const hits = strands.get(piece) ?? strands.set(piece, new Map()).get(piece)!;
    const there = hits.get(Math.round(at));
    // Of two strokes on a step, the louder one is heard.
    if (!there || there.velocity < hit.velocity) hits.set(Math.round(at), { ...hit, id, at });
  }
  const taken = new Set<string>();
  const named = (hit: Hit): Hit => {
    let { id } = hit;
    for (let n = 2; taken.has(id); n++) id = `${hit.id}~${n}`;
    taken.add(id);
    return id === hit.id ? hit : { ...hit, id };
  };
  return {
    ...head,
    strands: [...strands]
      .map(([piece, hits]) => ({
        piece,
        hits: [...hits.values()].sort((a, b) => a.at - b.at || (a.id < b.id ? -1 : 1)).map(named),
      }))
      .sort((a, b) => byStaffOrder(a.piece, b.piece, kit)),
  };
}
