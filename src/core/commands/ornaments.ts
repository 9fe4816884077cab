import { HIT_LIMITS, MAX_TICKS, type Flam, type Hit, type Limits } from '../model';
import {
  chosenHits,
  copyLane,
  LANES,
  plain,
  randomLane,
  setBurst,
  setChoke,
  setCycle,
  setFlam,
  setLane,
  setSwell,
  toggleReverse,
  writeRoll,
  type Lane,
  type LaneId,
} from '../pattern';
import { PPQ, pushInMs, pushOfMs } from '../time';
import {
  lane,
  LANE_IDS,
  ms,
  nameOfRow,
  otherRows,
  percent,
  RATES,
  rowHere,
  seed,
  velocity,
} from './common';
import { onHits, onPattern } from './definition';
import { ask, choice, found, id, list, number, record, text, type Bench } from './value';

const ANY_LANE: Limits = [-9600, 9600];

const perOf = ({ lane: of }: Bench) => (LANES[of] as Lane).per ?? 1;

/** Sets one value of the chosen hits, as it is drawn in a lane. */
const setValue = (of: LaneId, letter: string) => {
  const { name, limits, grain, unit, per = 1, rest, get }: Lane = LANES[of];
  return onHits(
    {
      value: ask(
        number(limits),
        name,
        ({ pattern, ids }: Bench) => {
          const [first] = chosenHits(pattern, new Set(ids));
          return first ? get(first.hit) : rest;
        },
        { step: grain, unit, per },
      ),
    },
    (pattern, ids, { value }) =>
      setLane(pattern, of, new Map([...ids].map((hit) => [hit, value] as const))),
    { words: `${name} …`, menu: 'ornaments', letter },
  );
};

/** What the first chosen hit that has such an ornament has: a panel begins with that. */
function hitWith<K extends 'flam' | 'burst' | 'cycle' | 'choke' | 'swell'>(
  { pattern, ids }: Bench,
  key: K,
): Hit[K] {
  const chosen = chosenHits(pattern, new Set(ids));
  return chosen.find(({ hit }) => hit[key] !== undefined)?.hit[key];
}

const flamHere = (bench: Bench): Flam =>
  hitWith(bench, 'flam') ?? { strokes: 1, lead: 25, softness: 0.5 };

