import {
  GHOST_BELOW,
  pieceOf,
  type Hit,
  type Kit,
  type KitPiece,
  type Pattern,
  type PieceId,
} from '../model';
import { inMeter, unlooped } from '../pattern';
import {
  barTicks,
  meterName,
  PPQ,
  pulseTicks,
  sameMeter,
  type Bpm,
  type Meter,
  type Ticks,
} from '../time';
import { strengthOf } from './strength';

/** Grooves, fills and endings of one feel, as the library ships them or as they were read. */
export interface DraftFamily {
  name: string;
  bpm: Bpm;
  patterns: readonly Pattern[];
}

/** A stroke as a family plays it somewhere in a bar. */
export interface PoolStroke {
  piece: PieceId;
  /** Ticks from the start of the bar. */
  at: Ticks;
  /** One such stroke, to be played like. */
  hit: Hit;
  /** In which share of the bars of the family it is, 0 to 1. */
  share: number;
  /** The name of the busiest groove that it was seen in. */
  seen: string;
}

/** What a family offers in one meter, measured. */
export interface Pool {
  family: string;
  meter: Meter;
  /** From the least busy to the busiest. */
  grooves: readonly Pattern[];
  fills: readonly Pattern[];
  /** Its own first, then those of families like it. */
  endings: readonly Pattern[];
  strokes: readonly PoolStroke[];
  /** How many strokes of a piece a busy bar of the family has, where it has any. */
  most: ReadonlyMap<PieceId, number>;
  /** Strokes a quarter note, of a quiet groove and of a busy one. */
  density: readonly [low: number, high: number];
  /** Mean velocity with hardly any energy, and with all of it. */
  loudness: readonly [low: number, high: number];
  /** Its beats are divided by three. */
  threes: boolean;
  /** On moments of these strengths its hats open (`strengthOf`); empty where they never do. */
  opensOn: ReadonlySet<number>;
  /** Fills of the families that are most like it. */
  nearFills: readonly Pattern[];
}

/** A pool, and what was asked for and could not be had. */
export interface Drawn {
  pool: Pool;
  /** “Bossa has no 7/8: Seven is played instead.” */
  says?: string;
}

const pools = new WeakMap<readonly DraftFamily[], Map<string, Drawn>>();

/**
 * What a family offers in a meter. Where it has no groove in it, the family most like it that has takes its place, if
 * it divides its beats and is struck likewise; where there is none, its own grooves are cut to the meter. Measured
 * once for each list of families.
 */
export function poolFor(families: readonly DraftFamily[], name: string, meter: Meter): Drawn {
  let known = pools.get(families);
  if (!known) pools.set(families, (known = new Map()));
  const key = `${name} ${meterName(meter)}`;
  let drawn = known.get(key);
  if (!drawn) known.set(key, (drawn = draw(families, name, meter)));
  return drawn;
}

const groovesIn = ({ patterns }: DraftFamily, meter: Meter) =>
  patterns.filter((pattern) => pattern.kind === 'groove' && sameMeter(pattern.meter, meter));

function draw(families: readonly DraftFamily[], name: string, meter: Meter): Drawn {
  const asked = families.find((family) => family.name === name);
  const wanted = asked ?? families[0];
  if (!wanted) return { pool: poolOf({ name, bpm: 120, patterns: [] }, meter) };
  const missing = asked
    ? undefined
    : `There is no family “${name}”: ${wanted.name} is played instead.`;
  const near = nearestTo(wanted, families);
  const lent = near
    .filter(({ patterns }) => patterns.some((one) => sameMeter(one.meter, meter)))
    .slice(0, NEAR_FAMILIES)
    .flatMap(({ patterns }) => patterns)
    .filter((one) => sameMeter(one.meter, meter));
  if (groovesIn(wanted, meter).length > 0) {
    return { pool: poolOf(wanted, meter, lent), ...(missing && { says: missing }) };
  }
  const said = meterName(meter);
  const instead = near.find((family) => groovesIn(family, meter).length >= 4);
  if (instead) {
    const says = `${wanted.name} has no ${said}: ${instead.name} is played there instead.`;
    return { pool: poolOf(instead, meter, lent), says: missing ?? says };
  }
  const cut = wanted.patterns.map((pattern) => inMeter(pattern, meter, 'cut'));
  const says = `No feel like ${wanted.name} has ${said}: its bars are cut to it.`;
  return { pool: poolOf({ ...wanted, patterns: cut }, meter, lent), says: missing ?? says };
}

/** From how many families fills and endings are lent. */
const NEAR_FAMILIES = 3;
/** Families that are touched more unlike than this, in velocity, do not stand in for each other. */
const TOUCH = 24;

