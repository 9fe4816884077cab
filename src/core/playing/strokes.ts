import { drummerOf, pieceOf, type Drummer, type Limb, type PieceId, type Song } from '../model';
import { barAt, PPQ, pulseTicks, type Ticks } from '../time';
import { placeAt, tempoOfSong, type TimedHit } from '../weave';

/** Limbs as bits of a set. */
export const LEFT_HAND = 1;
export const RIGHT_HAND = 2;
export const LEFT_FOOT = 4;
export const RIGHT_FOOT = 8;
const HANDS = LEFT_HAND | RIGHT_HAND;

const BIT: Readonly<Record<Limb, number>> = {
  'left hand': LEFT_HAND,
  'right hand': RIGHT_HAND,
  'left foot': LEFT_FOOT,
  'right foot': RIGHT_FOOT,
};

/** Hits as strokes of a drummer, in columns: a long song has many, and for most nothing else is asked. */
export interface Strokes {
  hits: readonly TimedHit[];
  /** When each is struck, in seconds. */
  at: Float64Array;
  /** Which limbs may play it; 0 is someone else. */
  limbs: Uint8Array;
  /** Where its piece stands from the drummer's middle, in metres, right is positive. */
  x: Float64Array;
  /** How much a stroke would be missed, 0 to 5: a stroke on the beat more than any other. */
  weightOf: (stroke: number) => number;
}

/** What is the same for all strokes of a piece in one way. */
interface Way {
  limbs: number;
  x: number;
  weight: number;
}

/**
 * Where the pieces of a right-handed kit stand, in metres from the drummer's middle to the right. Source:
 * the usual setup of a five-piece kit, measured along its front.
 */
const STANDS: Readonly<Record<PieceId, number>> = {
  crash: -0.5,
  'crash-2': 0.65,
  splash: 0,
  china: 0.8,
  ride: 0.55,
  'ride-2': 0.7,
  hihat: -0.55,
  snare: -0.1,
  'tom-high': -0.15,
  'tom-hi-mid': 0.05,
  'tom-low-mid': 0.2,
  'tom-low': 0.3,
  'tom-high-floor': 0.5,
  'tom-low-floor': 0.65,
};

/** What would be missed most if it were left out: time goes on by itself, an accent does not. */
const MISSED: Readonly<Record<string, number>> = {
  kick: 0.5,
  snare: 0.45,
  toms: 0.3,
  cymbals: 0.2,
  hats: 0,
  percussion: 0,
};

/** Reads hits of a song as strokes of a drummer. */
export function strokeReader(song: Song): (hits: readonly TimedHit[]) => Strokes {
  const drummer = drummerOf(song);
  const tempo = tempoOfSong(song);
  const pieces = new Map<PieceId, Map<string, Way>>();
  const wayOf = (hit: TimedHit) => {
    let ways = pieces.get(hit.piece);
    if (!ways) pieces.set(hit.piece, (ways = new Map()));
    let way = ways.get(hit.articulation);
    if (!way) ways.set(hit.articulation, (way = readWay(song, drummer, hit)));
    return way;
  };
  return (hits) => {
    const { length } = hits;
    const at = new Float64Array(length);
    const limbs = new Uint8Array(length);
    const x = new Float64Array(length);
    for (let i = 0; i < length; i++) {
      const way = wayOf(hits[i]);
      at[i] = tempo.secondsAt(hits[i].tick);
      limbs[i] = hits[i].bounced ? 0 : way.limbs;
      x[i] = way.x;
    }
    const weightOf = (i: number) =>
      wayOf(hits[i]).weight + (hits[i].velocity / 127) * 0.5 + 4 * onBeat(song, hits[i].home);
    return { hits, at, limbs, x, weightOf };
  };
}

/** How much the beat wants a stroke at a moment of the song: 1 at the start of a bar, 0 between all its divisions. */
function onBeat(song: Song, home: Ticks): number {
  const laid = placeAt(song, home);
  if (!laid) return 0;
  const { start, meter } = barAt(laid.section.meters, home - laid.start);
  const at = home - laid.start - start;
  if (at < NEAR) return 1;
  const pulse = pulseTicks(meter);
  for (const [parts, weight] of DIVISIONS) {
    const step = pulse / parts;
    if (Math.abs(at - Math.round(at / step) * step) < NEAR) return weight;
  }
  return 0;
}

/** A stroke nearer to a division than this lies on it. */
const NEAR: Ticks = PPQ / 24;

/** Into how many parts a beat is divided, and how much the beat wants what lies there. */
const DIVISIONS = [
  [1, 0.9],
  [2, 0.6],
  [3, 0.55],
  [4, 0.3],
  [6, 0.28],
] as const;

function readWay(song: Song, drummer: Drummer, { piece, articulation }: TimedHit): Way {
  const { family } = pieceOf(piece, song.kit);
  const mirror = drummer.lead === 'left' ? -1 : 1;
  const x = (STANDS[piece] ?? 0) * mirror;
  const weight = MISSED[family] ?? 0;
  return { limbs: limbsOf(drummer, piece, articulation, family), x, weight };
}

function limbsOf(drummer: Drummer, piece: PieceId, articulation: string, family: string): number {
  const settled = drummer.limbs?.[piece];
  const right = drummer.lead === 'right';
  if (articulation === 'pedal') return right ? LEFT_FOOT : RIGHT_FOOT;
  if (settled) return BIT[settled];
  if (family === 'kick') {
    if (drummer.doublePedal) return LEFT_FOOT | RIGHT_FOOT;
    return right ? RIGHT_FOOT : LEFT_FOOT;
  }
  if (family === 'percussion' && !drummer.percussion) return 0;
  if (family === 'hats' && drummer.openHanded) return right ? LEFT_HAND : RIGHT_HAND;
  return HANDS;
}
