import {
  articulationOf,
  GHOST_BELOW,
  pieceOf,
  type DraftWishes,
  type Hit,
  type Kit,
  type PieceId,
} from '../model';
import { chance } from '../random';
import {
  barTicks,
  PPQ,
  pulseTicks,
  pushOfMs,
  toVelocity,
  type Bpm,
  type Meter,
  type Ticks,
} from '../time';
import { isBackbeat, plainHit, saidBeat, strengthOf, type Rung } from './ladder';
import { hasPiece } from './onKit';
import { isGhost, type Pool } from './pool';

/** A stroke of a draft, and why it is there. */
export interface DraftStroke {
  piece: PieceId;
  at: Ticks;
  hit: Hit;
  says: string;
  /** It keeps time. */
  time?: true;
}

/** How much and how loud a feel is played, from no energy to all of it. */
export interface Range {
  /** Strokes a quarter note. */
  density: readonly [low: number, high: number];
  loudness: readonly [low: number, high: number];
}

/** What a bar is played with. */
export interface BarMeans {
  wishes: DraftWishes;
  range: Range;
  kit: Kit;
  meter: Meter;
  bpm: Bpm;
  seed: number;
  /** Machines do not stray. */
  machine: boolean;
}

/** Energy from which another piece takes the time over, and hats open half and wholly. */
const HIGH = 0.64;
const HALF_OPEN = 0.7;
/** Energy up to which a backbeat is played on the rim, where it turns to the drum. */
const STICK_BELOW = 0.5;

const lerp = ([low, high]: readonly [number, number], share: number) => low + (high - low) * share;

/** What is wished for the backbeat and the time, written into a ladder. */
export function wishedLadder(ladder: readonly Rung[], means: BarMeans): readonly Rung[] {
  const { wishes, kit } = means;
  const has = hasPiece(kit, wishes.without);
  let rungs = ladder;
  if (wishes.backbeat !== 'as the feel' && has('snare')) rungs = onBackbeat(rungs, means);
  const { time } = wishes;
  if (time !== 'feel' && has(time)) {
    rungs = distinct(
      rungs.map((rung) =>
        rung.time && rung.piece !== time ? { ...rung, ...revoiced(rung, time, kit) } : rung,
      ),
    );
  }
  const { highTime } = wishes;
  if (highTime && has(highTime)) {
    // Where it takes the time over, it is struck once.
    const times = new Set(rungs.filter((one) => one.time).map(({ at }) => Math.round(at)));
    rungs = rungs.filter(
      ({ piece, at, time: keeps }) => keeps || piece !== highTime || !times.has(Math.round(at)),
    );
  }
  return rungs;
}

function revoiced({ hit }: Rung, piece: PieceId, kit: Kit): Pick<Rung, 'piece' | 'hit' | 'says'> {
  const said = pieceOf(piece, kit).name.toLowerCase();
  return {
    piece,
    hit: { ...hit, articulation: articulationOf(piece, hit.articulation, kit).id },
    says: `the ${said} keeps time, as you wished`,
  };
}

/** One stroke a piece and step: the one that comes in first. */
function distinct(rungs: readonly Rung[]): Rung[] {
  const taken = new Set<string>();
  return rungs.filter(({ piece, at }) => {
    const key = `${piece} ${Math.round(at)}`;
    return !taken.has(key) && taken.add(key);
  });
}

/** Where the backbeat falls in a bar, in ticks. */
export function backbeatsOf(backbeat: DraftWishes['backbeat'], meter: Meter): Ticks[] {
  const pulse = pulseTicks(meter);
  const beats = Math.max(1, Math.round(barTicks(meter) / pulse));
  const all = Array.from({ length: beats }, (_, beat) => beat);
  switch (backbeat) {
    case '2 and 4':
      return all.filter((beat) => beat % 2 === 1).map((beat) => beat * pulse);
    case '3':
      return [Math.floor(beats / 2) * pulse];
    case 'every beat':
      return all.map((beat) => beat * pulse);
    default:
      return [];
  }
}

function onBackbeat(ladder: readonly Rung[], { wishes, kit, meter }: BarMeans): Rung[] {
  const is = ({ piece, hit, at }: Rung) => isBackbeat(piece, hit, at, meter);
  const template = ladder.find(is)?.hit ?? plainHit('snare', 104, kit, 'centre');
  const wanted = backbeatsOf(wishes.backbeat, meter).map((at): Rung => ({
    piece: 'snare',
    at,
    hit: { ...template, at, articulation: articulationOf('snare', template.articulation, kit).id },
    rank: -0.9,
    says: `backbeat on ${saidBeat(at, meter)}, as you wished`,
  }));
  const rest = ladder.filter(
    (rung) =>
      !is(rung) &&
      !wanted.some(({ at }) => rung.piece === 'snare' && Math.abs(at - rung.at) < PPQ / 8),
  );
  return [...wanted, ...rest].sort((a, b) => a.rank - b.rank || a.at - b.at);
}

/** How many strokes a bar has. */
function strokesAt(energy: number, { range, meter }: BarMeans): number {
  return Math.round((lerp(range.density, energy) * barTicks(meter)) / PPQ);
}

