import {
  HIT_LIMITS,
  type Limits,
  type PieceId,
  findStrand,
  type Hit,
  type Pattern,
  type Strand,
} from '../model';
import { seeded } from '../random';
import { PPQ } from '../time';
import { allIds, mapHits, stepOf } from './strands';

/** One value of the hits of a row, drawn as a line of bars under their stems. */
export interface Lane {
  name: string;
  /** Unit for the reader; ticks and shares are shown in it by `show`. */
  unit: string;
  /** How many of the unit a value of 1 is; absent is one. */
  per?: number;
  limits: Limits;
  /** The value of a hit that was given none; bars are drawn from here. */
  rest: number;
  /** Values snap to whole multiples of this. */
  grain: number;
  get(hit: Hit): number;
  set(hit: Hit, value: number, frame: { pattern: Pattern; strand: Strand }): Hit;
  /** What the interface shows for a value. */
  show(value: number): string;
}

/** A hit with an optional value, or without it when the value is the one of rest. */
function withOptional<K extends 'pan' | 'tune' | 'room' | 'echo' | 'choke' | 'length'>(
  hit: Hit,
  key: K,
  value: number,
  rest: number,
): Hit {
  if (value !== rest) return hit[key] === value ? hit : { ...hit, [key]: value };
  if (hit[key] === undefined) return hit;
  const { [key]: _, ...without } = hit;
  return without as Hit;
}

const percent = (value: number) => `${Math.round(value * 100)} %`;
const inBeats = (ticks: number) => (ticks === 0 ? 'none' : `${(ticks / PPQ).toFixed(2)} beats`);

const send = (name: string, key: 'room' | 'echo'): Lane => ({
  name,
  unit: '%',
  per: 100,
  limits: HIT_LIMITS.send,
  rest: 0,
  grain: 0.01,
  get: (hit) => hit[key] ?? 0,
  set: (hit, value) => withOptional(hit, key, value, 0),
  show: percent,
});

const time = (name: string, key: 'choke' | 'length'): Lane => ({
  name,
  unit: 'beats',
  per: 1 / PPQ,
  limits: [0, 4 * PPQ],
  rest: 0,
  grain: 60,
  get: (hit) => hit[key] ?? 0,
  set: (hit, value) => withOptional(hit, key, value, 0),
  show: inBeats,
});

/** Every value that can be drawn. */
export const LANES = {
  velocity: {
    name: 'velocity',
    unit: '',
    limits: HIT_LIMITS.velocity,
    rest: 0,
    grain: 1,
    get: (hit) => hit.velocity,
    set: (hit, value) => (hit.velocity === value ? hit : { ...hit, velocity: value }),
    show: (value) => `${value}`,
  },
  push: {
    name: 'timing offset',
    unit: 'ticks',
    limits: [-120, 120],
    rest: 0,
    grain: 1,
    get: (hit) => hit.push,
    set: (hit, value) => (hit.push === value ? hit : { ...hit, push: value }),
    show: (value) => `${Math.round(value)} ticks`,
  },
  pan: {
    name: 'pan',
    unit: 'right',
    per: 100,
    limits: HIT_LIMITS.pan,
    rest: 0,
    grain: 0.02,
    get: (hit) => hit.pan ?? 0,
    set: (hit, value) => withOptional(hit, 'pan', value, 0),
    show: (value) =>
      value === 0
        ? 'middle'
        : `${Math.round(Math.abs(value) * 100)} ${value < 0 ? 'left' : 'right'}`,
  },
  tune: {
    name: 'tune',
    unit: 'cents',
    limits: HIT_LIMITS.tune,
    rest: 0,
    grain: 10,
    get: (hit) => hit.tune ?? 0,
    set: (hit, value) => withOptional(hit, 'tune', value, 0),
    show: (value) => `${Math.round(value)} cents`,
  },
  room: send('room', 'room'),
  echo: send('echo', 'echo'),
  choke: time('choke after', 'choke'),
  length: time('note length in files', 'length'),
  burst: {
    name: 'burst',
    unit: 'strokes',
    limits: [1, HIT_LIMITS.burst[1]],
    rest: 1,
    grain: 1,
    get: (hit) => hit.burst?.strokes ?? 1,
    set: (hit, value, { pattern, strand }) => {
      if (value === (hit.burst?.strokes ?? 1)) return hit;
      const { burst, ...rest } = hit;
      if (value < HIT_LIMITS.burst[0]) return rest;
      return {
        ...rest,
        burst: { room: stepOf(pattern, strand), slope: 0, ...burst, strokes: value },
      };
    },
    show: (value) => (value === 1 ? 'single' : `${value} strokes`),
  },
} as const satisfies Record<string, Lane>;

export type LaneId = keyof typeof LANES;

/** The nearest value a lane can hold. */
export function laneValue({ limits: [low, high], grain }: Lane, value: number): number {
  const snapped = Math.round(Math.round(value / grain) * grain * 1000) / 1000;
  return Math.max(low, Math.min(high, snapped)) || 0;
}

/** Gives each named hit its own value of a lane. */
export function setLane(
  pattern: Pattern,
  id: LaneId,
  values: ReadonlyMap<string, number>,
): Pattern {
  const lane: Lane = LANES[id];
  return mapHits(pattern, new Set(values.keys()), (hit, strand) => {
    const value = values.get(hit.id);
    if (value === undefined || !Number.isFinite(value)) return hit;
    return lane.set(hit, laneValue(lane, value), { pattern, strand });
  });
}

/** The hits of another strand take the values of a lane from what is struck last before them here. */
export function copyLane(pattern: Pattern, id: LaneId, from: PieceId, to: PieceId): Pattern {
  const source = findStrand(pattern, from)?.hits ?? [];
  if (from === to || source.length === 0) return pattern;
  const lane: Lane = LANES[id];
  const values = new Map<string, number>();
  for (const hit of findStrand(pattern, to)?.hits ?? []) {
    const before = source.findLast((other) => other.at <= hit.at) ?? source[0];
    values.set(hit.id, lane.get(before));
  }
  return setLane(pattern, id, values);
}

/** Draws values of a lane between two bounds; the same seed draws the same ones. */
export function randomLane(
  pattern: Pattern,
  ids: ReadonlySet<string>,
  { lane: id, low, high, seed }: { lane: LaneId; low: number; high: number; seed: number },
): Pattern {
  const random = seeded(seed);
  const [bottom, top] = low <= high ? [low, high] : [high, low];
  const values = new Map<string, number>();
  for (const hit of allIds(pattern)) {
    if (ids.has(hit)) values.set(hit, bottom + random() * (top - bottom));
  }
  return setLane(pattern, id, values);
}
