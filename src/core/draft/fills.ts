import { articulationOf, pieceOf, type Hit, type Kit, type Pattern, type PieceId } from '../model';
import { chance } from '../random';
import { barTicks, DEFAULT_STEP, PPQ, pulseTicks, type Meter, type Ticks } from '../time';
import type { Pool } from './pool';
import { patternFrom, type Written } from './written';

/** How many fills of one length there are to draw from, calm and busy ones each. */
const MOST = 24;

/** The lengths a fill may have in a meter, ascending: half a beat, one to three beats, one bar, two bars. */
export function fillLengths(meter: Meter): Ticks[] {
  const [pulse, bar] = [pulseTicks(meter), barTicks(meter)];
  const beats = [0.5, 1, 2, 3].map((count) => count * pulse).filter((length) => length < bar - 1);
  return [...beats, bar, 2 * bar];
}

/**
 * How long a fill is for a change of energy: the bigger the step up, the longer the run-up.
 * @param change of energy, -1 to 1
 * @param longest ticks that it may last
 */
export function fillLength(change: number, meter: Meter, longest: Ticks): Ticks {
  const lengths = fillLengths(meter);
  const bars = lengths.length - 2;
  const wanted =
    change >= 0.35
      ? bars + 1
      : change >= 0.2
        ? bars
        : change >= 0.1
          ? 3
          : change >= 0.03
            ? 2
            : change >= -0.03
              ? 1
              : 0;
  const can = lengths.filter((length) => length <= longest + 1);
  return can[Math.min(wanted, can.length - 1)] ?? lengths[0];
}

/** Fills of one length, those with fewer strokes and those with more. */
export interface Fills {
  calm: readonly Pattern[];
  busy: readonly Pattern[];
}

const known = new WeakMap<Pool, Map<Ticks, Fills>>();

/**
 * The fills of a length for a feel, no two alike: those of its family, the ends of its longer ones, those of
 * families near to it, and others made by rule. Always the same for the same feel.
 * @param kit the one that the pool was measured on
 */
export function fillsFor(pool: Pool, length: Ticks, kit: Kit): Fills {
  let lists = known.get(pool);
  if (!lists) known.set(pool, (lists = new Map()));
  let fills = lists.get(length);
  if (!fills) lists.set(length, (fills = gathered(pool, length, kit)));
  return fills;
}

function gathered(pool: Pool, length: Ticks, kit: Kit): Fills {
  const lengths = fillLengths(pool.meter);
  const shorter = lengths.findLast((one) => one < length - 1) ?? 0;
  const seen = new Set<string>();
  const all: Pattern[] = [];
  const add = (list: readonly Pattern[], most: number) => {
    for (const fill of list) {
      const sign = fillSign(fill);
      if (most <= 0) return;
      if (sign === '' || seen.has(sign)) continue;
      seen.add(sign);
      all.push(fill);
      most--;
    }
  };
  add(asLong(pool.fills, shorter, length), MOST);
  add(asLong(pool.nearFills, shorter, length), MOST / 2);
  add(ruledFills(pool, length, kit, 6 * MOST), 2 * MOST - all.length);
  // In halves by how busy they are, and within each half in an order of chance.
  const count = ({ strands }: Pattern) => strands.reduce((sum, { hits }) => sum + hits.length, 0);
  const sorted = all
    .map((fill, i) => ({ fill, count: count(fill), luck: chance('fills', pool.family, length, i) }))
    .sort((a, b) => a.count - b.count || a.luck - b.luck);
  const half = (from: number, to: number) =>
    sorted
      .slice(from, to)
      .sort((a, b) => a.luck - b.luck)
      .map(({ fill }) => fill);
  const middle = Math.ceil(sorted.length / 2);
  return { calm: half(0, middle), busy: half(middle, sorted.length) };
}

