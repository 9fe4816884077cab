import { pieceOf, spokenPiece, type Hit, type Kit, type Pattern, type Song } from '../model';
import { fingerprintOf, nearest, strokesOfPattern } from '../library';
import { chance } from '../random';
import { barTicks, toVelocity } from '../time';
import { wishesFor } from './wished';
import { isBackbeat, ladderOf, type Rung } from './ladder';
import { familiesOnKit, hasPiece, onKit } from './onKit';
import { playableLadders } from './phrases';
import { barsOfPattern, keepsTime, poolFor, timekeeperOf } from './pool';
import { familyLike, type DraftLibrary } from './source';
import { patternFrom, type Written } from './written';

/** A groove like another one. */
export interface Neighbour {
  pattern: Pattern;
  /** How it differs, in words: “2 kicks more, 1 ghost note less”. */
  says: string;
}

/** How many are made before the best are chosen. */
const TRIES = 40;

/**
 * Grooves like a pattern, from nearly the same to bold: strokes of it are left out, its family’s strokes come in, the
 * kick answers otherwise, the time goes to another piece. All can be played, and none is like another one.
 * @param count how many; fewer where the pattern has too little to vary
 */
export function neighboursOf(
  song: Song,
  pattern: Pattern,
  { families }: DraftLibrary,
  seed: number,
  count = 8,
): Neighbour[] {
  const { kit } = song;
  const { without } = wishesFor(song);
  const played = familiesOnKit(families, kit);
  const has = hasPiece(kit, without);
  const own = onKit(pattern, kit, has);
  const bar = barTicks(own.meter);
  const bars = barsOfPattern(own).length;
  if (own.strands.every(({ hits }) => hits.length === 0)) return [];
  const { pool } = poolFor(played, familyLike(played, own), own.meter);
  const playable = playableLadders(song, 0);
  const ladders = Array.from({ length: bars }, (_, n) =>
    playable(
      ladderOf(own, n, pool, { seed, kit }).filter(({ piece }) => has(piece)),
      own.meter,
    ),
  );
  const seen = new Set([signOf(own)]);
  const made: { pattern: Pattern; says: string; bold: number }[] = [];
  for (let i = 0; i < TRIES; i++) {
    const bold = (i + 1) / TRIES;
    const draw = (...of: (string | number)[]) => chance(seed, i, ...of);
    const means: Varying = { bold, draw, kit, own };
    const strokes = ladders.flatMap((ladder, n) =>
      variedBar(ladder, n, means).map((rung) => ({ ...rung, at: rung.at + n * bar })),
    );
    const varied = patternFrom(
      {
        id: `${pattern.id}~${i}`,
        name: pattern.name,
        kind: own.kind,
        meter: own.meter,
        length: own.length,
        step: own.step,
        dye: own.dye,
      },
      strokes.flatMap((rung): Written[] =>
        rung.at < own.length ? [{ piece: rung.piece, at: rung.at, hit: rung.hit }] : [],
      ),
      kit,
    );
    const sign = signOf(varied);
    if (seen.has(sign)) continue;
    seen.add(sign);
    made.push({ pattern: varied, says: saidDifference(own, varied, kit), bold });
  }
  return spreadOut(own, made, song.bpm, count);
}

/** Those that lie evenly between the nearest and the furthest, in that order. */
function spreadOut(
  own: Pattern,
  made: readonly { pattern: Pattern; says: string }[],
  bpm: number,
  count: number,
): Neighbour[] {
  const print = (pattern: Pattern) => fingerprintOf(strokesOfPattern(pattern, bpm));
  const order = nearest(
    print(own),
    made.map(({ pattern }) => print(pattern)),
  );
  const chosen: Neighbour[] = [];
  for (let n = 0; n < Math.min(count, order.length); n++) {
    const at = Math.round((n * (order.length - 1)) / Math.max(1, count - 1));
    const { pattern, says } = made[order[Math.min(order.length - 1, at)].index];
    if (chosen.some((one) => one.pattern === pattern)) continue;
    chosen.push({
      pattern: { ...pattern, name: `${own.name}, ${n + 1}: ${says}`.slice(0, 200) },
      says,
    });
  }
  return chosen;
}

interface Varying {
  /** Above 0 to 1: how far it goes. */
  bold: number;
  draw: (...of: (string | number)[]) => number;
  kit: Kit;
  own: Pattern;
}

/** One bar of a neighbour: which rungs it stands on. */
function variedBar(ladder: readonly Rung[], n: number, { bold, draw, kit, own }: Varying): Rung[] {
  const mine = new Set(barsOfPattern(own)[n].map(({ piece, at }) => `${piece} ${Math.round(at)}`));
  const isOwn = ({ piece, at }: Rung) => mine.has(`${piece} ${Math.round(at)}`);
  const timekeeper = timekeeperOf(own, kit);
  const toRide = bold > 0.7 && draw('ride') < 0.5;
  const otherTime = toRide ? (timekeeper === 'ride' ? 'hihat' : 'ride') : undefined;
  const rungs = ladder.flatMap((rung): Rung[] => {
    const { piece, at, hit } = rung;
    const backbeat = isBackbeat(piece, hit, at, own.meter);
    const essential = at < 60 || backbeat;
    if (isOwn(rung)) {
      const kick = pieceOf(piece, kit).family === 'kick';
      const leaves = essential ? 0 : bold * (kick ? 0.4 : rung.time ? 0.12 : 0.3);
      if (draw('leave', piece, at, n % 2) < leaves) return [];
    } else {
      // What is likely in the family comes in first; a rank of 1 is hardly ever played.
      const comes = bold * 0.7 * (1.15 - rung.rank);
      if (draw('come', piece, at, n % 2) >= comes) return [];
    }
    const shade = 1 + 0.22 * bold * (draw('shade', piece, at, n) - 0.5);
    const louder: Hit = { ...hit, velocity: toVelocity(hit.velocity * shade) };
    if (otherTime && rung.time && kit.pieces.some(({ id }) => id === otherTime)) {
      const { articulations } = pieceOf(otherTime, kit);
      return [{ ...rung, piece: otherTime, hit: { ...louder, articulation: articulations[0].id } }];
    }
    return [{ ...rung, hit: louder }];
  });
  return rungs;
}

const signOf = ({ strands }: Pattern) =>
  strands
    .flatMap(({ piece, hits }) =>
      hits.map(({ at, articulation }) => `${piece} ${at} ${articulation}`),
    )
    .sort()
    .join();

/** “2 kicks more, 1 snare less, the ride keeps time”. */
function saidDifference(before: Pattern, after: Pattern, kit: Kit): string {
  const count = (pattern: Pattern) =>
    new Map(pattern.strands.map(({ piece, hits }) => [piece, hits.length]));
  const [a, b] = [count(before), count(after)];
  const says: string[] = [];
  const keeper = timekeeperOf(after, kit);
  if (keeper && keeper !== timekeeperOf(before, kit)) {
    says.push(`the ${spokenPiece(keeper, kit)} keeps time`);
  }
  for (const piece of new Set([...a.keys(), ...b.keys()])) {
    if (says.length > 0 && keepsTime(piece, '', kit)) continue;
    const by = (b.get(piece) ?? 0) - (a.get(piece) ?? 0);
    if (by === 0) continue;
    says.push(`${Math.abs(by)} ${spokenPiece(piece, kit)} ${by > 0 ? 'more' : 'less'}`);
  }
  return says.slice(0, 3).join(', ') || 'strokes moved';
}
