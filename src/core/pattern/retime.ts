import { HIT_LIMITS, type Hit, type Pattern, type Strand } from '../model';
import { PPQ, type Ticks, type Velocity } from '../time';
import { inStepOrder, mapStrands } from './strands';

/** Where a hit should sound; the step it should belong to and its velocity, if those change. */
export interface Wish {
  /** Ticks from the start of the pattern, swing setting not counted. */
  position: Ticks;
  at?: Ticks;
  velocity?: Velocity;
}

/**
 * Moves chosen hits in time. On each strand they keep their order among themselves and with the
 * hits that stay. None leaves the pattern, but what belongs to its first beat may come before it; what
 * cannot go all the way goes as far as it can.
 * @param wish where a hit should go; undefined leaves it
 */
export function retime(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  wish: (hit: Hit, strand: Strand) => Wish | undefined,
): Pattern {
  return mapStrands(pattern, (strand) => {
    const wishes = strand.hits.map((hit) => (ids.has(hit.id) ? wish(hit, strand) : undefined));
    if (wishes.every((w) => w === undefined)) return strand.hits;
    return settled(strand.hits, wishes, strand.loopTicks ?? pattern.length);
  });
}

const soundsAt = (hit: Hit) => hit.at + hit.push;

/**
 * How far before the start of its pattern a hit may sound. What belongs to the first step may come
 * before it: where the pattern comes round, that is at the end of the round before; so no more than
 * half a round. What sounds outside already may stay there, but goes no further.
 */
function earliest(hit: Hit, end: Ticks): Ticks {
  return hit.at === 0 ? -Math.min(PPQ, end / 2) : Math.min(0, soundsAt(hit));
}

function settled(hits: Hit[], wishes: readonly (Wish | undefined)[], end: Ticks): Hit[] {
  const order = soundOrder(hits);
  const places = order.map((i) => wishes[i]?.position ?? soundsAt(hits[i]));
  let low = -Infinity;
  order.forEach((i, n) => {
    if (wishes[i]) places[n] = Math.max(low, earliest(hits[i], end), places[n]);
    low = places[n];
  });
  let high = Math.max(end - 1, soundsAt(hits[order[order.length - 1]]));
  for (let n = order.length - 1; n >= 0; n--) {
    if (wishes[order[n]]) places[n] = Math.min(high, places[n]);
    high = places[n];
  }
  const result = [...hits];
  let changed = false;
  order.forEach((i, n) => {
    const wish = wishes[i];
    if (!wish) return;
    const hit = hits[i];
    const at = wish.at !== undefined && places[n] === wish.position ? wish.at : hit.at;
    const push = bounded(tidy(places[n] - at));
    const { velocity = hit.velocity } = wish;
    if (at === hit.at && push === tidy(hit.push) && velocity === hit.velocity) return;
    changed = true;
    result[i] = { ...hit, at, push, velocity };
  });
  return changed ? inStepOrder(result) : hits;
}

/** Which hit sounds first, second ...: nearly always the order they are in. */
function soundOrder(hits: readonly Hit[]): number[] {
  const order = hits.map((_, i) => i);
  const sorted = hits.every((hit, i) => i === 0 || soundsAt(hits[i - 1]) <= soundsAt(hit));
  return sorted ? order : order.sort((a, b) => soundsAt(hits[a]) - soundsAt(hits[b]) || a - b);
}

/** No hit strays further from its step than a song can hold. */
function bounded(push: Ticks): Ticks {
  const [low, high] = HIT_LIMITS.push;
  return Math.max(low, Math.min(high, push));
}

/** Sums of fractions leave crumbs far below a sample: they are no push. */
function tidy(push: Ticks): Ticks {
  return Math.round(push * 1e6) / 1e6;
}