/** The strokes of a fill counted from its end: fills with the same sign sound alike. */
export const fillSign = ({ strands, length }: Pattern): string =>
  strands
    .flatMap(({ piece, hits }) =>
      hits.map(({ at, articulation }) => `${piece} ${Math.round(at - length)} ${articulation}`),
    )
    .sort()
    .join();

/** Of some fills those of a length, and the ends of longer ones. */
function asLong(fills: readonly Pattern[], shorter: Ticks, length: Ticks): Pattern[] {
  const own = fills.filter((fill) => fill.length > shorter + 1 && fill.length <= length + 1);
  const ends = fills.flatMap((fill) => {
    if (fill.length <= length + 1) return [];
    const end = endOf(fill, length);
    // It is to begin where it is laid.
    return end.strands.some(({ hits }) => hits.some(({ at }) => at < PPQ / 8)) ? [end] : [];
  });
  return [...own, ...ends].filter(({ strands }) => strands.some(({ hits }) => hits.length > 0));
}

function endOf(fill: Pattern, length: Ticks): Pattern {
  const from = fill.length - length;
  const strands = fill.strands.flatMap((strand) => {
    const hits = strand.hits.filter(({ at }) => at >= from - 1);
    return hits.length === 0
      ? []
      : [{ ...strand, hits: hits.map((hit) => ({ ...hit, at: Math.max(0, hit.at - from) })) }];
  });
  return { ...fill, length, strands };
}

/** Where the strokes of a beat fall, in shares of it: in halves and quarters, or in threes. */
const CELLS: Readonly<Record<'even' | 'threes', readonly (readonly number[])[]>> = {
  even: [
    [0, 0.25, 0.5, 0.75],
    [0, 0.5],
    [0, 0.25, 0.5],
    [0, 0.5, 0.75],
    [0, 0.75],
    [0, 0.25, 0.75],
    [0.25, 0.5, 0.75],
    [0.5, 0.75],
  ],
  threes: [
    [0, 1 / 3, 2 / 3],
    [0, 2 / 3],
    [0, 1 / 3],
    [1 / 3, 2 / 3],
    [0],
    [0, 1 / 6, 1 / 3, 1 / 2, 2 / 3, 5 / 6],
  ],
};

/** How a fill goes over the drums. @param share how far it is, 0 to 1. @param n which stroke, @param onBeat on a beat */
type Orchestration = (drums: number, share: number, n: number, onBeat: boolean) => number | 'kick';

/** Drums are counted from the highest, the snare is 0. */
const ORCHESTRATIONS: readonly Orchestration[] = [
  () => 0,
  (drums, share) => Math.min(drums - 1, Math.floor(share * drums)),
  (drums, _share, n) => (n % 4 < 2 ? 0 : drums - 1),
  (drums, share) => Math.max(0, drums - 1 - Math.floor(share * drums)),
  (drums, share, n) => (n % 3 === 2 ? 'kick' : Math.min(drums - 1, Math.floor(share * drums))),
  (drums, _share, n, onBeat) => (onBeat ? drums - 1 : n % 2 === 0 ? 0 : Math.min(1, drums - 1)),
  (drums, share, _n, onBeat) => (onBeat ? 0 : Math.min(drums - 1, 1 + Math.floor(share * drums))),
  (drums, share, n) => (n % 4 === 3 ? 'kick' : share < 0.5 ? 0 : drums - 1),
];

/** The ways in which a fill ends. */
const ENDINGS = ['runs out', 'stops', 'two kicks', 'two hands'] as const;

