import { seeded, type Random } from '../random';
import {
  DEFAULT_KIT,
  findPiece,
  findStrand,
  MAX_BARS,
  TURNS,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
  type Turn,
  type TurnKind,
} from '../model';
import { barTicks, pulseTicks, toVelocity, type Ticks } from '../time';
import { repeatBars } from './bars';
import { barsOf } from './length';
import { writeRoll } from './ornament';
import { placeHits, removeHits } from './hits';
import { freeIds, mapHits } from './strands';

/** A change for the last bar that can be heard, taken or dismissed. */
export interface Suggestion {
  kind: TurnKind;
  /** What a drummer would call it: "snare roll over beat 4, rising". */
  says: string;
  /** The pattern with it. */
  pattern: Pattern;
}

export function canGrow(pattern: Pattern): boolean {
  const bars = barsOf(pattern);
  return Number.isInteger(bars) && bars * 2 <= MAX_BARS;
}

/**
 * Doubles the pattern. Where the last bar was a turn, its copy is the plain bar before it, so that
 * the new turn is free for a change of its own.
 */
export function grow(pattern: Pattern, kit: Kit = DEFAULT_KIT): Pattern {
  if (!canGrow(pattern)) return pattern;
  const bars = barsOf(pattern);
  const twice = repeatBars(pattern, { from: 0, to: bars });
  const turned = pattern.turns?.some((turn) => turn.bar === bars - 1 && turn.kind !== 'crash');
  if (!turned || bars < 2) return twice;
  const doubled = { ...twice, turns: twice.turns?.filter((turn) => turn.bar < 2 * bars - 1) };
  const bar = barTicks(pattern.meter);
  const inBar = (hit: Hit, n: number) => hit.at >= n * bar && hit.at < (n + 1) * bar;
  const last = doubled.strands.flatMap(({ loopTicks, hits }) =>
    loopTicks ? [] : hits.filter((hit) => inBar(hit, 2 * bars - 1)).map((hit) => hit.id),
  );
  const free = freeIds(doubled);
  const plain = pattern.strands.flatMap(({ piece, loopTicks, hits }) =>
    loopTicks
      ? []
      : hits
          .filter((hit) => inBar(hit, bars - 2))
          .map((hit) => ({
            piece,
            hit: { ...hit, id: free(hit.id), at: hit.at + (bars + 1) * bar },
          })),
  );
  return placeHits(removeHits(doubled, new Set(last)), plain, kit);
}

/** The last bar: where the change goes. */
export function turnBar(pattern: Pattern): number {
  return Math.max(0, Math.ceil(barsOf(pattern)) - 1);
}

/**
 * Changes for the last bar, best first. They respect what is there: nothing on the kick is lost,
 * hands leave the cymbals only to play drums, and what the turn before had is not offered again.
 */
export function suggestions(pattern: Pattern, seed: number, kit: Kit = DEFAULT_KIT): Suggestion[] {
  const bar = turnBar(pattern);
  const before = (pattern.turns ?? [])
    .filter((turn) => turn.bar < bar)
    .reduce<Turn | undefined>((a, b) => (a && a.bar >= b.bar ? a : b), undefined);
  const here = (pattern.turns ?? []).filter((turn) => turn.bar === bar).map((turn) => turn.kind);
  return TURNS.filter((kind) => kind !== before?.kind && !here.includes(kind))
    .flatMap((kind): (Suggestion & { rank: number })[] => {
      const random = seeded(seed * 31 + TURNS.indexOf(kind));
      const rank = random();
      const made = RULES[kind](pattern, bar * barTicks(pattern.meter), random, kit);
      if (!made || made.pattern === pattern) return [];
      const turns = [...(pattern.turns ?? []), { bar, kind }];
      return [{ kind, says: made.says, rank, pattern: { ...made.pattern, turns } }];
    })
    .sort((a, b) => a.rank - b.rank)
    .map(({ kind, says, pattern: after }) => ({ kind, says, pattern: after }));
}

/** The pattern with one of its suggestions taken; itself when that one is not offered. */
export function takeTurn(
  pattern: Pattern,
  kind: TurnKind,
  seed: number,
  kit: Kit = DEFAULT_KIT,
): Pattern {
  return suggestions(pattern, seed, kit).find((other) => other.kind === kind)?.pattern ?? pattern;
}

type Rule = (
  pattern: Pattern,
  start: Ticks,
  random: Random,
  kit: Kit,
) => { pattern: Pattern; says: string } | undefined;

const hitsOf = (pattern: Pattern, piece: PieceId) => findStrand(pattern, piece)?.hits ?? [];

/**
 * Whether a turn can be written on a piece: the kit has it, and its strand follows the pattern. A
 * strand with a loop of its own has no last bar: what is written there sounds everywhere.
 */
const canPlay = (pattern: Pattern, piece: PieceId, kit: Kit) =>
  findPiece(piece, kit) !== undefined && findStrand(pattern, piece)?.loopTicks === undefined;

function meanVelocity(pattern: Pattern, piece: PieceId, usual: number): number {
  const hits = hitsOf(pattern, piece);
  return hits.length === 0 ? usual : hits.reduce((sum, hit) => sum + hit.velocity, 0) / hits.length;
}

/** What hands leave to play drums: everything but kick, toms, snare and the hat's pedal. */
const LEFT_BY_HANDS: readonly PieceId[] = ['crash', 'crash-2', 'splash', 'china', 'ride', 'ride-2'];

function handsFree(pattern: Pattern, from: Ticks, to: Ticks): Pattern {
  const left = pattern.strands.flatMap(({ piece, hits, loopTicks }) => {
    if (loopTicks) return [];
    if (!LEFT_BY_HANDS.includes(piece) && piece !== 'hihat') return [];
    return hits.filter((h) => h.at >= from && h.at < to && h.articulation !== 'pedal');
  });
  return removeHits(pattern, new Set(left.map((hit) => hit.id)));
}

