import {
  articulationOf,
  pieceOf,
  spokenPiece,
  type Kit,
  type Pattern,
  type PieceId,
} from '../model';
import { chance } from '../random';
import { barTicks, PPQ, pulseTicks, toVelocity, type Meter, type Ticks } from '../time';
import type { BarPlayed, DraftStroke } from './bar';
import type { FillWanted } from './fillBook';
import { fillLengths } from './fills';
import { plainHit, saidBeat } from './ladder';
import type { Pool } from './pool';

/** What can happen in a bar that ends a phrase. */
export const TURN_KINDS = [
  'open hat',
  'kick pair',
  'push',
  'breath',
  'answer',
  'short fill',
  'fill',
] as const;
export type DraftTurnKind = (typeof TURN_KINDS)[number];

/** What a turn is made with. */
export interface TurnMeans {
  pool: Pool;
  kit: Kit;
  meter: Meter;
  has: (piece: PieceId) => boolean;
  seed: number;
  energy: number;
  /** How many quarter notes a fill may last. */
  longest: number;
  /** Names what the turn is for: “turn of bar 8”. */
  of: string;
  /** Gives a fill. */
  fill: (wanted: FillWanted) => Pattern | undefined;
  /** Signs of the turns before and behind it, as they are heard. */
  unlike: readonly string[];
}

/** A bar with a turn in it. */
export interface Turned {
  strokes: DraftStroke[];
  /** Why: “open hat: turn of bar 8”. */
  says: string;
}

/** A bar with a turn of some kind in it, as it is heard. */
export interface KindOfTurn {
  kind: DraftTurnKind;
  strokes: readonly DraftStroke[];
  says: string;
}

type Rule = (bar: readonly DraftStroke[], means: TurnMeans) => Turned | undefined;

const isTime = (stroke: DraftStroke) => stroke.time === true;
const near = (a: Ticks, b: Ticks) => Math.abs(a - b) < PPQ / 8;

const RULES: Readonly<Record<DraftTurnKind, Rule>> = {
  'open hat'(bar, { kit, meter, of, has }) {
    if (!has('hihat')) return undefined;
    const hats = bar.filter(({ piece, hit }) => piece === 'hihat' && hit.articulation !== 'pedal');
    const last =
      hats.findLast(({ at }) => at % pulseTicks(meter) > PPQ / 8) ??
      (hats.length > 1 && hats.at(-1));
    const open = articulationOf('hihat', 'open', kit);
    if (!last || open.id !== 'open' || last.hit.articulation === 'open') return undefined;
    const says = `open hat on ${saidBeat(last.at, meter)}: ${of}`;
    return {
      says,
      strokes: bar.map((stroke) =>
        stroke === last
          ? {
              ...stroke,
              says,
              hit: {
                ...stroke.hit,
                articulation: 'open',
                velocity: toVelocity(stroke.hit.velocity + 10),
              },
            }
          : stroke,
      ),
    };
  },

  'kick pair'(bar, { kit, meter, of, has, seed }) {
    if (!has('kick')) return undefined;
    const end = barTicks(meter);
    const kicks = bar.filter(({ piece }) => piece === 'kick');
    const free = [end - 480, end - 720, end - 960].filter(
      (at) => at > 0 && !kicks.some((kick) => near(kick.at, at) || near(kick.at, at + 240)),
    );
    if (free.length === 0) return undefined;
    const at = free[Math.floor(chance(seed, 'pair') * free.length)];
    const template = kicks.at(-1)?.hit ?? plainHit('kick', 92, kit, 'beater');
    const says = `two kicks from ${saidBeat(at, meter)}: ${of}`;
    const pair = [at, at + 240].map((tick, i): DraftStroke => ({
      piece: 'kick',
      at: tick,
      hit: { ...template, velocity: toVelocity(template.velocity * (i === 0 ? 0.82 : 1)) },
      says,
    }));
    return { says, strokes: [...bar, ...pair] };
  },

  push(bar, { kit, meter, of, has }) {
    if (!has('snare')) return undefined;
    const end = barTicks(meter);
    const at = end - 240;
    if (bar.some((stroke) => stroke.piece === 'snare' && near(stroke.at, at))) return undefined;
    const template =
      bar.findLast(({ piece, hit }) => piece === 'snare' && hit.velocity >= 60)?.hit ??
      plainHit('snare', 84, kit, 'centre');
    const says = `snare on ${saidBeat(at, meter)} leads over the bar: ${of}`;
    const hit = { ...template, push: 0, velocity: toVelocity(template.velocity * 0.92) };
    return {
      says,
      strokes: [
        ...bar.filter((stroke) => !(isTime(stroke) && near(stroke.at, at))),
        { piece: 'snare', at, hit, says },
      ],
    };
  },

  breath(bar, { meter, of, kit }) {
    const end = barTicks(meter);
    const from = end - pulseTicks(meter);
    const left = bar.filter((stroke) => isTime(stroke) && stroke.at >= from - 1);
    if (left.length === 0 || left.length === bar.filter(isTime).length) return undefined;
    const says = `the ${spokenPiece(left[0].piece, kit)} leaves the last beat open: ${of}`;
    const strokes = bar
      .filter((stroke) => !left.includes(stroke))
      .map((stroke) => (stroke.at >= from - 1 ? { ...stroke, says } : stroke));
    return { says, strokes };
  },

  answer(bar, { kit, meter, of, has, seed }) {
    const tom = ['tom-high-floor', 'tom-low-floor', 'tom-low', 'tom-low-mid'].find(has);
    if (!tom) return undefined;
    const end = barTicks(meter);
    const at = end - (chance(seed, 'answer') < 0.5 ? 480 : 240);
    const says = `${spokenPiece(tom, kit)} answers on ${saidBeat(at, meter)}: ${of}`;
    const loud = bar.reduce((most, { hit }) => Math.max(most, hit.velocity), 60);
    const hit = plainHit(tom, toVelocity(loud * 0.86), kit);
    return {
      says,
      strokes: [
        ...bar.filter((stroke) => !(isTime(stroke) && near(stroke.at, at))),
        { piece: tom, at, hit, says },
      ],
    };
  },

  'short fill': (bar, means) => filled(bar, 1.5, means),
  fill: (bar, means) => filled(bar, means.longest, means),
};

