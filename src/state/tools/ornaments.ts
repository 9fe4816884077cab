import { pushOfMs, PPQ } from '@/core/time';
import { HIT_LIMITS, pieceOf } from '@/core/model';
import { LANES, type Lane, type LaneId, chosenHits } from '@/core/pattern';
import { useWorkbench } from '../store';
import { type Tool, number, choice, seed, percent, velocity, ms, RATES, by, rowOptions, cursorPiece, LANE_OPTIONS } from './tool';

/** Flams, bursts, rolls, chokes, and what is done to a sound. */
export const ORNAMENTS: readonly Tool[] = [
  {
    id: 'flam',
    name: 'flam or drag …',
    group: 'ornaments',
    letter: 'f',
    fields: () => [
      choice('strokes', 'grace strokes', '1', [
        ['1', 'one: flam'],
        ['2', 'two: drag'],
      ]),
      ms('lead', 'before the hit by', 25, HIT_LIMITS.lead),
      percent('softness', 'softer by', 50),
    ],
    commands: (v, b) =>
      by(b, 'flam', {
        strokes: v.number('strokes') as 1 | 2,
        lead: v.number('lead'),
        softness: v.number('softness') / 100,
      }),
  },
  {
    id: 'burst',
    name: 'burst …',
    group: 'ornaments',
    letter: 'b',
    fields: () => [
      number('strokes', 'strokes in the step', 3, HIT_LIMITS.burst),
      number('slope', 'falling (−) or rising', 0, [-100, 100], { unit: '%' }),
    ],
    commands: (v, b) =>
      by(b, 'burst', { strokes: v.number('strokes'), slope: v.number('slope') / 100 }),
  },
  {
    id: 'roll',
    name: 'roll …',
    group: 'ornaments',
    letter: 'r',
    free: true,
    fields: () => [
      choice('rate', 'strokes', String(PPQ / 8), RATES.slice(2)),
      number('beats', 'beats long', 1, [0.25, 16], { step: 0.25 }),
      velocity('first', 'first stroke', 44),
      velocity('last', 'last stroke', 112),
    ],
    commands(v, { pattern }) {
      const { cursor, articulations } = useWorkbench.getState();
      return [
        {
          type: 'write a roll',
          pattern: pattern.id,
          roll: {
            piece: cursor.piece,
            articulation: articulations[cursor.piece] ?? '',
            from: cursor.at,
            to: cursor.at + v.number('beats') * PPQ,
            rate: v.number('rate'),
            first: v.number('first'),
            last: v.number('last'),
            seed: 'roll',
          },
        },
      ];
    },
    remark: () => 'From the cursor on, in place of what its row has there.',
  },
  {
    id: 'choke',
    name: 'choke …',
    group: 'ornaments',
    letter: 'c',
    fields: () => [ms('after', 'stopped after', 120, [10, 2000])],
    commands: (v, b) =>
      by(b, 'choke', {
        after: Math.max(10, Math.min(15_360, pushOfMs(v.number('after'), b.bpm))),
      }),
  },
  ...(['length', 'pan', 'tune', 'room', 'echo'] as const).map(laneTool),
  {
    id: 'cycle',
    name: 'cycle …',
    group: 'ornaments',
    letter: 'y',
    fields: () => [
      number('of', 'passes', 2, [1, HIT_LIMITS.cycle[1]]),
      { kind: 'passes', id: 'on', label: 'sounds on', value: [1], of: 'of' },
    ],
    commands: (v, b) => by(b, 'cycle', { of: v.number('of'), on: v.list('on') }),
  },
  {
    id: 'random-lane',
    name: 'random values …',
    group: 'ornaments',
    letter: 'v',
    fields() {
      const id = laneShown();
      const { limits, grain }: Lane = LANES[id];
      return [
        choice('lane', 'of', id, LANE_OPTIONS),
        number('low', 'from', limits[0], limits, { step: grain }),
        number('high', 'to', limits[1], limits, { step: grain }),
        seed,
      ];
    },
    commands: (v, b) =>
      by(b, 'random values', {
        lane: v.text('lane') as LaneId,
        low: v.number('low'),
        high: v.number('high'),
        seed: v.number('seed'),
      }),
  },
  {
    id: 'copy-lane',
    name: 'copy values to another row …',
    group: 'ornaments',
    letter: 'w',
    free: true,
    fields({ pattern }) {
      const options = rowOptions(pattern, cursorPiece());
      return [
        choice('lane', 'values of', laneShown(), LANE_OPTIONS),
        choice('to', `${pieceOf(cursorPiece()).name} to`, options[0]?.[0] ?? '', options),
      ];
    },
    commands: (v, { pattern }) => [
      {
        type: 'copy values',
        pattern: pattern.id,
        lane: v.text('lane') as LaneId,
        from: cursorPiece(),
        to: v.text('to'),
      },
    ],
  },
];

function laneShown(): LaneId {
  return useWorkbench.getState().lane?.id ?? 'pan';
}

function laneTool(id: 'length' | 'pan' | 'tune' | 'room' | 'echo'): Tool {
  const lane: Lane = LANES[id];
  const letters = { length: 'l', pan: 'p', tune: 't', room: 'm', echo: 'e' };
  return {
    id: `set-${id}`,
    name: `${lane.name} …`,
    group: 'ornaments',
    letter: letters[id],
    fields({ pattern, ids }) {
      const [first] = chosenHits(pattern, new Set(ids));
      const value = first ? lane.get(first.hit) : lane.rest;
      return [
        number('value', lane.name, value, lane.limits, { step: lane.grain, unit: lane.unit }),
      ];
    },
    commands: (v, { pattern, ids }) => [
      {
        type: 'draw values',
        pattern: pattern.id,
        lane: id,
        values: ids.map((hit) => [hit, v.number('value')] as const),
      },
    ],
  };
}
