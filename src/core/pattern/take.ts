import {
  DEFAULT_KIT,
  findStrand,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
  type Strand,
} from '../model';
import { barTicks, meterName, saidBars } from '../time';
import { placeHits } from './hits';
import { freeIds, inStepOrder, periodOf, unlooped, withHits } from './strands';
import { carried, swingOf } from './swing';

/** How a strand that is longer or shorter than the pattern it goes to is made to fit. */
export const FITS = ['repeat', 'cut', 'stretch'] as const;
export type Fit = (typeof FITS)[number];

export const TAKE_MODES = ['replace', 'add'] as const;
/** What taking a strand does to the hits its piece has already. */
export type TakeMode = (typeof TAKE_MODES)[number];

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
      `what is taken is in ${meterName(source.meter)}, the pattern in ${meterName(target.meter)}`,
    target.length !== source.length &&
      `what is taken lasts ${lasting(source)}, the pattern ${lasting(target)}`,
  ].filter(Boolean);
  return differ.length > 0 ? differ.join(', and ') : undefined;
}

const lasting = ({ length, meter }: Pattern) => saidBars(length / barTicks(meter));

/**
 * Takes strands of a groove into a pattern. Only the strands of these pieces change; each remembers
 * where it came from. They sound as they did, whatever swing the two patterns have.
 */
export function takeStrands(
  target: Pattern,
  { source, pieces, mode, fit }: Taking,
  kit: Kit = DEFAULT_KIT,
): Pattern {
  let result = target;
  for (const piece of new Set(pieces)) {
    const strand = findStrand(source, piece);
    if (!strand || strand.hits.length === 0) continue;
    const free = freeIds(result);
    const hits = fitted(strand, source, target, fit).map((hit) => ({
      ...hit,
      id: free(`${hit.id}~`),
    }));
    const before = findStrand(result, piece)?.hits ?? [];
    const next =
      mode === 'add'
        ? placeHits(
            result,
            hits.map((hit) => ({ piece, hit })),
            kit,
          )
        : withHits(result, piece, hits, kit);
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

/** The hits of a strand in a pattern of another length and swing, sounding where they did. */
function fitted(strand: Strand, source: Pattern, target: Pattern, fit: Fit): Hit[] {
  const room = target.length;
  if (fit === 'stretch' && room !== source.length) {
    const scale = room / source.length;
    return unlooped(source, strand).map((hit) => {
      const at = hit.at * scale;
      const heard = (hit.at + hit.push + swingOf(source, hit.at)) * scale;
      return { ...hit, at, push: heard - at - swingOf(target, at) };
    });
  }
  const period = periodOf(source, strand);
  const end = fit === 'repeat' ? room : Math.min(room, source.length);
  const out: Hit[] = [];
  for (let round = 0; round * period < end; round++) {
    for (const hit of strand.hits) {
      const at = hit.at + round * period;
      if (at >= end) continue;
      // A loop of its own is swung where its round falls in the pattern it comes from.
      const there = { ...hit, at: at % source.length };
      const moved = carried(there, source, target, at);
      out.push(round === 0 ? moved : { ...moved, id: `${hit.id}.${round}` });
    }
  }
  return inStepOrder(out);
}

/** Gives a strand back as it came from its groove. The very same pattern when it was not taken. */
export function asItCame(pattern: Pattern, piece: PieceId, kit: Kit = DEFAULT_KIT): Pattern {
  const strand = findStrand(pattern, piece);
  if (!strand?.from || strand.hits === strand.from.hits) return pattern;
  const others = new Set(
    pattern.strands.flatMap((other) => (other === strand ? [] : other.hits.map(({ id }) => id))),
  );
  const hits = strand.from.hits.filter(({ at, id }) => at < pattern.length && !others.has(id));
  const back = withHits(pattern, piece, [...hits], kit);
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
