import type { PieceId } from '../model/pieces';
import { findStrand, type Hit, type Pattern, type Strand } from '../model/song';
import { meterName } from '../time/meter';
import type { Ticks } from '../time/units';
import { placeHits } from './place';
import { freeIds, inStepOrder, withHits } from './strands';

/** How a strand that is longer or shorter than the pattern it goes to is made to fit. */
export const FITS = ['repeat', 'cut', 'stretch'] as const;
export type Fit = (typeof FITS)[number];

/** What taking a strand does to the hits its piece has already. */
export type TakeMode = 'replace' | 'add';

/** Strands of a groove on their way into a pattern. */
export interface Taking {
  /** The groove they come from. */
  source: Pattern;
  pieces: readonly PieceId[];
  mode: TakeMode;
  fit: Fit;
}

/** What has to be settled before a strand fits; undefined when it fits as it is. */
export function misfit(target: Pattern, source: Pattern): string | undefined {
  const differ = [
    meterName(target.meter) !== meterName(source.meter) &&
      `it is in ${meterName(source.meter)}, this in ${meterName(target.meter)}`,
    target.length !== source.length &&
      (target.length > source.length ? 'it is shorter' : 'it is longer'),
  ].filter(Boolean);
  return differ.length > 0 ? differ.join(', and ') : undefined;
}

/**
 * Takes strands of a groove into a pattern. Only the strands of these pieces change; each remembers
 * where it came from.
 */
export function takeStrands(target: Pattern, { source, pieces, mode, fit }: Taking): Pattern {
  let result = target;
  for (const piece of pieces) {
    const strand = findStrand(source, piece);
    if (!strand || strand.hits.length === 0) continue;
    const free = freeIds(result);
    const hits = fitted(strand, source.length, target.length, fit).map((hit) => ({
      ...hit,
      id: free(`${hit.id}~`),
    }));
    const before = findStrand(result, piece)?.hits ?? [];
    const next =
      mode === 'add'
        ? placeHits(
            result,
            hits.map((hit) => ({ piece, hit })),
          )
        : withHits(result, piece, hits);
    const from = { name: source.name, dye: source.dye, hits };
    result = {
      ...next,
      strands: next.strands.map((other) => {
        if (other.piece !== piece) return other;
        // A strand of its own step or loop keeps them only with what it was written for.
        const { stepTicks: _, loopTicks: __, ...plain } = other;
        return mode === 'replace'
          ? { ...plain, from }
          : before.length > 0
            ? other
            : { ...other, from };
      }),
    };
  }
  return result;
}

/** The hits of a strand in a room of another length. */
function fitted({ hits, loopTicks }: Strand, length: Ticks, room: Ticks, fit: Fit): Hit[] {
  const period = loopTicks ?? length;
  if (fit === 'stretch' && room !== length) {
    const scale = room / length;
    return hits.map((hit) => ({ ...hit, at: hit.at * scale, push: hit.push * scale }));
  }
  const rounds = fit === 'repeat' || loopTicks ? Math.ceil(room / period) : 1;
  const out: Hit[] = [];
  for (let round = 0; round < rounds; round++) {
    for (const hit of hits) {
      const at = hit.at + round * period;
      if (at < room)
        out.push(round === 0 ? { ...hit, at } : { ...hit, id: `${hit.id}.${round}`, at });
    }
  }
  return inStepOrder(out);
}

/** Gives a strand back as it came from its groove. The very same pattern when it was not taken. */
export function asItCame(pattern: Pattern, piece: PieceId): Pattern {
  const strand = findStrand(pattern, piece);
  if (!strand?.from || strand.hits === strand.from.hits) return pattern;
  const others = new Set(
    pattern.strands.flatMap((other) => (other === strand ? [] : other.hits.map(({ id }) => id))),
  );
  const hits = strand.from.hits.filter(({ at, id }) => at < pattern.length && !others.has(id));
  const back = withHits(pattern, piece, [...hits]);
  return {
    ...back,
    strands: back.strands.map(({ loopTicks, ...other }) =>
      other.piece === piece || !loopTicks ? other : { ...other, loopTicks },
    ),
  };
}

/** Empties a strand; its row stays. */
export function clearStrand(pattern: Pattern, piece: PieceId): Pattern {
  const strand = findStrand(pattern, piece);
  return strand && strand.hits.length > 0 ? withHits(pattern, piece, []) : pattern;
}
