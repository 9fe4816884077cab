import {
  articulationOf,
  findPiece,
  pieceOf,
  spokenPiece,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
} from '../model';
import { chance } from '../random';
import { pulseTicks, PPQ, type Meter, type Ticks } from '../time';
import { strengthOf } from './strength';
import { barsOfPattern, isGhost, timekeeperOf, type Pool } from './pool';

/** A stroke of a bar that a draft may play. */
export interface Rung {
  piece: PieceId;
  /** Ticks from the start of the bar. */
  at: Ticks;
  /** How it is struck. */
  hit: Hit;
  /** When it comes in as energy rises: strokes of a lower rank are there first. Below 0 it is always there. */
  rank: number;
  /** Why it is there. */
  says: string;
  /** It keeps time. */
  time?: true;
}

/** “3&” for where in a bar a stroke falls, as drummers count it. */
export function saidBeat(at: Ticks, meter: Meter): string {
  const pulse = pulseTicks(meter);
  const beat = Math.floor((at + 1) / pulse);
  const rest = (at - beat * pulse) / pulse;
  // Threes are counted “trip let”, halves “and”, quarters “e” and “a”.
  const off =
    rest < 0.09
      ? ''
      : Math.abs(rest - 0.25) < 0.05
        ? 'e'
        : Math.abs(rest - 1 / 3) < 0.05
          ? ' trip'
          : Math.abs(rest - 0.5) < 0.09
            ? '&'
            : Math.abs(rest - 2 / 3) < 0.05
              ? ' let'
              : Math.abs(rest - 0.75) < 0.06
                ? 'a'
                : '+';
  return `${beat + 1}${off}`;
}

/** When a stroke of the source comes in, by how strong its moment is. */
const KICK_RANKS = [-1, 0.02, 0.06, 0.2, 0.34];
const TIME_RANKS = [-0.5, -0.4, -0.3, 0.1, 0.36];
const OTHER_RANKS = [0.05, 0.08, 0.1, 0.22, 0.36];

/**
 * The strokes of one bar of a groove in the order in which energy brings them in: first what it cannot be
 * without (the one, the backbeat, the beats of the time), then the rest of it, then what its family plays there
 * besides. The first so many of them are a thinner groove of the same family, all of them a busier one.
 * @param bar of the source, counted from 0
 */
export function ladderOf(
  source: Pattern,
  bar: number,
  pool: Pool,
  { seed, kit }: { seed: number; kit: Kit },
): Rung[] {
  const { meter } = source;
  const bars = barsOfPattern(source);
  const own = bars[bar % bars.length];
  const timekeeper = timekeeperOf(source, kit);
  const shares = new Map(
    pool.strokes.map((stroke) => [`${stroke.piece} ${Math.round(stroke.at)}`, stroke.share]),
  );
  const rungs = own.map(({ piece, at, hit }): Rung => {
    const common = shares.get(`${piece} ${Math.round(at)}`) ?? 0;
    const time = piece === timekeeper && hit.articulation !== 'pedal';
    const strength = strengthOf(at, meter);
    const jitter = 0.06 * (chance(seed, 'rank', piece, at, bar) - 0.5);
    const { family } = pieceOf(piece, kit);
    const rank = isBackbeat(piece, hit, at, meter)
      ? -0.9
      : isGhost(hit)
        ? 0.34 + 0.16 * (1 - common) + jitter
        : (family === 'kick' ? KICK_RANKS : time ? TIME_RANKS : OTHER_RANKS)[strength] +
          0.12 * (1 - common) +
          jitter;
    const says = saidOwn(piece, hit, { at, meter, time, source: source.name, kit });
    return {
      piece,
      at,
      hit,
      rank: Math.min(0.58, rank),
      says,
      ...(time && { time: true as const }),
    };
  });
  const more = besides(rungs, pool, timekeeper, { seed, bar, kit, meter });
  return [...rungs, ...more].sort((a, b) => a.rank - b.rank || a.at - b.at);
}