/**
 * A bar of a ladder: so many strokes from its bottom as the energy asks for, as loud in the mean as it asks for,
 * each played as hands play. With the same means, more energy never has fewer strokes, nor softer ones.
 * @param bar which one it is, for the chance in its strokes
 * @param energy 0 to 1
 */
export function barOf(
  ladder: readonly Rung[],
  energy: number,
  bar: string,
  means: BarMeans,
): DraftStroke[] {
  const { wishes, bpm, seed, machine, range } = means;
  const loose = machine ? 0 : wishes.loose;
  const chosen = ladder.slice(0, strokesAt(energy, means));
  // A groove whose hats open and close by themselves keeps doing so.
  const opens =
    wishes.opens &&
    !ladder.some(
      ({ piece, hit }) => piece === 'hihat' && ['open', 'half-open'].includes(hit.articulation),
    );
  const voicing = { ...means, wishes: { ...wishes, opens } };
  const strokes = chosen.map((rung): DraftStroke => {
    const { piece, at, hit, says, time } = voicedAt(rung, energy, voicing);
    // Three throws of the dice: near the middle mostly.
    const stray = (what: string) =>
      ((chance(seed, what, bar, piece, at) +
        chance(seed, what, bar, at, piece) +
        chance(seed, bar, what, piece, at)) *
        2) /
        3 -
      1;
    const ms = 14 * loose * stray('time') + (machine ? 0 : wishes.late);
    return {
      piece,
      at,
      hit: {
        ...hit,
        push: hit.push + Math.round(pushOfMs(ms, bpm)),
        velocity: hit.velocity + 14 * loose * stray('loud'),
      },
      says,
      ...(time && { time }),
    };
  });
  const soft = 2 * ladder.filter(({ hit }) => isGhost(hit)).length > ladder.length;
  return levelled(strokes, lerp(range.loudness, energy), soft);
}

/** How a rung is voiced where energy is so high. */
function voicedAt(rung: Rung, energy: number, { wishes, kit, meter }: BarMeans): Rung {
  const has = hasPiece(kit, wishes.without);
  const { highTime, opens, stroke } = wishes;
  if (rung.time && highTime && energy >= HIGH && has(highTime) && rung.piece !== highTime) {
    const said = pieceOf(highTime, kit).name.toLowerCase();
    const hit = { ...rung.hit, articulation: articulationOf(highTime, '', kit).id };
    return {
      ...rung,
      piece: highTime,
      hit,
      says: `the ${said} takes the time over: energy is high`,
    };
  }
  if (rung.time && opens && rung.piece === 'hihat' && rung.hit.articulation === 'closed') {
    const half = energy >= HALF_OPEN && strengthOf(rung.at, meter) < (energy > 0.85 ? 4 : 3);
    const { articulations } = pieceOf('hihat', kit);
    if (half && articulations.some(({ id }) => id === 'half-open')) {
      const says = 'the hat opens: energy is high';
      return { ...rung, hit: { ...rung.hit, articulation: 'half-open' }, says };
    }
  }
  if (stroke !== 'as the feel' && rung.piece === 'snare') {
    if (!isBackbeat(rung.piece, rung.hit, rung.at, meter)) return rung;
    const rim = stroke === 'side stick' || (stroke === 'stick, then drum' && energy < STICK_BELOW);
    const articulation = articulationOf('snare', rim ? 'side-stick' : 'centre', kit).id;
    if (articulation === rung.hit.articulation) return rung;
    return { ...rung, hit: { ...rung.hit, articulation } };
  }
  return rung;
}

/**
 * Strokes so much louder or softer that their mean is as wanted; ghost notes stay ghosts.
 * @param soft the feel is soft throughout: its strokes are no ghosts
 */
function levelled(strokes: readonly DraftStroke[], wanted: number, soft: boolean): DraftStroke[] {
  if (strokes.length === 0) return [];
  const at = (by: number) => (hit: Hit) =>
    soft
      ? Math.max(8, toVelocity(hit.velocity + by))
      : isGhost(hit)
        ? Math.max(10, Math.min(GHOST_BELOW - 2, toVelocity(hit.velocity + 0.25 * by)))
        : Math.max(GHOST_BELOW, toVelocity(hit.velocity + by));
  const mean = (by: number) => {
    const play = at(by);
    return strokes.reduce((sum, { hit }) => sum + play(hit), 0) / strokes.length;
  };
  let [low, high] = [-100, 100];
  for (let i = 0; i < 12; i++) {
    const middle = (low + high) / 2;
    if (mean(middle) < wanted) low = middle;
    else high = middle;
  }
  const play = at(high);
  return strokes.map((stroke) => ({
    ...stroke,
    hit: { ...stroke.hit, velocity: play(stroke.hit) },
  }));
}

/** Whether the grooves of a pool are played by a machine: none of their strokes leans or strays. */
export const isMachine = ({ grooves }: Pool) =>
  grooves.every(({ strands }) => strands.every(({ hits }) => hits.every(({ push }) => push === 0)));