/** The pulse, touch, density and pieces of a family: families that differ in them do not stand in for each other. */
interface Character {
  /** Its beats are divided by three. */
  threes: boolean;
  /** The mean velocity. */
  touch: number;
  /** Strokes a quarter note. */
  density: number;
  /** The share of its strokes on each piece. */
  pieces: ReadonlyMap<PieceId, number>;
}

const characters = new WeakMap<DraftFamily, Character>();

function characterOf(family: DraftFamily): Character {
  let character = characters.get(family);
  if (character) return character;
  const grooves = family.patterns.filter(({ kind }) => kind === 'groove');
  const counts = new Map<PieceId, number>();
  let [sum, hits, beats] = [0, 0, 0];
  for (const groove of grooves) {
    beats += groove.length / PPQ;
    for (const { piece, hits: list } of groove.strands) {
      counts.set(piece, (counts.get(piece) ?? 0) + list.length);
      hits += list.length;
      for (const { velocity } of list) sum += velocity;
    }
  }
  character = {
    threes: inThrees(grooves),
    touch: sum / Math.max(1, hits),
    density: hits / Math.max(1, beats),
    pieces: new Map([...counts].map(([piece, count]) => [piece, count / Math.max(1, hits)])),
  };
  characters.set(family, character);
  return character;
}

/** Whether beats are mostly divided by three: by where the strokes lie that are on no quarter of a beat. */
function inThrees(grooves: readonly Pattern[]): boolean {
  let [three, four] = [0, 0];
  for (const { meter, strands } of grooves) {
    const pulse = pulseTicks(meter);
    for (const { hits } of strands) {
      for (const { at } of hits) {
        const share = (at / pulse) % 1;
        const off = (parts: number) => Math.abs(share * parts - Math.round(share * parts)) / parts;
        if (share < 0.02 || share > 0.98) continue;
        if (off(3) < 0.02) three++;
        else if (off(4) < 0.02) four++;
      }
    }
  }
  return three > four;
}

/** The families that could stand in for one, the most like it first: they divide beats and are struck likewise. */
function nearestTo(wanted: DraftFamily, families: readonly DraftFamily[]): DraftFamily[] {
  const own = characterOf(wanted);
  const off = (family: DraftFamily) => {
    const other = characterOf(family);
    const pieces = new Set([...own.pieces.keys(), ...other.pieces.keys()]);
    let unlike = 0;
    for (const piece of pieces) {
      unlike += Math.abs((own.pieces.get(piece) ?? 0) - (other.pieces.get(piece) ?? 0));
    }
    return (
      unlike +
      Math.abs(own.touch - other.touch) / TOUCH +
      Math.abs(Math.log2(other.density / own.density)) +
      Math.abs(Math.log2(family.bpm / wanted.bpm))
    );
  };
  return families
    .filter((family) => {
      const other = characterOf(family);
      return (
        family !== wanted &&
        other.threes === own.threes &&
        Math.abs(other.touch - own.touch) <= TOUCH
      );
    })
    .map((family) => ({ family, off: off(family) }))
    .sort((a, b) => a.off - b.off)
    .map(({ family }) => family);
}

/** The bars of a pattern: the strokes of each, as they are counted from its start. */
export function barsOfPattern(pattern: Pattern): { piece: PieceId; at: Ticks; hit: Hit }[][] {
  const bar = barTicks(pattern.meter);
  const count = Math.max(1, Math.ceil(pattern.length / bar - 1e-6));
  const bars = Array.from({ length: count }, (): { piece: PieceId; at: Ticks; hit: Hit }[] => []);
  for (const strand of pattern.strands) {
    for (const hit of unlooped(pattern, strand)) {
      const n = Math.min(count - 1, Math.floor(hit.at / bar));
      bars[n].push({ piece: strand.piece, at: hit.at - n * bar, hit });
    }
  }
  for (const list of bars) list.sort((a, b) => a.at - b.at);
  return bars;
}

const hitsOf = ({ strands }: Pattern) => strands.flatMap(({ hits }) => hits);
const densityOf = (pattern: Pattern) => (hitsOf(pattern).length * PPQ) / pattern.length;
const meanVelocityOf = (pattern: Pattern) => {
  const hits = hitsOf(pattern);
  return hits.length > 0 ? hits.reduce((sum, { velocity }) => sum + velocity, 0) / hits.length : 80;
};

/** The value that a share of some numbers lies below. */
function quantile(numbers: readonly number[], share: number): number {
  if (numbers.length === 0) return 0;
  const sorted = [...numbers].sort((a, b) => a - b);
  const at = share * (sorted.length - 1);
  const low = Math.floor(at);
  return sorted[low] + (sorted[Math.min(sorted.length - 1, low + 1)] - sorted[low]) * (at - low);
}

