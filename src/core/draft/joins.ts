import { pieceOf, type DraftWishes, type Kit, type Pattern, type PieceId } from '../model';
import { chance } from '../random';
import { barTicks, PPQ, pulseTicks, toVelocity, type Ticks } from '../time';
import type { DraftStroke } from './bar';
import { saidChange } from './energy';
import { plainHit } from './ladder';
import { hasPiece } from './onKit';
import { QUIET_TURNS, turnMeans, type DraftBar } from './phrases';
import { fillOf, louder, saidFill, signOf, turnOf } from './turn';
import { seedOf } from './wished';

/** What a place plays in its last bar, or bars, to lead on. */
export interface Join {
  as: 'fill' | 'change';
  /** How long before the end of the place it begins. */
  length: Ticks;
  pieces: 'all' | PieceId[];
  strokes: DraftStroke[];
  says: string;
  source: string;
  /** What the whole last bar sounds like, to tell neighbours apart. */
  sign: string;
}

/** The last bar of a place, and what it leads to. */
export interface LastBar {
  bar: DraftBar;
  strokes: readonly DraftStroke[];
  energy: number;
  /** Where energy goes from there; absent at the end of the song. */
  next?: { energy: number; name: string };
  /** Names the place: chance follows from it. */
  key: string;
  /** How many bars the place has. */
  bars: number;
  /** Turns before and behind it, which it must not be like. */
  unlike: readonly string[];
}

/** How many quarter notes a fill lasts for a change of energy. Source: the bigger the step, the longer the run-up. */
function beatsFor(change: number): number {
  if (change >= 0.4) return 8;
  if (change >= 0.22) return 4;
  if (change >= 0.1) return 3;
  return change >= 0.03 ? 2 : 1;
}

/** A fall of energy by more than this is no moment for a fill: the last bar lets go. */
const FALLS = -0.12;

/** What leads on from a place: a fill sized by the change of energy, a quiet turn, or the end of the song. */
export function joinOf(last: LastBar, wishes: DraftWishes, says: Set<string>): Join | undefined {
  const { bar, next, key, energy } = last;
  const seed = Math.floor(chance(seedOf(wishes, 'fills'), key, 'join') * 1e9);
  const change = next ? next.energy - energy : 0;
  if (wishes.fills !== 'never') {
    const filled = next
      ? change >= FALLS
        ? filledJoin(last, wishes, change, seed, says)
        : undefined
      : endingOf(last, seed);
    if (filled) return filled;
  }
  const why = next
    ? change < FALLS
      ? saidChange(change, next.name)
      : `turn before ${next.name}`
    : 'the last bar';
  const means = turnMeans(bar, energy, {
    seed: chance(seedOf(wishes, 'turns'), key) * 1e9,
    longest: 1,
    of: why,
  });
  const turned = turnOf(last.strokes, means, QUIET_TURNS, last.unlike);
  if (!turned) return undefined;
  const pieces = changedPieces(last.strokes, turned.strokes);
  return {
    as: 'change',
    length: barTicks(bar.meter),
    pieces,
    strokes: turned.strokes.filter(({ piece }) => pieces.includes(piece)),
    says: turned.says,
    source: 'turn',
    sign: signOf(turned.strokes),
  };
}

function changedPieces(before: readonly DraftStroke[], after: readonly DraftStroke[]): PieceId[] {
  const of = (strokes: readonly DraftStroke[], piece: PieceId) =>
    signOf(strokes.filter((stroke) => stroke.piece === piece));
  const pieces = [...new Set([...before, ...after].map(({ piece }) => piece))];
  return pieces.filter((piece) => of(before, piece) !== of(after, piece));
}

