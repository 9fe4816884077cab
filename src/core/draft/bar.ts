import {
  articulationOf,
  pieceOf,
  spokenPiece,
  type DraftWishes,
  type Hit,
  type Kit,
  type PieceId,
} from '../model';
import { chance } from '../random';
import { barTicks, PPQ, pulseTicks, pushOfMs, type Bpm, type Meter, type Ticks } from '../time';
import { dynamicsOf, STEPS, strayed, type Curve, type Range } from './dynamics';
import { isBackbeat, plainHit, saidBeat, type Rung } from './ladder';
import { hasPiece, standInFor } from './onKit';
import { isCrash, type Pool } from './pool';
import { strengthOf } from './strength';

/** A stroke of a draft, and why it is there. */
export interface DraftStroke {
  piece: PieceId;
  at: Ticks;
  hit: Hit;
  says: string;
  /** It keeps time. */
  time?: true;
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
  /** On moments of these strengths hats open in this feel; empty where they never do. */
  opensOn: ReadonlySet<number>;
}

/** Energy from which another piece takes the time over, a crash may keep it, and hats open half and wholly. */
const HIGH = 0.64;
const HALF_OPEN = 0.7;
/** Energy up to which a backbeat is played on the rim, where it turns to the drum. */
const STICK_BELOW = 0.5;

/** Some rungs of a ladder, and how hard they are struck. */
interface Struck {
  rungs: readonly Rung[];
  curve: Curve;
}

/** The strokes of a ladder at one step of energy: as the feel has them, and as they were wished. */
interface Voiced {
  plain: Struck;
  wished: Struck;
}

/** A bar as it is played: as the feel has it, and as it was wished. */
export interface BarPlayed {
  plain: readonly DraftStroke[];
  wished: readonly DraftStroke[];
}

/** Leaves out what no drummer can play in a bar of a meter that comes round. */
export type Playable = (ladder: readonly Rung[], meter: Meter) => readonly Rung[];

/** The ladder of a bar, with what is wished, played at any step of energy. */
export class BarLadder {
  private readonly voiced: (Voiced | undefined)[] = [];
  private readonly curves: Curve[];
  private readonly counts: number[];

  /**
   * @param ladder all of which can be played
   * @param kicks instead of those of the ladder, where they go with a guide
   */
  constructor(
    private readonly ladder: readonly Rung[],
    private readonly kicks: readonly Rung[] | undefined,
    private readonly means: BarMeans,
    private readonly playable: Playable,
  ) {
    const { counts, curves } = dynamicsOf(ladder, means);
    [this.counts, this.curves] = [counts, curves];
  }

  /** @param bar which one it is, for the chance in its strokes @param step 0 to `STEPS` */
  play(step: number, bar: string): BarPlayed {
    const { plain, wished } = (this.voiced[step] ??= this.voicedAt(step));
    const strokes = ({ rungs, curve }: Struck) =>
      rungs.map((rung) => strokeOf(rung, curve, bar, this.means));
    const usual = strokes(plain);
    return { plain: usual, wished: wished === plain ? usual : strokes(wished) };
  }

  private voicedAt(step: number): Voiced {
    const { means, kicks } = this;
    const curve = this.curves[step];
    const energy = step / STEPS;
    const chosen = this.ladder.slice(0, this.counts[step]);
    const plain = { curve, rungs: chosen.map((rung) => onHats(rung, energy, means)) };
    let rungs: readonly Rung[] = plain.rungs;
    if (kicks) {
      const latest = chosen.at(-1)?.rank ?? -1;
      rungs = [
        ...rungs.filter(({ piece }) => piece !== 'kick'),
        ...kicks.filter(({ rank }) => rank <= latest),
      ];
    }
    rungs = wished(rungs, energy, means, opensByItself(this.ladder));
    const same =
      rungs.length === chosen.length && rungs.every((rung, i) => rung === plain.rungs[i]);
    return {
      plain,
      wished: same ? plain : { curve, rungs: this.playable(rungs, means.meter) },
    };
  }
}

/** Applies the wishes for the backbeat, the time and the hats to a bar; other strokes stay as they are. */
function wished(
  chosen: readonly Rung[],
  energy: number,
  means: BarMeans,
  byItself: boolean,
): readonly Rung[] {
  const { wishes, kit } = means;
  const has = hasPiece(kit, wishes.without);
  let rungs = chosen;
  if (wishes.backbeat !== 'as the feel' && has('snare')) rungs = onBackbeat(rungs, means);
  const { time, highTime } = wishes;
  if (time !== 'feel' && has(time)) {
    rungs = distinct(rungs.map((rung) => (rung.time ? revoiced(rung, time, kit) : rung)));
  }
  if (highTime && has(highTime) && energy >= HIGH) {
    // Where it takes the time over, it is struck once.
    rungs = distinct(rungs.map((rung) => (rung.time ? takenOver(rung, highTime, kit) : rung)));
  }
  return rungs.map((rung) => voicedAt(rung, energy, means, byItself));
}

