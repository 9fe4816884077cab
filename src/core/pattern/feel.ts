import type { PieceId } from '../model/pieces';
import type { Feel, FeelPoint, Pattern } from '../model/song';
import { toVelocity, type Ticks } from '../time/units';
import { retime } from './neighbours';
import { mapHits } from './strands';

/** Takes how some hits of a pattern are played: how far off their steps, and how hard. */
export function takeFeel(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  named: Pick<Feel, 'id' | 'name'>,
): Feel {
  const points = pattern.strands.flatMap(({ piece, hits }) =>
    hits
      .filter((hit) => ids.has(hit.id))
      .map(({ at, push, velocity }): FeelPoint => ({ piece, at, push, velocity })),
  );
  return { ...named, length: pattern.length, points };
}

/** What a feel says at each step: for the piece itself, or for all pieces together. */
interface Lookup {
  own: Map<string, FeelPoint[]>;
  any: Map<Ticks, { push: Ticks; weight: number }>;
}

const lookups = new WeakMap<Feel, Lookup>();

function lookupOf(feel: Feel): Lookup {
  const known = lookups.get(feel);
  if (known) return known;
  const own = new Map<string, FeelPoint[]>();
  const steps = new Map<Ticks, FeelPoint[]>();
  for (const point of feel.points) {
    const key = `${point.piece} ${point.at}`;
    own.set(key, [...(own.get(key) ?? []), point]);
    steps.set(point.at, [...(steps.get(point.at) ?? []), point]);
  }
  const means = new Map<PieceId, number>();
  for (const { piece } of feel.points) {
    if (means.has(piece)) continue;
    means.set(piece, mean(feel.points.filter((p) => p.piece === piece).map((p) => p.velocity)));
  }
  const any = new Map<Ticks, { push: Ticks; weight: number }>();
  for (const [at, points] of steps) {
    const push = mean(points.map((p) => p.push));
    const weight = mean(points.map((p) => p.velocity / means.get(p.piece)!));
    any.set(at, { push, weight });
  }
  const lookup = { own, any };
  lookups.set(feel, lookup);
  return lookup;
}

const mean = (values: readonly number[]) => values.reduce((a, b) => a + b, 0) / values.length;

/**
 * Plays the chosen hits with a feel, as far as it has something to say about their steps: what the
 * same piece does there, or else what all pieces do on average.
 * @param options.percent 100 is the feel as it was taken
 */
export function applyFeel(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { feel, percent }: { feel: Feel; percent: number },
): Pattern {
  const { own, any } = lookupOf(feel);
  const amount = percent / 100;
  const wishes = new Map<string, { push: Ticks; velocity: number }>();
  for (const { piece, hits } of pattern.strands) {
    const mid = mean(hits.map((hit) => hit.velocity));
    const turns = new Map<Ticks, number>();
    for (const hit of hits) {
      const turn = turns.get(hit.at) ?? 0;
      turns.set(hit.at, turn + 1);
      if (!ids.has(hit.id)) continue;
      const at = hit.at % feel.length;
      const points = own.get(`${piece} ${at}`);
      const point = points?.[Math.min(turn, points.length - 1)];
      const general = any.get(at);
      if (point) wishes.set(hit.id, point);
      else if (general) {
        wishes.set(hit.id, { push: general.push, velocity: mid * general.weight });
      }
    }
  }
  const struck = mapHits(pattern, new Set(wishes.keys()), (hit) => {
    const { velocity } = wishes.get(hit.id)!;
    const next = toVelocity(hit.velocity + (velocity - hit.velocity) * amount);
    return next === hit.velocity ? hit : { ...hit, velocity: next };
  });
  return retime(struck, ids, (hit) => {
    const wish = wishes.get(hit.id);
    return wish && { position: hit.at + hit.push + (wish.push - hit.push) * amount };
  });
}

/** How many of the chosen hits lie on steps a feel says nothing about, and where the first one is. */
export function unmappedHits(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  feel: Feel,
): { count: number; first?: { piece: PieceId; at: Ticks } } {
  const { any } = lookupOf(feel);
  const missed = pattern.strands.flatMap(({ piece, hits }) =>
    hits
      .filter((hit) => ids.has(hit.id) && !any.has(hit.at % feel.length))
      .map((hit) => ({ piece, at: hit.at })),
  );
  return { count: missed.length, first: missed[0] };
}
