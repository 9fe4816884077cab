import { byStaffOrder, type PieceId } from '../model/pieces';
import type { Hit, Pattern, Strand } from '../model/song';
import type { Ticks } from '../time/units';

/** Puts hits in order of their steps; hits of one step stay in the order they came. */
export function inStepOrder(hits: Hit[]): Hit[] {
  for (let i = 1; i < hits.length; i++) {
    if (hits[i].at < hits[i - 1].at) return [...hits].sort((a, b) => a.at - b.at);
  }
  return hits;
}

/** The pattern with one strand's hits replaced, other strands untouched; adds the strand if needed. */
export function withHits(pattern: Pattern, piece: PieceId, hits: Hit[]): Pattern {
  const grown = addStrand(pattern, piece);
  return {
    ...grown,
    strands: grown.strands.map((strand) => (strand.piece === piece ? { ...strand, hits } : strand)),
  };
}

/** Adds an empty strand in its place in staff order; a strand that is there stays as it is. */
export function addStrand(pattern: Pattern, piece: PieceId): Pattern {
  if (pattern.strands.some((strand) => strand.piece === piece)) return pattern;
  const strands = [...pattern.strands, { piece, hits: [] }];
  strands.sort((a, b) => byStaffOrder(a.piece, b.piece));
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
  if (!(step > 0)) return pattern;
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

/** Gives new hits ids that no hit of a pattern has. */
export function freeIds(pattern: Pattern): (wanted: string) => string {
  const taken = allIds(pattern);
  return (wanted) => {
    let id = wanted;
    for (let n = 2; taken.has(id); n++) id = `${wanted}.${n}`;
    taken.add(id);
    return id;
  };
}