/** Whether hats open and close in a groove without being asked to. */
const opensByItself = (ladder: readonly Rung[]) =>
  ladder.some(
    ({ piece, hit }) => piece === 'hihat' && ['open', 'half-open'].includes(hit.articulation),
  );

function revoiced(rung: Rung, piece: PieceId, kit: Kit): Rung {
  if (rung.piece === piece) return rung;
  const { hit } = rung;
  return {
    ...rung,
    piece,
    hit: { ...hit, articulation: articulationOf(piece, hit.articulation, kit).id },
    says: `the ${spokenPiece(piece, kit)} keeps time, as you wished`,
  };
}

function takenOver(rung: Rung, piece: PieceId, kit: Kit): Rung {
  if (rung.piece === piece) return rung;
  return {
    ...rung,
    piece,
    hit: { ...rung.hit, articulation: articulationOf(piece, '', kit).id },
    says: `the ${spokenPiece(piece, kit)} takes the time over: energy is high`,
  };
}

/** Time that a feel keeps on a crash or a china is kept on the hats until energy is high. */
function onHats(rung: Rung, energy: number, { kit }: BarMeans): Rung {
  if (!rung.time || energy >= HIGH || !isCrash(rung.piece) || !hasPiece(kit, [])('hihat')) {
    return rung;
  }
  return {
    ...rung,
    piece: 'hihat',
    hit: { ...rung.hit, articulation: articulationOf('hihat', '', kit).id },
    says: `the hats keep time: energy is not yet high`,
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

function onBackbeat(rungs: readonly Rung[], { wishes, kit, meter }: BarMeans): Rung[] {
  const is = ({ piece, hit, at }: Rung) => piece === 'snare' && isBackbeat(piece, hit, at, meter);
  const template = rungs.find(is)?.hit ?? plainHit('snare', 104, kit, 'centre');
  const wanted = backbeatsOf(wishes.backbeat, meter).map((at): Rung => ({
    piece: 'snare',
    at,
    hit: { ...template, at, articulation: articulationOf('snare', template.articulation, kit).id },
    rank: -0.9,
    says: `backbeat on ${saidBeat(at, meter)}, as you wished`,
  }));
  const rest = rungs.filter(
    (rung) =>
      !is(rung) &&
      !wanted.some(({ at }) => rung.piece === 'snare' && Math.abs(at - rung.at) < PPQ / 8),
  );
  return [...wanted, ...rest].sort((a, b) => a.rank - b.rank || a.at - b.at);
}

/** How hats and backbeats are struck where energy is so high. */
function voicedAt(
  rung: Rung,
  energy: number,
  { wishes, kit, meter, opensOn }: BarMeans,
  byItself: boolean,
): Rung {
  const { opens, stroke } = wishes;
  const closed = rung.time && rung.piece === 'hihat' && rung.hit.articulation === 'closed';
  if (closed && opens && !byItself && energy >= HALF_OPEN) {
    const strength = strengthOf(rung.at, meter);
    // Where the feel opens its hats; in a feel that never does, all of them wash.
    const half = opensOn.size > 0 ? opensOn.has(strength) : strength < (energy > 0.85 ? 4 : 3);
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

/** A stroke as hands play it: as hard as the curve has it, and straying a little. */
function strokeOf(rung: Rung, curve: Curve, bar: string, means: BarMeans): DraftStroke {
  const { piece, at, hit, says, time } = rung;
  const { wishes, bpm, seed, machine } = means;
  const loose = machine ? 0 : wishes.loose;
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
      velocity: strayed(rung, curve, 14 * loose * stray('loud')),
    },
    says,
    ...(time && { time }),
  };
}

/** Whether the grooves of a pool are played by a machine: none of their strokes leans or strays. */
export const isMachine = ({ grooves }: Pool) =>
  grooves.every(({ strands }) => strands.every(({ hits }) => hits.every(({ push }) => push === 0)));

/** Strokes as they are played without the pieces that stay at home: others stand in, or they are left out. */
export function withoutPieces(
  strokes: readonly DraftStroke[],
  { wishes, kit }: Pick<BarMeans, 'wishes' | 'kit'>,
): readonly DraftStroke[] {
  if (!strokes.some(({ piece }) => wishes.without.includes(piece))) return strokes;
  const has = hasPiece(kit, wishes.without);
  const taken = new Set(strokes.map(({ piece, at }) => `${piece} ${Math.round(at)}`));
  return strokes.flatMap((stroke): DraftStroke[] => {
    if (has(stroke.piece)) return [stroke];
    const piece = standInFor(stroke.piece, has);
    const key = `${piece} ${Math.round(stroke.at)}`;
    if (piece === undefined || taken.has(key)) return [];
    taken.add(key);
    const articulation = articulationOf(piece, stroke.hit.articulation, kit).id;
    return [{ ...stroke, piece, hit: { ...stroke.hit, articulation } }];
  });
}