/** How much of the bar a figure takes: its last beat, or two where there is room. */
function lastBeats(pattern: Pattern, start: Ticks, random: Random): { from: Ticks; beats: number } {
  const beat = Math.max(480, pulseTicks(pattern.meter));
  const room = Math.floor((pattern.length - start) / beat);
  const beats = room >= 4 && random() < 0.4 ? 2 : 1;
  return { from: pattern.length - beats * beat, beats };
}

const overBeats = (beats: number) =>
  beats === 1 ? 'over the last beat' : 'over the last two beats';

const RULES: Readonly<Record<TurnKind, Rule>> = {
  'kick pair'(pattern, start, random, kit) {
    if (!canPlay(pattern, 'kick', kit)) return undefined;
    const kicks = hitsOf(pattern, 'kick');
    const silent = (at: Ticks) => !kicks.some((hit) => Math.abs(hit.at - at) < 60);
    const places: Ticks[] = [];
    for (let at = pattern.length - 240; at - 240 >= start; at -= 120) {
      // Off the beat, so that it answers the beat and does not double it.
      if (at % 480 === 0) continue;
      if (silent(at) && silent(at - 240)) places.push(at - 240);
    }
    if (places.length === 0) return undefined;
    const at = places[Math.floor(random() * Math.min(3, places.length))];
    const free = freeIds(pattern);
    const velocity = meanVelocity(pattern, 'kick', 100);
    const pair = [at, at + 240].map((tick, i) => ({
      piece: 'kick',
      hit: {
        id: free('turn'),
        at: tick,
        push: 0,
        velocity: toVelocity(velocity * (i === 0 ? 0.82 : 1)),
        articulation: 'beater',
      },
    }));
    return { pattern: placeHits(pattern, pair, kit), says: 'two quick kicks more' };
  },

  'ramped roll'(pattern, start, random, kit) {
    if (!canPlay(pattern, 'snare', kit)) return undefined;
    const { from, beats } = lastBeats(pattern, start, random);
    const fine = beats === 1 && random() < 0.5;
    const rolled = writeRoll(
      handsFree(pattern, from, pattern.length),
      {
        piece: 'snare',
        articulation: 'centre',
        from,
        to: pattern.length,
        rate: fine ? 120 : 240,
        first: 38,
        last: 116,
        seed: freeIds(pattern)('turn'),
      },
      kit,
    );
    return { pattern: rolled, says: `a rising snare roll ${overBeats(beats)}` };
  },

  'tom run'(pattern, start, random, kit) {
    const { from, beats } = lastBeats(pattern, start, random);
    const toms = [
      'tom-high',
      'tom-hi-mid',
      'tom-low-mid',
      'tom-low',
      'tom-high-floor',
      'tom-low-floor',
    ];
    const can = toms.filter((piece) => canPlay(pattern, piece, kit));
    const there = can.filter((piece) => findStrand(pattern, piece));
    const usual = ['tom-high', 'tom-low-mid', 'tom-high-floor'];
    const drums = there.length >= 2 ? there : can.filter((piece) => usual.includes(piece));
    if (drums.length < 2) return undefined;
    const count = Math.round((pattern.length - from) / 240);
    const free = freeIds(pattern);
    const clear = handsFree(pattern, from, pattern.length);
    const snare = canPlay(clear, 'snare', kit) ? hitsOf(clear, 'snare') : [];
    const under = snare.filter((hit) => hit.at >= from);
    const run = Array.from({ length: count }, (_, i) => ({
      piece: drums[Math.floor((i / count) * drums.length)],
      hit: {
        id: free('turn'),
        at: from + i * 240,
        push: 0,
        velocity: toVelocity(84 + (28 * i) / count + (i % 2 === 0 ? 6 : 0)),
        articulation: 'struck',
      },
    }));
    const cleared = removeHits(clear, new Set(under.map((hit) => hit.id)));
    return {
      pattern: placeHits(cleared, run, kit),
      says: `a run down the toms ${overBeats(beats)}`,
    };
  },

  'opened hat'(pattern, start, _, kit) {
    if (!canPlay(pattern, 'hihat', kit)) return undefined;
    const beat = pulseTicks(pattern.meter);
    const closed = hitsOf(pattern, 'hihat').filter(
      (hit) => hit.at >= start && hit.articulation === 'closed',
    );
    // The last one off the beat: it is cut off by the pedal or the hat of the next bar.
    const last = closed.findLast((hit) => hit.at % beat !== 0) ?? closed.at(-1);
    if (!last) return undefined;
    const opened = mapHits(pattern, new Set([last.id]), (hit) => ({
      ...hit,
      articulation: 'open',
      velocity: toVelocity(hit.velocity + 12),
    }));
    return { pattern: opened, says: 'the last hat opened' };
  },

  crash(pattern, _, __, kit) {
    if (!canPlay(pattern, 'crash', kit)) return undefined;
    if (hitsOf(pattern, 'crash').some((hit) => hit.at === 0)) return undefined;
    const hands = pattern.strands.flatMap(({ piece, hits, loopTicks }) =>
      !loopTicks && ['ride', 'ride-2', 'hihat'].includes(piece)
        ? hits.filter((hit) => hit.at === 0)
        : [],
    );
    const clear = removeHits(pattern, new Set(hands.map((hit) => hit.id)));
    const hit = {
      id: freeIds(pattern)('turn'),
      at: 0,
      push: 0,
      velocity: 112,
      articulation: 'edge',
    };
    return {
      pattern: placeHits(clear, [{ piece: 'crash', hit }], kit),
      says: 'a crash on the one that follows',
    };
  },
};