/** Fills made of a rhythm, an orchestration and an ending that are drawn apart. */
function ruledFills(pool: Pool, length: Ticks, kit: Kit, tries: number): Pattern[] {
  const drums = drumsOf(pool, kit);
  if (drums.length === 0) return [];
  const { meter } = pool;
  const pulse = pulseTicks(meter);
  const three = pool.threes || Math.abs(pulse / PPQ - 1.5) < 0.01;
  const cells = three ? CELLS.threes : CELLS.even;
  const hasKick = pool.most.has('kick');
  return Array.from({ length: tries }, (_, n) => {
    const draw = <T>(what: string, of: readonly T[]): T =>
      of[Math.floor(chance('rule', pool.family, length, what, n) * of.length)];
    const [first, second] = [draw('first', cells), draw('second', cells)];
    const last = draw('last', cells);
    const over = draw('over', ORCHESTRATIONS);
    const ending = draw('ending', ENDINGS);
    const beats = Math.max(1, Math.ceil(length / pulse - 1e-6));
    const times: { at: Ticks; onBeat: boolean }[] = [];
    for (let beat = 0; beat < beats; beat++) {
      const cell = beat === beats - 1 && beats > 1 ? last : beat % 2 === 0 ? first : second;
      for (const share of cell) {
        // Beats are counted from the end: what is less than one is at the start.
        const at = Math.round(length - (beats - beat - share) * pulse);
        if (at >= 0) times.push({ at, onBeat: share === 0 });
      }
    }
    if (!times.some(({ at }) => at === 0)) times.unshift({ at: 0, onBeat: true });
    const step = three ? pulse / 3 : pulse / 4;
    const kept = ending === 'stops' ? times.filter(({ at }) => at < length - 1.5 * step) : times;
    const strokes = kept.flatMap(({ at, onBeat }, i): Written[] => {
      const where = over(drums.length, at / length, i, onBeat);
      const late = ending === 'two kicks' && at >= length - 2 * step - 1;
      const velocity = onBeat ? 112 : i % 2 === 0 ? 102 : 92;
      const kick = (where === 'kick' || late) && hasKick;
      const piece = kick ? 'kick' : drums[where === 'kick' ? 0 : where];
      const both =
        ending === 'two hands' && onBeat && drums.length > 1 && !kick && at >= length - pulse - 1;
      return [
        { piece, at, hit: stroke(piece, at, velocity, kit) },
        ...(both && piece !== drums.at(-1)
          ? [{ piece: drums.at(-1)!, at, hit: stroke(drums.at(-1)!, at, velocity, kit) }]
          : []),
      ];
    });
    return patternFrom(
      { id: `rule-${n}`, name: 'Fill', kind: 'fill', meter, length, step: DEFAULT_STEP, dye: 0 },
      strokes,
      kit,
    );
  });
}

const stroke = (piece: PieceId, at: Ticks, velocity: number, kit: Kit): Hit => ({
  id: '',
  at,
  push: 0,
  velocity,
  articulation: articulationOf(piece, '', kit).id,
});

/** The drums that a family fills on, from the snare down: those of its fills, or else of its grooves. */
function drumsOf(pool: Pool, kit: Kit): PieceId[] {
  const isDrum = (piece: PieceId) =>
    ['snare', 'toms', 'percussion'].includes(pieceOf(piece, kit).family);
  const of = (patterns: readonly Pattern[]) =>
    new Set(patterns.flatMap(({ strands }) => strands.map(({ piece }) => piece)).filter(isDrum));
  const own = of(pool.fills);
  const used = own.size > 0 ? own : of(pool.grooves);
  return kit.pieces.flatMap(({ id }) => (used.has(id) ? [id] : [])).sort(byHeight);
}

/** Snare first, then toms from the highest, then the rest. */
const HEIGHT = ['snare', 'tom-high', 'tom-hi-mid', 'tom-low-mid', 'tom-low', 'tom-high-floor'];
const byHeight = (a: PieceId, b: PieceId) => heightOf(a) - heightOf(b);
const heightOf = (piece: PieceId) => {
  const at = HEIGHT.indexOf(piece);
  return at < 0 ? HEIGHT.length : at;
};

/** Which of some fills a slot of the song plays. Neighbouring slots, and neighbouring seeds, play different ones. */
export const fillAt = (count: number, slot: number, seed: number): number =>
  count === 0 ? 0 : (slot + seed * (count % 7 === 0 ? 1 : 7)) % count;
