import { pieceOf, type DraftWishes, type Pattern, type PieceId } from '../model';
import { chance } from '../random';
import { barTicks, PPQ, pulseTicks, type Ticks } from '../time';
import type { BarPlayed, DraftStroke } from './bar';
import { saidChange } from './energy';
import type { FillWanted } from './fillBook';
import { fillAt, fillLength } from './fills';
import { hasPiece } from './onKit';
import { crashOn, finished, QUIET_TURNS, turnMeans, type DraftBar } from './phrases';
import { isCrash } from './pool';
import { accentOf, BUSY, louder, saidFill, signOf, turnOf } from './turn';
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
  /** The bar as it is without what leads on. */
  played: BarPlayed;
  energy: number;
  /** Where energy goes from there; absent at the end of the song. */
  next?: { energy: number; name: string };
  /** Names the place: chance follows from it. */
  key: string;
  /** How many bars the place has. */
  bars: number;
  /** Turns before and behind it, which it must not be like. */
  unlike: readonly string[];
  /** Gives a fill for the end of this place. */
  fill: (wanted: FillWanted) => Pattern | undefined;
  /** Whether a kick may be struck at a tick of the last bar; below 0 is the bar before it. */
  mayKick: (at: Ticks) => boolean;
}

/** A fall of energy by more than this is no moment for a fill: the last bar lets go. */
const FALLS = -0.12;

/** What leads on from a place: a fill sized by the change of energy, a quiet turn, or the end of the song. */
export function joinOf(last: LastBar, wishes: DraftWishes, says: Set<string>): Join | undefined {
  const { bar, next, key, energy } = last;
  const change = next ? next.energy - energy : 0;
  if (wishes.fills !== 'never') {
    const filled = next
      ? change >= FALLS
        ? filledJoin(last, wishes, change, says)
        : undefined
      : endingOf(last, seedOf(wishes, 'fills'));
    if (filled) return filled;
  }
  const why = next
    ? change < FALLS
      ? saidChange(change, next.name)
      : `turn before ${next.name}`
    : 'the last bar';
  const means = turnMeans(bar, {
    seed: chance(seedOf(wishes, 'turns'), key) * 1e9,
    longest: 1,
    of: why,
    fill: last.fill,
    unlike: last.unlike,
  });
  const heard = (strokes: readonly DraftStroke[]) => finished(strokes, bar);
  const turned = turnOf(last.played, means, QUIET_TURNS, heard);
  if (!turned) return undefined;
  const pieces = changedPieces(heard(last.played.wished), turned.strokes);
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
  says: Set<string>,
): Join | undefined {
  const { bar, next, bars, energy } = last;
  const whole = barTicks(bar.meter);
  // A place is not filled up by its fill.
  const room = bars > 2 ? 2 * whole : bars > 1 ? whole : pulseTicks(bar.meter);
  const length = fillLength(change, bar.meter, Math.min(room, wishes.longest * PPQ));
  const why = saidChange(change, next!.name);
  let join: Join | undefined;
  last.fill({
    pool: bar.source.pool,
    kit: bar.means.kit,
    length,
    busy: energy + Math.max(0, change) / 2 >= BUSY,
    fits: (fill) => {
      const laid = layFill(fill, last, why, length);
      if (laid.strokes.length === 0 || last.unlike.includes(laid.sign)) return false;
      join = laid;
      if (lacksToms(fill, laid)) {
        says.add('There are no toms for a tom fill: the snare plays it.');
      }
      return true;
    },
  });
  return join;
}

/** Whether a fill that goes over the toms is played on something else, because there are none. */
const lacksToms = ({ strands }: Pattern, { strokes }: Join) =>
  strands.some(({ piece }) => piece.startsWith('tom-')) &&
  !strokes.some(({ piece }) => piece.startsWith('tom-'));

/** A fill as a place plays it at its end: no softer than what it leaves. @param length how long it lies there */
function layFill(fill: Pattern, last: LastBar, why: string, length: Ticks): Join {
  const { bar, played } = last;
  const { kit } = bar.means;
  const whole = barTicks(bar.meter);
  const from = whole - length;
  const says = `${saidFill({ ...fill, length })}: ${why}`;
  // A fill that is a little shorter than its room ends with it.
  const late = length - fill.length;
  const own = fill.strands.flatMap(({ piece, hits }) =>
    hits.map((hit): DraftStroke => ({ piece, at: from + late + hit.at, hit, says })),
  );
  own.sort((a, b) => a.at - b.at);
  const groove = finished(played.wished, bar);
  const heard = finished(louder(own, Math.min(122, accentOf(groove) + 4)), {
    ...bar,
    mayKick: last.mayKick,
  }).filter(({ at }) => at >= from - 1);
  const kicks = own.some(({ piece }) => piece === 'kick') || heard.some(isKick);
  const starts = from + late;
  const kept = groove.filter(
    (stroke) => stroke.at < starts - 1 || (!kicks && pieceOf(stroke.piece, kit).family === 'kick'),
  );
  const pieces = kicks
    ? ('all' as const)
    : kit.pieces.flatMap(({ id, family }) => (family === 'kick' ? [] : [id]));
  return {
    as: 'fill',
    length: fill.length,
    pieces,
    strokes: heard.map((stroke) => ({ ...stroke, at: Math.max(0, stroke.at - starts) })),
    says,
    source: fill.name,
    sign: signOf([...kept, ...heard]),
  };
}

const isKick = ({ piece }: DraftStroke) => piece === 'kick';

/** How the family ends a song: over its last bar. */
function endingOf(last: LastBar, seed: number): Join | undefined {
  const { endings } = last.bar.source.pool;
  const whole = barTicks(last.bar.meter);
  const can = endings.filter(({ length }) => Math.abs(length - whole) < 1);
  if (can.length === 0 || last.bars < 2) return undefined;
  const ending = can[fillAt(can.length, 0, seed)];
  return layFill(ending, last, 'the song ends', whole);
}

/** Energy has risen by so much where a crash falls on the one. */
const CRASHES = 0.08;

/**
 * The crash on the first beat of a place that energy has risen into: the hand that keeps time plays it, as loud as
 * the loudest stroke of the bar, with a kick or a snare below it.
 */
export function crashOf(
  bar: DraftBar,
  of: {
    change: number;
    first: boolean;
    energy: number;
    name: string;
    played: readonly DraftStroke[];
    /** The ticks of the first beat. */
    length: Ticks;
  },
): { strokes: DraftStroke[]; pieces: PieceId[]; says: string } | undefined {
  const { kit, wishes } = bar.means;
  const { change, first, energy, name, played, length } = of;
  if (first ? energy < 0.6 : change < CRASHES) return undefined;
  const has = hasPiece(kit, wishes.without);
  const piece = ['crash', 'crash-2', 'china', 'splash'].find(has);
  if (!piece) return undefined;
  const says = first
    ? `crash on 1: ${name} begins high`
    : `crash on 1: ${saidChange(change, name)}`;
  const beat = played.filter(({ at }) => at < length);
  const one = (at: Ticks) => at < PPQ / 8;
  const strokes = finished(
    [
      crashOn(piece, bar.ladder.play(bar.step, String(bar.bar)).plain, kit, says),
      ...beat.filter((stroke) => !(one(stroke.at) && (stroke.time || isCrash(stroke.piece)))),
    ],
    bar,
  );
  if (!strokes.some((stroke) => stroke.piece === piece)) return undefined;
  const pieces = changedPieces(beat, strokes);
  return { says, pieces, strokes: strokes.filter((stroke) => pieces.includes(stroke.piece)) };
}