/** Flams, bursts, rolls, chokes, and what is done to a sound. */
export const ORNAMENTS = {
  'reverse the sound': onHits({}, (pattern, ids) => toggleReverse(pattern, ids), {
    words: 'reverse the sound',
    menu: 'ornaments',
    letter: 'x',
  }),
  'take ornaments off': onHits(
    {},
    (pattern, ids) => plain(pattern, ids, { of: 'all' }),
    { words: 'take ornaments off', menu: 'ornaments', letter: 'z' },
    () => 'The chosen hits are plain already.',
  ),
  flam: onHits(
    {
      strokes: ask(choice([1, 2]), 'grace strokes', (bench: Bench) => flamHere(bench).strokes, {
        options: [
          [1, 'one: flam'],
          [2, 'two: drag'],
        ],
      }),
      lead: ms('before the hit by', (bench) => flamHere(bench).lead, HIT_LIMITS.lead),
      softness: percent('softer by', (bench) => Math.round(flamHere(bench).softness * 100)),
    },
    (pattern, ids, { strokes, lead, softness }) =>
      setFlam(pattern, ids, { strokes, lead, softness: softness / 100 }),
    { words: 'flam or drag …', menu: 'ornaments', letter: 'f' },
  ),
  burst: onHits(
    {
      strokes: ask(
        number(HIT_LIMITS.burst, { whole: true }),
        'strokes in the step',
        (bench: Bench) => hitWith(bench, 'burst')?.strokes ?? 3,
      ),
      slope: ask(
        number([-100, 100]),
        'falling (−) or rising',
        (bench: Bench) => Math.round((hitWith(bench, 'burst')?.slope ?? 0) * 100),
        { unit: '%' },
      ),
    },
    (pattern, ids, { strokes, slope }) => setBurst(pattern, ids, { strokes, slope: slope / 100 }),
    { words: 'burst …', menu: 'ornaments', letter: 'b' },
  ),
  'write a roll': onPattern(
    {
      piece: rowHere(),
      articulation: found(text(200), (bench: Bench) => bench.articulation),
      from: found(number([0, MAX_TICKS]), ({ cursor }: Bench) => cursor.at),
      rate: ask(choice(RATES.map(([ticks]) => ticks)), 'strokes', PPQ / 8, {
        options: RATES.slice(2),
      }),
      beats: ask(number([0.25, 16]), 'beats long', 1, { step: 0.25 }),
      first: velocity('first stroke', 44),
      last: velocity('last stroke', 112),
    },
    (pattern, { beats, ...roll }, { kit }) =>
      writeRoll(pattern, { ...roll, to: roll.from + beats * PPQ, seed: 'roll' }, kit),
    {
      words: 'roll …',
      menu: 'ornaments',
      letter: 'r',
      remark: () => 'From the cursor on, in place of what its row has there.',
    },
  ),
  choke: onHits(
    {
      after: ms(
        'stopped after',
        (bench) => {
          const choke = hitWith(bench, 'choke');
          return choke === undefined ? 120 : Math.round(pushInMs(choke, bench.song.bpm));
        },
        [10, 2000],
      ),
    },
    (pattern, ids, { after }, { bpm }) =>
      setChoke(pattern, ids, { after: Math.max(10, pushOfMs(after, bpm)) }),
    { words: 'choke …', menu: 'ornaments', letter: 'c' },
  ),
  swell: onHits(
    {
      beats: ask(
        number([HIT_LIMITS.swell[0] / PPQ, HIT_LIMITS.swell[1] / PPQ]),
        'leads up for, in beats',
        (bench: Bench) => (hitWith(bench, 'swell') ?? PPQ) / PPQ,
        { step: 0.25 },
      ),
    },
    (pattern, ids, { beats }) => setSwell(pattern, ids, { lasts: beats * PPQ }),
    {
      words: 'swell into the stroke …',
      menu: 'ornaments',
      letter: 'u',
      remark: () => 'Its sound with the room, backwards, up to the stroke; four seconds at most.',
    },
  ),
  'set note length': setValue('length', 'l'),
  'set pan': setValue('pan', 'p'),
  'set tune': setValue('tune', 't'),
  'set room': setValue('room', 'm'),
  'set echo': setValue('echo', 'e'),
  cycle: onHits(
    {
      of: ask(
        number([1, HIT_LIMITS.cycle[1]], { whole: true }),
        'of how many times',
        (bench: Bench) => hitWith(bench, 'cycle')?.of ?? 2,
      ),
      on: ask(
        list(number([1, HIT_LIMITS.cycle[1]], { whole: true }), 16),
        'sounds on',
        (bench: Bench): readonly number[] => hitWith(bench, 'cycle')?.on ?? [1],
        { upTo: 'of' },
      ),
    },
    (pattern, ids, { of, on }) =>
      on.length === 0
        ? 'Choose at least one time on which the hits sound.'
        : setCycle(pattern, ids, { of, on }),
    { words: 'every n-th time …', menu: 'ornaments', letter: 'y' },
  ),
  'random values': onHits(
    {
      lane: lane('of'),
      low: ask(number(ANY_LANE), 'from', (bench) => LANES[bench.lane].limits[0], {
        per: perOf,
        limits: (bench) => LANES[bench.lane].limits,
        step: (bench) => LANES[bench.lane].grain,
      }),
      high: ask(number(ANY_LANE), 'to', (bench) => LANES[bench.lane].limits[1], {
        per: perOf,
        limits: (bench) => LANES[bench.lane].limits,
        step: (bench) => LANES[bench.lane].grain,
      }),
      seed: seed(),
    },
    (pattern, ids, told) => {
      const { name, limits }: Lane = LANES[told.lane];
      const fits = [told.low, told.high].every((one) => one >= limits[0] && one <= limits[1]);
      return fits
        ? randomLane(pattern, ids, told)
        : `${name} must be ${limits[0]} to ${limits[1]}.`;
    },
    { words: 'random values …', menu: 'ornaments', letter: 'v' },
  ),
  'copy values': onPattern(
    {
      lane: lane('values of'),
      from: rowHere(),
      to: ask(
        id('piece'),
        (bench) => `${nameOfRow(bench)} to`,
        (bench) => otherRows(bench)[0]?.[0] ?? '',
        { options: otherRows },
      ),
    },
    (pattern, told) => copyLane(pattern, told.lane, told.from, told.to),
    { words: 'copy values to another row …', menu: 'ornaments', letter: 'w' },
    'Choose another row that has hits to copy from.',
  ),
  'draw values': onPattern(
    {
      lane: choice(LANE_IDS),
      values: list(record({ id: id('hit'), value: number([-MAX_TICKS, MAX_TICKS]) })),
    },
    (pattern, told) =>
      setLane(pattern, told.lane, new Map(told.values.map((one) => [one.id, one.value]))),
    'lane-pan',
  ),
};