/** Whether hands are needed for a stroke. */
const byHand = ({ piece, hit }: DraftStroke, kit: Kit) =>
  pieceOf(piece, kit).family !== 'kick' && hit.articulation !== 'pedal';

/** Energy from which fills are of the busier ones. */
export const BUSY = 0.55;

function filled(
  bar: readonly DraftStroke[],
  longest: number,
  means: TurnMeans,
): Turned | undefined {
  const { meter, kit, of } = means;
  const whole = barTicks(meter);
  const length = fillLengths(meter).findLast((one) => one <= Math.min(longest * PPQ, whole) + 1);
  if (length === undefined) return undefined;
  const { pool, energy } = means;
  const fill = means.fill({ pool, kit, length, busy: energy >= BUSY });
  if (!fill) return undefined;
  const from = whole - fill.length;
  const says = `${saidFill(fill)}: ${of}`;
  const kicks = fill.strands.some(({ piece }) => piece === 'kick');
  const strokes = fill.strands.flatMap(({ piece, hits }) =>
    hits.map((hit): DraftStroke => ({ piece, at: from + hit.at, hit, says })),
  );
  const kept = bar.filter(
    (stroke) =>
      stroke.at < from - PPQ / 16 || (!byHand(stroke, kit) && (stroke.piece !== 'kick' || !kicks)),
  );
  return { says, strokes: [...kept, ...asLoud(strokes, bar)] };
}

/** “fill of two beats, down the toms”. */
export function saidFill({ length, strands }: Pattern): string {
  const beats = length / PPQ;
  const long =
    beats === 0.5
      ? 'half a beat'
      : beats === 1
        ? 'one beat'
        : Number.isInteger(beats) && beats <= 4
          ? `${['', '', 'two', 'three', 'four'][beats]} beats`
          : `${beats} beats`;
  const toms = strands.filter(
    ({ piece, hits }) => piece.startsWith('tom-') && hits.length > 0,
  ).length;
  return `fill of ${long}${toms > 1 ? ', over the toms' : toms === 1 ? ', into a tom' : ''}`;
}

/** How loud the accents of a bar are: a fill is no softer. */
export function accentOf(bar: readonly DraftStroke[]): number {
  const accents = bar.map(({ hit }) => hit.velocity).sort((a, b) => b - a);
  return accents[Math.floor(accents.length / 5)] ?? 90;
}

const asLoud = (fill: readonly DraftStroke[], bar: readonly DraftStroke[]) =>
  louder(fill, Math.min(122, accentOf(bar) + 3));

/** No stroke of a fill is harder. */
const HARDEST = 124;

/** Strokes brought to a level: their mean is a little below it, accents stand out, and they rise to their end. */
export function louder(fill: readonly DraftStroke[], level: number): DraftStroke[] {
  const mean = fill.reduce((sum, { hit }) => sum + hit.velocity, 0) / Math.max(1, fill.length);
  const [first, last] = [fill[0]?.at ?? 0, fill.at(-1)?.at ?? 0];
  return fill.map((stroke) => {
    const share = last > first ? (stroke.at - first) / (last - first) : 1;
    const accent = Math.max(-10, Math.min(8, 0.4 * (stroke.hit.velocity - mean)));
    const velocity = toVelocity(Math.min(HARDEST, level + accent - 5 + 6 * share));
    return { ...stroke, hit: { ...stroke.hit, velocity } };
  });
}

/** What the ear tells turns apart by. */
export const signOf = (strokes: readonly DraftStroke[]): string =>
  strokes
    .map(({ piece, at, hit }) => `${piece} ${Math.round(at)} ${hit.articulation}`)
    .sort()
    .join();

/**
 * A bar with a turn, unlike some others. Kinds are tried in an order that follows from the seed and the energy:
 * quiet bars get quiet turns. A kind is chosen by what the feel plays, so that a wish does not change which one it is.
 * @param kinds those that may be made
 * @param heard what becomes of strokes before they are heard
 */
export function turnOf(
  bar: BarPlayed,
  means: TurnMeans,
  kinds: readonly DraftTurnKind[],
  heard: (strokes: readonly DraftStroke[]) => readonly DraftStroke[],
): KindOfTurn | undefined {
  const loudness: Readonly<Record<DraftTurnKind, number>> = {
    breath: 0.15,
    'open hat': 0.35,
    push: 0.5,
    'kick pair': 0.55,
    answer: 0.6,
    'short fill': 0.75,
    fill: 0.9,
  };
  const order = kinds
    .map((kind) => ({
      kind,
      rank: Math.abs(loudness[kind] - means.energy) * 0.8 + chance(means.seed, 'turn', kind),
    }))
    .sort((a, b) => a.rank - b.rank);
  const plain = signOf(heard(bar.wished));
  const feel = signOf(bar.plain);
  for (const { kind } of order) {
    const usual = RULES[kind](bar.plain, means);
    if (!usual || signOf(usual.strokes) === feel) continue;
    const turned = RULES[kind](bar.wished, means);
    if (!turned) continue;
    const strokes = heard(turned.strokes);
    const sign = signOf(strokes);
    if (sign !== plain && !means.unlike.includes(sign)) {
      return { kind, strokes, says: turned.says };
    }
  }
  return undefined;
}
