import { MAX_TICKS, MOST, HIT_LIMITS, within } from './limits';
import { isId, isRecord, type Finds, type Raw, withParts } from './finds';
import type { Hit } from './hit';
import type { KitPiece } from './kit';
import type { Ticks } from '../time';

/** Where hits are to lie. */
export interface Room {
  where: string;
  /** They lie before this tick. */
  end: Ticks;
  /** Ids that are taken already; those of the hits are added. */
  ids: Set<string>;
  piece: KitPiece;
}

/**
 * The hits of a list that are sound, in order of their steps. A hit that has something it cannot have
 * is kept without it; one that lies nowhere is not kept.
 */
export function salvageHits(value: unknown, room: Room, finds: Finds): Hit[] {
  const { where, ids } = room;
  if (!Array.isArray(value)) {
    finds.say(where, 'A list is missing here.');
    return [];
  }
  if (value.length > MOST.hits) finds.say(where, 'There are more hits than can be drawn.');
  const articulations = new Set(room.piece.articulations.map(({ id }) => id));
  const kept: Hit[] = [];
  let same = value.length <= MOST.hits;
  let ordered = true;
  let before = 0;
  for (let i = 0; i < value.length && i < MOST.hits; i++) {
    const hit = salvageHit(value[i], room, articulations, finds);
    if (hit !== value[i]) same = false;
    if (!hit) continue;
    if (ids.has(hit.id)) {
      finds.say(`${where}/${hit.id}`, 'Two hits have the same id.');
      same = false;
      continue;
    }
    ids.add(hit.id);
    if (hit.at < before) ordered = false;
    before = hit.at;
    kept.push(hit);
  }
  if (!ordered) {
    finds.say(where, 'Hits must be in order of their steps.');
    return kept.sort((a, b) => a.at - b.at);
  }
  return same ? (value as Hit[]) : kept;
}

function salvageHit(
  value: unknown,
  { where, end }: Room,
  articulations: ReadonlySet<string>,
  finds: Finds,
): Hit | undefined {
  if (!isRecord(value) || !isId(value.id)) {
    finds.say(where, 'A hit has no id.');
    return undefined;
  }
  const at = `${where}/${value.id}`;
  const hit = value as unknown as Hit;
  const lies =
    finds.expect(hit.at >= 0 && hit.at < end, at, 'A hit lies outside its pattern.') &&
    finds.expect(within(hit.push, HIT_LIMITS.push), at, 'A hit is pushed too far from its step.') &&
    finds.expect(
      Number.isInteger(hit.velocity) && within(hit.velocity, HIT_LIMITS.velocity),
      at,
      'A velocity must be a whole number from 1 to 127.',
    ) &&
    finds.expect(articulations.has(hit.articulation), at, 'The piece has no such articulation.');
  if (!lies || typeof hit.at !== 'number') return undefined;
  const spoilt = (Object.keys(OPTIONAL) as (keyof typeof OPTIONAL)[]).filter((part) => {
    if (hit[part] === undefined) return false;
    const what = OPTIONAL[part](hit[part]);
    if (what) finds.say(at, what);
    return what !== undefined;
  });
  return withParts(hit, {}, spoilt);
}

/** What can be said against the optional parts of a hit. */
const OPTIONAL = {
  length: (value: unknown) =>
    within(value, [0, MAX_TICKS]) ? undefined : 'A hit cannot last less than nothing.',
  source: (value: unknown) =>
    Number.isInteger(value) && within(value, [0, 15]) ? undefined : 'A channel must be 1 to 16.',
  flam: problemOfFlam,
  burst: problemOfBurst,
  cycle: problemOfCycle,
  choke: (value: unknown) =>
    within(value, [Number.MIN_VALUE, MAX_TICKS]) ? undefined : 'A choke comes after the stroke.',
  pan: (value: unknown) => (within(value, HIT_LIMITS.pan) ? undefined : 'A pan must be -1 to 1.'),
  tune: (value: unknown) =>
    within(value, HIT_LIMITS.tune) ? undefined : 'A hit is tuned by at most 1200 cents.',
  reverse: (value: unknown) => (value === true ? undefined : 'A sound is reversed, or it is not.'),
  swell: (value: unknown) =>
    within(value, HIT_LIMITS.swell) ? undefined : 'A swell lasts 1/64 to 16 beats.',
  room: problemOfSend,
  echo: problemOfSend,
} as const;

function problemOfSend(value: unknown): string | undefined {
  return within(value, HIT_LIMITS.send) ? undefined : 'A send must be 0 to 1.';
}

function problemOfFlam(value: unknown): string | undefined {
  const { strokes, lead, softness } = isRecord(value) ? value : NOTHING;
  if (strokes !== 1 && strokes !== 2) return 'A flam has one grace stroke, a drag two.';
  if (!within(lead, HIT_LIMITS.lead)) return 'A flam leads by 5 to 120 ms.';
  return within(softness, [0, 1]) ? undefined : 'The softness of a flam must be 0 to 1.';
}

function problemOfBurst(value: unknown): string | undefined {
  const { strokes, room, slope } = isRecord(value) ? value : NOTHING;
  if (!(Number.isInteger(strokes) && within(strokes, HIT_LIMITS.burst))) {
    return 'A burst has 2 to 8 strokes.';
  }
  if (!within(room, [Number.MIN_VALUE, MAX_TICKS])) return 'A burst needs room.';
  return within(slope, [-1, 1]) ? undefined : 'A burst rises or falls by -1 to 1.';
}

function problemOfCycle(value: unknown): string | undefined {
  const { of, on } = isRecord(value) ? value : NOTHING;
  if (!(Number.isInteger(of) && within(of, HIT_LIMITS.cycle)))
    return 'A hit sounds on some of 2 to 16 times.';
  const inOrder =
    Array.isArray(on) &&
    on.length > 0 &&
    on.every((pass, i) => Number.isInteger(pass) && pass > (on[i - 1] ?? 0) && pass <= of);
  return inOrder ? undefined : 'A hit must sound on times that there are.';
}

const NOTHING: Raw = {};
