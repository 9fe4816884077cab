import type { PieceId, Feel, FeelPoint, Pattern } from '../model';
import { toVelocity, type Ticks } from '../time';
import { retime } from './retime';
import { mapHits } from './strands';
import { swingOf } from './swing';

/**
 * Takes how some hits of a pattern are played: how far off their steps they sound, swing included, and
 * how hard they are struck.
 */
export function takeFeel(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  named: Pick<Feel, 'id' | 'name'>,
): Feel {
  const points = pattern.strands.flatMap(({ piece, hits }) =>
    hits
      .filter((hit) => ids.has(hit.id))
      .map(({ at, push, velocity }): FeelPoint => ({
        piece,
        at,
        push: push + swingOf(pattern, at),
        velocity,
      })),
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
  const struck = new Map<PieceId, number[]>();
  for (const point of feel.points) {
    pushTo(own, `${point.piece} ${point.at}`, point);
    pushTo(steps, point.at, point);
    pushTo(struck, point.piece, point.velocity);
  }
  const means = new Map([...struck].map(([piece, velocities]) => [piece, mean(velocities)]));
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

function pushTo<K, V>(lists: Map<K, V[]>, key: K, value: V): void {
  const list = lists.get(key);
  if (list) list.push(value);
  else lists.set(key, [value]);
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
    const counts = new Map<Ticks, number>();
    for (const hit of hits) {
      const count = counts.get(hit.at) ?? 0;
      counts.set(hit.at, count + 1);
      if (!ids.has(hit.id)) continue;
      const at = hit.at % feel.length;
      const points = own.get(`${piece} ${at}`);
      const point = points?.[Math.min(count, points.length - 1)];
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
    if (!wish) return undefined;
    // A feel says where strokes sound: what the pattern swings by itself is part of that.
    const push = wish.push - swingOf(pattern, hit.at);
    return { position: hit.at + hit.push + (push - hit.push) * amount };
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
