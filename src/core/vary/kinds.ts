import {
  findPiece,
  findStrand,
  GHOST_BELOW,
  type Hit,
  type Kit,
  type Pattern,
  type PieceId,
} from '../model';
import { freeIds, placeHits, removeHits, takeTurn } from '../pattern';
import type { Random } from '../random';
import { barTicks, pulseTicks, toVelocity, type Ticks } from '../time';

/** What a drummer does so that a part does not come twice alike. */
export const VARIATIONS = [
  'fill at the end',
  'opened hat',
  'crash at the start',
  'extra kick',
  'moved kick',
  'ghost notes',
  'busier',
  'thinner',
  'hat to ride',
] as const;
export type Variation = (typeof VARIATIONS)[number];

/** How bold a change is: 1 is hardly noticed, 3 is. */
export const BOLDNESS = [1, 2, 3] as const;
export type Boldness = (typeof BOLDNESS)[number];

/** What a change is made with. */
export interface Means {
  random: Random;
  kit: Kit;
  bold: Boldness;
  /** Which pieces may be touched. */
  may: (piece: PieceId) => boolean;
}

/** A changed stretch, and what was done in a drummer's words; undefined where it cannot be done. */
export type Varied = { pattern: Pattern; says: string } | undefined;

/** What each variation does to a stretch of whole bars. */
export const VARY: Readonly<Record<Variation, (pattern: Pattern, means: Means) => Varied>> = {
  'fill at the end'(pattern, { random, kit, bold, may }) {
    const kinds =
      bold === 1
        ? (['kick pair', 'opened hat'] as const)
        : bold === 2
          ? (['ramped roll', 'kick pair', 'tom run'] as const)
          : (['tom run', 'ramped roll'] as const);
    const start = Math.floor(random() * kinds.length);
    const seed = Math.floor(random() * 1e6);
    for (let i = 0; i < kinds.length; i++) {
      const kind = kinds[(start + i) % kinds.length];
      const after = takeTurn({ ...pattern, turns: [] }, kind, seed, kit);
      if (touchesOnly(pattern, after, may) && !sameHits(pattern, after)) {
        return { pattern: plainTurns(after, pattern), says: SAYS_TURN[kind] };
      }
    }
    return undefined;
  },

  'opened hat'(pattern, { kit, may }) {
    if (!may('hihat')) return undefined;
    const after = takeTurn({ ...pattern, turns: [] }, 'opened hat', 1, kit);
    return sameHits(pattern, after)
      ? undefined
      : { pattern: plainTurns(after, pattern), says: 'opens the hat' };
  },

  'crash at the start'(pattern, { kit, may }) {
    const crash = kit.pieces.find(({ id }) => id.startsWith('crash'))?.id;
    if (!crash || !may(crash) || strokesAt(pattern, crash, 0).length > 0) return undefined;
    // The hand that keeps time plays the crash instead.
    const time = ['ride', 'ride-2', 'hihat'].flatMap((piece) =>
      strokesAt(pattern, piece, 0).filter(({ articulation }) => articulation !== 'pedal'),
    );
    const clear = removeHits(pattern, new Set(time.map(({ id }) => id)));
    const hit = { ...newHit(pattern, 0, 112), articulation: 'edge' };
    return { pattern: placeHits(clear, [{ piece: crash, hit }], kit), says: 'crashes on the one' };
  },

  'extra kick'(pattern, { random, kit, bold, may }) {
    if (!may('kick') || !findPiece('kick', kit)) return undefined;
    const free = emptySteps(pattern, 'kick', 240).filter((at) => at % 480 !== 0);
    const chosen = pick(free, bold, random);
    if (chosen.length === 0) return undefined;
    const usual = meanOf(pattern, 'kick', 96);
    const ids = freeIds(pattern);
    const hits = chosen.map((at) => ({
      piece: 'kick',
      hit: {
        ...newHit(pattern, at, usual * (0.78 + 0.12 * random()), ids('vary')),
        articulation: 'beater',
      },
    }));
    const says = chosen.length === 1 ? 'one kick more' : `${chosen.length} kicks more`;
    return { pattern: placeHits(pattern, hits, kit), says: `plays ${says}` };
  },

  'moved kick'(pattern, { random, kit, may }) {
    if (!may('kick')) return undefined;
    const kicks = (findStrand(pattern, 'kick')?.hits ?? []).filter(
      ({ at }) => at % barTicks(pattern.meter) !== 0,
    );
    const taken = new Set((findStrand(pattern, 'kick')?.hits ?? []).map(({ at }) => at));
    const can = kicks.flatMap((hit) =>
      [-240, 240]
        .map((by) => ({ hit, at: hit.at + by }))
        .filter(({ at }) => at > 0 && at < pattern.length && !taken.has(at)),
    );
    if (can.length === 0) return undefined;
    const { hit, at } = can[Math.floor(random() * can.length)];
    const moved = placeHits(
      removeHits(pattern, new Set([hit.id])),
      [{ piece: 'kick', hit: { ...hit, at } }],
      kit,
    );
    return {
      pattern: moved,
      says: `moves a kick a sixteenth ${at < hit.at ? 'earlier' : 'later'}`,
    };
  },

  'ghost notes'(pattern, { random, kit, bold, may }) {
    if (!may('snare') || !findPiece('snare', kit)) return undefined;
    const free = emptySteps(pattern, 'snare', 240).filter((at) => at % 960 !== 0);
    const chosen = pick(free, bold + 1, random);
    if (chosen.length === 0) return undefined;
    const ids = freeIds(pattern);
    const hits = chosen.map((at) => ({
      piece: 'snare',
      hit: {
        ...newHit(pattern, at, Math.min(GHOST_BELOW - 6, 26 + 12 * random()), ids('vary')),
        articulation: 'centre',
      },
    }));
    const count = chosen.length === 1 ? 'a ghost note' : `${chosen.length} ghost notes`;
    return { pattern: placeHits(pattern, hits, kit), says: `slips in ${count}` };
  },

  busier(pattern, { random, kit, may }) {
    const piece = timekeeper(pattern, may);
    if (!piece) return undefined;
    const hits = findStrand(pattern, piece)!.hits;
    const gaps = emptySteps(pattern, piece, 240).filter((at) =>
      hits.some((hit) => Math.abs(hit.at - at) <= 240),
    );
    const chosen = gaps.filter(() => random() < 0.8);
    if (chosen.length < 2) return undefined;
    const usual = meanOf(pattern, piece, 80);
    const ids = freeIds(pattern);
    const articulation = hits[0].articulation;
    const more = chosen.map((at) => ({
      piece,
      hit: { ...newHit(pattern, at, usual * 0.7, ids('vary')), articulation },
    }));
    return {
      pattern: placeHits(pattern, more, kit),
      says: `doubles the time on the ${nameOf(piece, kit)}`,
    };
  },

  thinner(pattern, { kit, may }) {
    const piece = timekeeper(pattern, may);
    if (!piece) return undefined;
    const beat = pulseTicks(pattern.meter);
    const off = findStrand(pattern, piece)!.hits.filter(({ at }) => at % beat !== 0);
    const on = findStrand(pattern, piece)!.hits.length - off.length;
    if (off.length === 0 || on === 0) return undefined;
    return {
      pattern: removeHits(pattern, new Set(off.map(({ id }) => id))),
      says: `plays only the beats on the ${nameOf(piece, kit)}`,
    };
  },

  'hat to ride'(pattern, { kit, may }) {
    if (!may('hihat') || !may('ride') || !findPiece('ride', kit)) return undefined;
    const strand = findStrand(pattern, 'hihat');
    const played = (strand?.hits ?? []).filter(({ articulation }) => articulation !== 'pedal');
    if (played.length < 2 || strand?.loopTicks) return undefined;
    const clear = removeHits(pattern, new Set(played.map(({ id }) => id)));
    const moved = played.map((hit) => ({ piece: 'ride', hit: { ...hit, articulation: 'bow' } }));
    return {
      pattern: placeHits(clear, moved, kit),
      says: 'moves the time from the hat to the ride',
    };
  },
};