function poolOf(
  { name, patterns }: DraftFamily,
  meter: Meter,
  lent: readonly Pattern[] = [],
): Pool {
  const kind = (wanted: Pattern['kind']) => patterns.filter((one) => one.kind === wanted);
  const grooves = kind('groove')
    .filter((one) => sameMeter(one.meter, meter))
    .sort((a, b) => densityOf(a) - densityOf(b));
  const strokes = new Map<string, PoolStroke & { bars: number }>();
  const counts = new Map<PieceId, number[]>();
  let bars = 0;
  for (const groove of grooves) {
    for (const bar of barsOfPattern(groove)) {
      bars++;
      const here = new Set<string>();
      for (const piece of new Set(bar.map((stroke) => stroke.piece))) {
        const list = counts.get(piece) ?? counts.set(piece, []).get(piece)!;
        list.push(bar.filter((stroke) => stroke.piece === piece).length);
      }
      for (const { piece, at, hit } of bar) {
        const key = `${piece} ${hit.articulation} ${Math.round(at)}`;
        if (here.has(key)) continue;
        here.add(key);
        const known = strokes.get(key);
        if (known) known.bars++;
        else strokes.set(key, { piece, at, hit, bars: 1, share: 0, seen: groove.name });
      }
    }
  }
  const measured = grooves.length > 0 ? grooves : kind('groove');
  const densities = measured.map(densityOf);
  const means = measured.map(meanVelocityOf);
  const middle = quantile(means, 0.5) || 80;
  return {
    family: name,
    meter,
    grooves,
    fills: kind('fill'),
    endings: [...kind('ending'), ...lent.filter((one) => one.kind === 'ending')].filter((one) =>
      sameMeter(one.meter, meter),
    ),
    strokes: [...strokes.values()].map(({ bars: seen, ...one }) => ({
      ...one,
      share: seen / bars,
    })),
    most: new Map([...counts].map(([piece, list]) => [piece, Math.round(quantile(list, 0.85))])),
    density: [0.85 * quantile(densities, 0.1) || 1, quantile(densities, 0.92) || 4],
    // Hands go softer and harder than in any one groove, where the feel is loud throughout too.
    loudness: [
      Math.max(28, Math.min(quantile(means, 0.1) - 8, 0.82 * middle, 84)),
      Math.min(112, Math.max(quantile(means, 0.9), middle + 6)),
    ],
    threes: inThrees(measured),
    opensOn: openingOf(measured),
    nearFills: lent.filter((one) => one.kind === 'fill'),
  };
}

/** On which strengths the hats of some grooves open: those that most of their open strokes are on. */
function openingOf(grooves: readonly Pattern[]): ReadonlySet<number> {
  const counts = new Map<number, number>();
  let all = 0;
  for (const groove of grooves) {
    for (const { piece, at, hit } of barsOfPattern(groove).flat()) {
      if (piece !== 'hihat' || !['open', 'half-open'].includes(hit.articulation)) continue;
      const strength = strengthOf(at, groove.meter);
      counts.set(strength, (counts.get(strength) ?? 0) + 1);
      all++;
    }
  }
  return new Set([...counts].flatMap(([strength, n]) => (n >= 0.2 * all ? [strength] : [])));
}

/** Pieces that can keep time: cymbals that ring on, hats, and in some feels a floor tom or hand percussion. */
export function keepsTime(piece: PieceId, articulation: string, kit: Kit): boolean {
  if (articulation === 'pedal') return false;
  const { family } = pieceOf(piece, kit);
  return family === 'hats' || (family === 'cymbals' && piece.startsWith('ride'));
}

/** The pieces of a kit that time can be asked to be kept on: hats, rides, floor toms, hand percussion. */
export const canKeepTime = ({ pieces }: Kit): KitPiece[] =>
  pieces.filter(
    ({ id, family }) =>
      family === 'hats' || id.startsWith('ride') || id.includes('floor') || family === 'percussion',
  );

/** The piece that keeps time in a groove: of those that can, the one struck most; else a drum struck on each beat. */
export function timekeeperOf(groove: Pattern, kit: Kit): PieceId | undefined {
  let best: { piece: PieceId; count: number } | undefined;
  for (const { piece, hits } of groove.strands) {
    const { family } = pieceOf(piece, kit);
    const steady = hits.filter(({ articulation }) => articulation !== 'pedal').length;
    const count =
      family === 'hats' || family === 'cymbals'
        ? 2 * steady
        : family === 'toms' || family === 'percussion'
          ? steady
          : 0;
    if (count > (best?.count ?? 1)) best = { piece, count };
  }
  return best?.piece;
}

export const isGhost = ({ velocity }: Pick<Hit, 'velocity'>) => velocity < GHOST_BELOW;

/** Crashes, chinas and splashes: cymbals that are struck for one moment. */
export const isCrash = (piece: PieceId) => /^(crash|china|splash)/.test(piece);