function filledJoin(
  last: LastBar,
  wishes: DraftWishes,
  change: number,
  seed: number,
  says: Set<string>,
): Join | undefined {
  const { bar, next, bars, energy } = last;
  const whole = barTicks(bar.meter);
  const wanted = Math.min(beatsFor(change), wishes.longest);
  // A place of one bar is not filled up by its fill.
  const room = bars > 2 ? (2 * whole) / PPQ : bars > 1 ? whole / PPQ : pulseTicks(bar.meter) / PPQ;
  const why = saidChange(change, next!.name);
  for (let again = 0; again < 8; again++) {
    const roll = { pool: bar.source.pool, seed: seed + again };
    const fill = fillOf(Math.min(wanted, room), roll);
    if (!fill) {
      says.add(
        `${bar.source.pool.family} has no fill that is short enough: there is a turn instead.`,
      );
      return undefined;
    }
    if (lacksToms(fill)) {
      says.add('There are no toms for a tom fill: the snare plays it.');
    }
    const join = layFill(fill, last, why, energy + Math.max(0, change) / 2);
    if (!last.unlike.includes(join.sign)) return join;
  }
  return undefined;
}

/** Whether a fill that goes over the toms is played on something else, because there are none. */
const lacksToms = ({ name, strands }: Pattern) =>
  /\btoms?\b/i.test(name) && !strands.some(({ piece }) => piece.startsWith('tom-'));

/** A fill as a place plays it at its end. @param energy how loud it is */
function layFill(fill: Pattern, last: LastBar, why: string, energy: number): Join {
  const { bar, strokes } = last;
  const { kit, range } = bar.means;
  const whole = barTicks(bar.meter);
  const says = `${saidFill(fill)}: ${why}`;
  const own = fill.strands.flatMap(({ piece, hits }) =>
    hits.map((hit): DraftStroke => ({ piece, at: hit.at, hit, says })),
  );
  own.sort((a, b) => a.at - b.at);
  const [low, high] = range.loudness;
  const level = Math.min(124, low + (high - low) * energy + 16);
  const played = louder(own, level);
  const kicks = own.some(({ piece }) => piece === 'kick');
  const pieces = kicks
    ? ('all' as const)
    : kit.pieces.flatMap(({ id, family }) => (family === 'kick' ? [] : [id]));
  const from = whole - fill.length;
  const before = strokes.filter(
    ({ piece, at }) => at < from - 1 || (!kicks && pieceOf(piece, kit).family === 'kick'),
  );
  return {
    as: 'fill',
    length: fill.length,
    pieces,
    strokes: played,
    says,
    source: fill.name,
    sign: signOf([...before, ...played.map((stroke) => ({ ...stroke, at: from + stroke.at }))]),
  };
}

/** How the family ends a song: over its last bar. */
function endingOf(last: LastBar, seed: number): Join | undefined {
  const { endings } = last.bar.source.pool;
  const whole = barTicks(last.bar.meter);
  const can = endings.filter(({ length }) => Math.abs(length - whole) < 1);
  if (can.length === 0 || last.bars < 2) return undefined;
  const ending = can[Math.floor(chance(seed, 'ending') * can.length)];
  return { ...layFill(ending, last, 'the song ends', last.energy), as: 'fill' };
}

/** Energy has risen by so much where a crash falls on the one. */
const CRASHES = 0.08;

/**
 * The crash on the first beat of a place that energy has risen into: the hand that keeps time plays it.
 * @param time what keeps time in that beat
 */
export function crashOf(
  kit: Kit,
  wishes: DraftWishes,
  of: {
    change: number;
    first: boolean;
    energy: number;
    name: string;
    time: readonly DraftStroke[];
  },
): { strokes: DraftStroke[]; pieces: PieceId[]; says: string } | undefined {
  const { change, first, energy, name, time } = of;
  if (first ? energy < 0.6 : change < CRASHES) return undefined;
  const has = hasPiece(kit, wishes.without);
  const piece = ['crash', 'crash-2', 'china', 'splash'].find(has);
  if (!piece) return undefined;
  const says = first
    ? `crash on 1: ${name} begins high`
    : `crash on 1: ${saidChange(change, name)}`;
  const hit = plainHit(piece, toVelocity(92 + 26 * energy), kit);
  const rest = time.filter((stroke) => stroke.at > PPQ / 8 && stroke.piece !== piece);
  return {
    says,
    pieces: [...new Set([piece, ...time.map((stroke) => stroke.piece)])],
    strokes: [{ piece, at: 0, hit, says }, ...rest],
  };
}