/** An accent of the snare, the side stick or the clap on a beat that is not the first. */
export function isBackbeat(piece: PieceId, hit: Hit, at: Ticks, meter: Meter): boolean {
  return (
    (piece === 'snare' || piece === 'clap') &&
    hit.velocity >= 70 &&
    [1, 2].includes(strengthOf(at, meter))
  );
}

function saidOwn(
  piece: PieceId,
  hit: Hit,
  of: { at: Ticks; meter: Meter; time: boolean; source: string; kit: Kit },
): string {
  const name = spokenPiece(piece, of.kit);
  const beat = saidBeat(of.at, of.meter);
  if (isBackbeat(piece, hit, of.at, of.meter)) return `backbeat on ${beat}`;
  if (of.time) return `the ${name} keeps time, as in “${of.source}”`;
  if (isGhost(hit)) return `ghost note between the beats, as in “${of.source}”`;
  return `${name} on ${beat}, as in “${of.source}”`;
}

/** What a family plays in a bar besides the strokes of a groove, as energy rises. */
function besides(
  own: readonly Rung[],
  pool: Pool,
  timekeeper: PieceId | undefined,
  { seed, bar, kit, meter }: { seed: number; bar: number; kit: Kit; meter: Meter },
): Rung[] {
  const taken = new Set(own.map(({ piece, at }) => `${piece} ${Math.round(at)}`));
  const pieces = new Set(own.map(({ piece }) => piece));
  const most = Math.max(4, Math.round(own.length * 0.6));
  const found = pool.strokes.flatMap((stroke): Rung[] => {
    const { piece, at, hit, share, seen } = stroke;
    if (taken.has(`${piece} ${Math.round(at)}`) || !findPiece(piece, kit)) return [];
    const { family } = pieceOf(piece, kit);
    const keeps = family === 'hats' || family === 'cymbals';
    // Another cymbal would be another groove; so would an accent of the snare where none was.
    if (keeps && piece !== timekeeper && hit.articulation !== 'pedal') return [];
    if (hit.articulation === 'pedal' && timekeeper === 'hihat') return [];
    if (piece === 'snare' && !isGhost(hit)) return [];
    // Nor does a piece come in that the groove does not have, but for the kick and ghosts.
    if (!pieces.has(piece) && family !== 'kick' && family !== 'snare') return [];
    if (!pieces.has(piece) && share < 0.12) return [];
    // Kicks a sixteenth apart are played where the family plays them so.
    const beside = own.some((one) => one.piece === piece && Math.abs(one.at - at) < PPQ / 4 + 1);
    if (family === 'kick' && beside && share < 0.15) return [];
    // What is hardly ever played, and what nobody plays in this feel, is left alone.
    const luck = chance(seed, 'besides', piece, at, bar % 2, hit.articulation);
    const rank = 0.58 + 0.42 * (1 - Math.min(1, share * 2.2)) * (0.5 + 0.5 * luck) + 0.04 * luck;
    const says = `${spokenPiece(piece, kit)} on ${saidBeat(at, meter)}: energy brings it in, as in “${seen}”`;
    const time = piece === timekeeper && hit.articulation !== 'pedal';
    return [{ piece, at, hit, rank, says, ...(time && { time: true as const }) }];
  });
  found.sort((a, b) => a.rank - b.rank || a.at - b.at);
  const free = new Set<string>();
  const counts = new Map<PieceId, number>();
  for (const { piece } of own) counts.set(piece, (counts.get(piece) ?? 0) + 1);
  return found
    .filter(({ piece, at }) => {
      const key = `${piece} ${Math.round(at)}`;
      const count = counts.get(piece) ?? 0;
      // No busier than a busy bar of the family is on a piece.
      if (free.has(key) || count >= (pool.most.get(piece) ?? 0)) return false;
      counts.set(piece, count + 1);
      free.add(key);
      return true;
    })
    .slice(0, most);
}

/** A stroke of a piece that has no template: with its usual articulation. */
export function plainHit(piece: PieceId, velocity: number, kit: Kit, articulation = ''): Hit {
  return {
    id: '',
    at: 0,
    push: 0,
    velocity,
    articulation: articulationOf(piece, articulation, kit).id,
  };
}
