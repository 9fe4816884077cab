import {
  byStaffOrder,
  DEFAULT_KIT,
  MIN_STEP,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
  type Strand,
} from '../model';
import type { Ticks } from '../time';

/** Puts hits in order of their steps; hits of one step stay in the order they came. */
export function inStepOrder(hits: Hit[]): Hit[] {
  for (let i = 1; i < hits.length; i++) {
    if (hits[i].at < hits[i - 1].at) return [...hits].sort((a, b) => a.at - b.at);
  }
  return hits;
}

/** The pattern with one strand's hits replaced, other strands untouched; adds the strand if needed. */
export function withHits(
  pattern: Pattern,
  piece: PieceId,
  hits: Hit[],
  kit: Kit = DEFAULT_KIT,
): Pattern {
  const grown = addStrand(pattern, piece, kit);
  return {
    ...grown,
    strands: grown.strands.map((strand) => (strand.piece === piece ? { ...strand, hits } : strand)),
  };
}

/** Adds an empty strand in its place in staff order; a strand that is there stays as it is. */
export function addStrand(pattern: Pattern, piece: PieceId, kit: Kit = DEFAULT_KIT): Pattern {
  if (pattern.strands.some((strand) => strand.piece === piece)) return pattern;
  const strands = [...pattern.strands, { piece, hits: [] }];
  strands.sort((a, b) => byStaffOrder(a.piece, b.piece, kit));
  return { ...pattern, strands };
}

/** Takes a strand and all its hits out of the pattern. */
export function removeStrand(pattern: Pattern, piece: PieceId): Pattern {
  const strands = pattern.strands.filter((strand) => strand.piece !== piece);
  return strands.length === pattern.strands.length ? pattern : { ...pattern, strands };
}

/**
 * Changes each strand's hits by a function; a strand whose function gives back the same list, and
 * a pattern all of whose strands stay, are the very same values as before.
 */
export function mapStrands(pattern: Pattern, change: (strand: Strand) => Hit[]): Pattern {
  let changed = false;
  const strands = pattern.strands.map((strand) => {
    const hits = change(strand);
    if (hits === strand.hits) return strand;
    changed = true;
    return { ...strand, hits };
  });
  return changed ? { ...pattern, strands } : pattern;
}

/** Changes the chosen hits one by one, keeping their order and everything else. */
export function mapHits(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  change: (hit: Hit, strand: Strand) => Hit,
): Pattern {
  return mapStrands(pattern, (strand) => {
    let changed = false;
    const hits = strand.hits.map((hit) => {
      if (!ids.has(hit.id)) return hit;
      const next = change(hit, strand);
      if (next !== hit) changed = true;
      return next;
    });
    return changed ? hits : strand.hits;
  });
}

/** The hits with these ids, with the strands they are on. */
export function chosenHits(
  pattern: Pattern,
  ids: ReadonlySet<string>,
): { piece: PieceId; hit: Hit }[] {
  return pattern.strands.flatMap(({ piece, hits }) =>
    hits.filter((hit) => ids.has(hit.id)).map((hit) => ({ piece, hit })),
  );
}

export function hitCount(pattern: Pattern): number {
  return pattern.strands.reduce((sum, strand) => sum + strand.hits.length, 0);
}

/** The ids of every hit of the pattern. */
export function allIds(pattern: Pattern): Set<string> {
  const ids = new Set<string>();
  for (const { hits } of pattern.strands) for (const { id } of hits) ids.add(id);
  return ids;
}

/** The step rate a strand is written at: its own, or the pattern's. */
export function stepOf(pattern: Pattern, { stepTicks }: Pick<Strand, 'stepTicks'>): Ticks {
  return stepTicks ?? pattern.step;
}

/** Gives a strand a step rate of its own; the pattern's own rate takes it away. */
export function setStrandStep(pattern: Pattern, piece: PieceId, step: Ticks): Pattern {
  if (!(step >= MIN_STEP)) return pattern;
  const own = step === pattern.step ? undefined : step;
  let changed = false;
  const strands = pattern.strands.map((strand) => {
    if (strand.piece !== piece || strand.stepTicks === own) return strand;
    changed = true;
    const { stepTicks: _, ...rest } = strand;
    return own ? { ...rest, stepTicks: own } : rest;
  });
  return changed ? { ...pattern, strands } : pattern;
}

/** The first hit of a strand that belongs to a step of a grid. */
export function hitOfStep(hits: readonly Hit[], at: Ticks, step: Ticks): Hit | undefined {
  return hits.find((hit) => hit.at >= at && hit.at < at + step);
}

/** The length a strand comes round after: its own, or the pattern's. */
export function periodOf(pattern: Pattern, { loopTicks }: Pick<Strand, 'loopTicks'>): Ticks {
  return loopTicks ?? pattern.length;
}

/** The hits of a strand as they sound on one pass of its pattern from its start, loops written out. */
export function unlooped(pattern: Pattern, { hits, loopTicks }: Strand): Hit[] {
  if (!loopTicks) return hits;
  const rounds = Math.ceil(pattern.length / loopTicks);
  return Array.from({ length: rounds }, (_, round) =>
    hits.map((hit) => ({
      ...hit,
      at: hit.at + round * loopTicks,
      id: round === 0 ? hit.id : `${hit.id}.${round}`,
    })),
  )
    .flat()
    .filter(({ at }) => at < pattern.length);
}

/** Gives new hits ids that no hit of a pattern has. */
export function freeIds(pattern: Pattern): (wanted: string) => string {
  const taken = allIds(pattern);
  const next = new Map<string, number>();
  return (wanted) => {
    let id = wanted;
    let n = next.get(wanted) ?? 2;
    for (; taken.has(id); n++) id = `${wanted}.${n}`;
    next.set(wanted, n);
    taken.add(id);
    return id;
  };
}