const SAYS_TURN = {
  'kick pair': 'adds two quick kicks at the end',
  'ramped roll': 'rolls up on the snare at the end',
  'tom run': 'runs down the toms at the end',
  'opened hat': 'opens the last hat',
} as const;

const newHit = (
  pattern: Pattern,
  at: Ticks,
  velocity: number,
  id = freeIds(pattern)('vary'),
): Hit => ({
  id,
  at,
  push: 0,
  velocity: toVelocity(velocity),
  articulation: '',
});

const strokesAt = (pattern: Pattern, piece: PieceId, at: Ticks) =>
  (findStrand(pattern, piece)?.hits ?? []).filter((hit) => Math.abs(hit.at - at) < 60);

/** Steps of a rate on which nothing of a piece is near. */
function emptySteps(pattern: Pattern, piece: PieceId, step: Ticks): Ticks[] {
  if (findStrand(pattern, piece)?.loopTicks) return [];
  const steps: Ticks[] = [];
  for (let at = 0; at < pattern.length; at += step) {
    if (strokesAt(pattern, piece, at).length === 0) steps.push(at);
  }
  return steps;
}

function pick<T>(from: readonly T[], count: number, random: Random): T[] {
  const left = [...from];
  const chosen: T[] = [];
  while (left.length > 0 && chosen.length < count) {
    chosen.push(...left.splice(Math.floor(random() * left.length), 1));
  }
  return chosen;
}

function meanOf(pattern: Pattern, piece: PieceId, usual: number): number {
  const hits = findStrand(pattern, piece)?.hits ?? [];
  return hits.length === 0 ? usual : hits.reduce((sum, hit) => sum + hit.velocity, 0) / hits.length;
}

/** The piece that keeps time: the one with most strokes among those that do. */
function timekeeper(pattern: Pattern, may: Means['may']): PieceId | undefined {
  const can = pattern.strands.filter(
    ({ piece, hits, loopTicks }) =>
      ['hihat', 'ride', 'ride-2'].includes(piece) && hits.length > 1 && !loopTicks && may(piece),
  );
  return can.reduce<(typeof can)[number] | undefined>(
    (most, one) => (one.hits.length > (most?.hits.length ?? 0) ? one : most),
    undefined,
  )?.piece;
}

const nameOf = (piece: PieceId, kit: Kit) => (findPiece(piece, kit)?.name ?? piece).toLowerCase();

function sameHits(a: Pattern, b: Pattern): boolean {
  return a.strands === b.strands;
}

/** Whether only pieces that may be touched are played otherwise. */
function touchesOnly(before: Pattern, after: Pattern, may: Means['may']): boolean {
  return after.strands.every(
    ({ piece, hits }) => may(piece) || hits === (findStrand(before, piece)?.hits ?? hits),
  );
}

/** What was done here is no turn of a phrase that grew. */
function plainTurns(after: Pattern, before: Pattern): Pattern {
  const { turns: _, ...rest } = after;
  return before.turns ? { ...rest, turns: before.turns } : rest;
}
