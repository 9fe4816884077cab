import { findStrand, type Command, type Pattern } from '@/core';
import type { HandCommand, HandName, OptionsOf } from '@/core/commands/hands';
import { HIT_LIMITS, SWING_LIMITS } from '@/core/model/limits';
import { articulationOf, KIT_PIECES, pieceOf } from '@/core/model/pieces';
import { takeFeel, unmappedHits } from '@/core/pattern/feel';
import { LANES, type Lane, type LaneId } from '@/core/pattern/lanes';
import { pushOfMs } from '@/core/pattern/speak';
import { describedHits, type Description } from '@/core/pattern/select';
import { allIds, chosenHits, stepOf } from '@/core/pattern/strands';
import { ACCENT_STEPS } from '@/core/pattern/velocity';
import { STEP_RATES } from '@/core/time/steps';
import { PPQ, type Bpm } from '@/core/time/units';
import { openSongNow, useWorkbench, type ToolGroup, type ToolValue } from './store';

/** One value that a tool asks for. */
export type Field = { id: string; label: string } & (
  | { kind: 'number'; value: number; min: number; max: number; step?: number; unit?: string }
  | { kind: 'choice'; value: string; options: readonly (readonly [string, string])[] }
  | { kind: 'text'; value: string; fits: RegExp; says: string }
  | { kind: 'passes'; value: readonly number[]; of: string }
  | { kind: 'seed'; value: number }
);

/** What a tool works on. */
export interface Bench {
  pattern: Pattern;
  ids: readonly string[];
  bpm: Bpm;
}

/** Something with values, whose effect is seen and heard before it is kept. */
export interface Tool {
  id: string;
  name: string;
  group: ToolGroup;
  /** The letter that opens it once the menu of its group is open. */
  letter: string;
  /** Works without a selection. */
  free?: true;
  fields(bench: Bench): Field[];
  commands(values: ToolValues, bench: Bench): Command[];
  /** What the user should know about the values as they are. */
  remark?(values: ToolValues, bench: Bench): string | undefined;
  /** Changes the selection instead of the song. */
  select?(values: ToolValues, bench: Bench): string[];
}

/** The values of a tool, read by what they are. */
export class ToolValues {
  constructor(private readonly values: Readonly<Record<string, ToolValue>>) {}
  number(id: string): number {
    return Number(this.values[id]);
  }
  text(id: string): string {
    return String(this.values[id] ?? '');
  }
  list(id: string): readonly number[] {
    const value = this.values[id];
    return Array.isArray(value) ? value : [];
  }
}

const number = (
  id: string,
  label: string,
  value: number,
  [min, max]: readonly [number, number],
  more: { step?: number; unit?: string } = {},
): Field => ({ kind: 'number', id, label, value, min, max, ...more });

const choice = (
  id: string,
  label: string,
  value: string,
  options: readonly (readonly [string, string])[],
): Field => ({ kind: 'choice', id, label, value, options });

const seed: Field = { kind: 'seed', id: 'seed', label: 'roll', value: 1 };
const percent = (id: string, label: string, value: number, high = 100) =>
  number(id, label, value, [0, high], { unit: '%' });
const velocity = (id: string, label: string, value: number) =>
  number(id, label, value, HIT_LIMITS.velocity);
const ms = (id: string, label: string, value: number, limits: readonly [number, number]) =>
  number(id, label, value, limits, { unit: 'ms' });

const RATES = STEP_RATES.map(({ ticks, name }) => [String(ticks), name] as const);

function by<K extends HandName>(
  { pattern, ids }: Bench,
  type: K,
  options: OptionsOf<K>,
): Command[] {
  return [{ pattern: pattern.id, type, ids, options } as { pattern: string } & HandCommand];
}

/** The softest and loudest of the chosen hits, in the order they are struck. */
function ends({ pattern, ids }: Bench): [first: number, last: number] {
  const hits = chosenHits(pattern, new Set(ids)).sort((a, b) => a.hit.at - b.hit.at);
  return [hits[0]?.hit.velocity ?? 40, hits.at(-1)?.hit.velocity ?? 112];
}

/** The piece all chosen hits are on, or the cursor's. */
function pieceHere({ pattern, ids }: Bench): string {
  const chosen = chosenHits(pattern, new Set(ids));
  return chosen[0]?.piece ?? useWorkbench.getState().cursor.piece;
}

const rowOptions = (pattern: Pattern, but?: string) =>
  pattern.strands
    .filter(({ piece }) => piece !== but)
    .map(({ piece }) => [piece, pieceOf(piece).name] as const);
const cursorPiece = () => useWorkbench.getState().cursor.piece;

const LANE_OPTIONS = Object.entries(LANES).map(([id, { name }]) => [id, name] as const);

const SELECT: Tool[] = [
  {
    id: 'select-by',
    name: 'select by description …',
    group: 'select',
    letter: 'd',
    free: true,
    fields: ({ pattern }) => [
      choice('piece', 'piece', 'any', [['any', 'any'], ...rowOptions(pattern)]),
      choice('articulation', 'struck', 'any', [
        ['any', 'any way'],
        ...[
          ...new Map(
            pattern.strands.flatMap(({ piece }) =>
              pieceOf(piece).articulations.map((a) => [a.id, a.name] as const),
            ),
          ),
        ],
      ]),
      choice('beat', 'place', 'any', [
        ['any', 'anywhere'],
        ['on the beat', 'on the beat'],
        ['off-beat', 'off-beats'],
        ['between', 'between those'],
      ]),
      number('every', 'every n-th', 1, [1, 16]),
      velocity('low', 'velocity from', 1),
      velocity('high', 'velocity to', 127),
      ms('off', 'off by more than', 0, [0, 120]),
      choice('figures', 'only', 'any', [
        ['any', 'any hit'],
        ['ghosts', 'ghosts'],
        ['bursts', 'bursts'],
        ['flams', 'flams and drags'],
        ['cycles', 'hits with a cycle'],
      ]),
    ],
    commands: () => [],
    select(values, { pattern, bpm }) {
      const some = (id: string) => (values.text(id) === 'any' ? undefined : values.text(id));
      const piece = some('piece');
      const off = values.number('off');
      return describedHits(pattern, {
        ...(piece && { pieces: [piece] }),
        articulation: some('articulation'),
        beat: some('beat') as Description['beat'],
        every: values.number('every'),
        velocity: [values.number('low'), values.number('high')],
        ...(off > 0 && { offBy: pushOfMs(off, bpm) }),
        figures: some('figures') as Description['figures'],
      });
    },
  },
];

const VELOCITY: Tool[] = [
  {
    id: 'set-velocity',
    name: 'set …',
    group: 'velocity',
    letter: 's',
    fields: (bench) => [velocity('velocity', 'velocity', ends(bench)[0])],
    commands: (v, b) => by(b, 'set velocity to', { velocity: v.number('velocity') }),
  },
  {
    id: 'scale-velocity',
    name: 'scale …',
    group: 'velocity',
    letter: 'c',
    fields: () => [percent('percent', 'of what it is', 100, 200)],
    commands: (v, b) => by(b, 'scale velocity', { percent: v.number('percent') }),
  },
  {
    id: 'add-velocity',
    name: 'add …',
    group: 'velocity',
    letter: 'a',
    fields: () => [number('by', 'louder or softer', 0, [-126, 126])],
    commands: (v, { pattern, ids }) => [
      { type: 'add velocity', pattern: pattern.id, ids, by: v.number('by') },
    ],
  },
  {
    id: 'ramp-velocity',
    name: 'ramp …',
    group: 'velocity',
    letter: 'r',
    fields: (bench) => [
      velocity('from', 'from', ends(bench)[0]),
      velocity('to', 'to', ends(bench)[1]),
    ],
    commands: (v, b) => by(b, 'ramp velocity', { from: v.number('from'), to: v.number('to') }),
  },
  {
    id: 'level-velocity',
    name: 'level …',
    group: 'velocity',
    letter: 'l',
    fields: () => [percent('percent', 'towards the mean', 50)],
    commands: (v, b) => by(b, 'level velocity', { percent: v.number('percent') }),
  },
  {
    id: 'spread-velocity',
    name: 'spread …',
    group: 'velocity',
    letter: 'p',
    fields: () => [percent('percent', 'away from the mean', 40, 200)],
    commands: (v, b) => by(b, 'spread velocity', { percent: v.number('percent') }),
  },
  {
    id: 'random-velocity',
    name: 'random …',
    group: 'velocity',
    letter: 'n',
    fields: () => [velocity('low', 'softest', 60), velocity('high', 'loudest', 100), seed],
    commands: (v, b) =>
      by(b, 'random velocity', {
        low: v.number('low'),
        high: v.number('high'),
        seed: v.number('seed'),
      }),
  },
  {
    id: 'alternate-hands',
    name: 'strong and weak hand …',
    group: 'velocity',
    letter: 'h',
    fields: () => [
      percent('softer', 'the weak hand is softer by', 25, 90),
      choice('lead', 'begins with', 'strong', [
        ['strong', 'the strong hand'],
        ['weak', 'the weak hand'],
      ]),
    ],
    commands: (v, b) =>
      by(b, 'alternate hands', {
        softer: v.number('softer'),
        lead: v.text('lead') as 'strong' | 'weak',
      }),
  },
  {
    id: 'accent-steps',
    name: 'accent pattern …',
    group: 'velocity',
    letter: 't',
    fields: () => [
      {
        kind: 'text',
        id: 'steps',
        label: 'accents',
        value: 'x..x..',
        fits: ACCENT_STEPS,
        says: '2 to 16 of x and dots, as in x..x..',
      },
      number('louder', 'accents louder by', 16, [0, 126]),
      number('softer', 'others softer by', 8, [0, 126]),
    ],
    commands: (v, b) =>
      by(b, 'accent steps', {
        steps: v.text('steps'),
        louder: v.number('louder'),
        softer: v.number('softer'),
      }),
  },
  {
    id: 'ghost-off-beats',
    name: 'ghost the off-beats …',
    group: 'velocity',
    letter: 'g',
    fields: () => [number('velocity', 'velocity', 34, [1, 60])],
    commands: (v, b) => by(b, 'ghost the off-beats', { velocity: v.number('velocity') }),
  },
];

const TIMING: Tool[] = [
  {
    id: 'quantize',
    name: 'quantize …',
    group: 'timing',
    letter: 'q',
    fields: () => [
      percent('strength', 'strength', 100),
      choice('grid', 'grid', '0', [['0', 'each row’s own steps'], ...RATES]),
      number('swing', 'swing', 50, SWING_LIMITS, { unit: '%' }),
      ms('window', 'only nearer than (0: all)', 0, [0, 200]),
    ],
    commands: (v, b) =>
      by(b, 'quantize', {
        strength: v.number('strength'),
        grid: v.number('grid'),
        swing: v.number('swing'),
        window: pushOfMs(v.number('window'), b.bpm),
      }),
  },
  {
    id: 'humanize',
    name: 'humanize …',
    group: 'timing',
    letter: 'h',
    fields: () => [
      ms('timing', 'timing strays by', 8, [0, 60]),
      number('velocity', 'velocity strays by', 8, [0, 64]),
      number('bias', 'early or late', 0, [-100, 100], { unit: '%' }),
      seed,
    ],
    commands: (v, b) =>
      by(b, 'humanize', {
        timing: Math.min(480, pushOfMs(v.number('timing'), b.bpm)),
        velocity: v.number('velocity'),
        bias: v.number('bias'),
        seed: v.number('seed'),
      }),
  },
  {
    id: 'lay-back',
    name: 'push or lay back …',
    group: 'timing',
    letter: 'l',
    fields: () => [ms('by', 'early (−) or late', 6, [-60, 60])],
    commands: (v, b) => by(b, 'push or lay back', { by: pushOfMs(v.number('by'), b.bpm) }),
  },
  {
    id: 'nudge',
    name: 'nudge by ticks …',
    group: 'timing',
    letter: 'n',
    fields: () => [number('by', 'ticks, 960 to a beat', 10, [-240, 240])],
    commands: (v, b) => by(b, 'push or lay back', { by: v.number('by') }),
  },
  {
    id: 'straighten',
    name: 'straighten …',
    group: 'timing',
    letter: 's',
    fields: () => [percent('percent', 'strength', 100)],
    commands: (v, b) => by(b, 'straighten', { percent: v.number('percent') }),
  },
  {
    id: 'apply-feel',
    name: 'apply a feel …',
    group: 'timing',
    letter: 'f',
    fields: ({ pattern }) => {
      const options = feelOptions(pattern);
      return [
        choice('feel', 'feel of', options[0]?.[0] ?? '', options),
        percent('percent', 'amount', 100),
      ];
    },
    commands(v, b) {
      const feel = feelOf(v.text('feel'));
      return feel ? by(b, 'apply feel', { feel, percent: v.number('percent') }) : [];
    },
    remark(v, { pattern, ids }) {
      const feel = feelOf(v.text('feel'));
      if (!feel) return 'Keep a feel first: take one from this or another pattern.';
      const { count, first } = unmappedHits(pattern, new Set(ids), feel);
      if (!first) return undefined;
      const where = `${pieceOf(first.piece).name.toLowerCase()} at step ${first.at / pattern.step + 1}`;
      return `${count} ${count === 1 ? 'hit lies' : 'hits lie'} on steps this feel says nothing about (first: ${where}); they stay.`;
    },
  },
  {
    id: 'take-feel',
    name: 'keep a feel …',
    group: 'timing',
    letter: 'k',
    fields: ({ pattern }) => [
      {
        kind: 'text',
        id: 'name',
        label: 'name of the feel',
        value: `${pattern.name}, feel`,
        fits: /\S/,
        says: 'give it a name',
      },
    ],
    commands(v, { pattern, ids }) {
      const name = v.text('name').trim();
      const feel = takeFeel(pattern, new Set(ids), { id: `feel-${name}`, name });
      return [{ type: 'keep feel', feel }];
    },
    remark: (_, { ids }) => `The timing and velocity of ${ids.length} hits.`,
  },
];

function feelOptions(pattern: Pattern): (readonly [string, string])[] {
  const { feels = [], patterns } = openSongNow();
  return [
    ...feels.map(({ id, name }) => [id, name] as const),
    ...patterns
      .filter((other) => other.id !== pattern.id)
      .map(({ id, name }) => [`of ${id}`, name] as const),
  ];
}

/** A feel that was kept, or one taken just now from another pattern. */
function feelOf(id: string) {
  const { feels = [], patterns } = openSongNow();
  const pattern = patterns.find((other) => `of ${other.id}` === id);
  return pattern
    ? takeFeel(pattern, allIds(pattern), { id, name: pattern.name })
    : feels.find((feel) => feel.id === id);
}

const FORGET_FEEL: Tool = {
  id: 'forget-feel',
  name: 'forget a feel …',
  group: 'timing',
  letter: 'r',
  free: true,
  fields() {
    const feels = (openSongNow().feels ?? []).map(({ id, name }) => [id, name] as const);
    return [choice('feel', 'feel', feels[0]?.[0] ?? '', feels)];
  },
  commands: (v) => [{ type: 'remove feel', id: v.text('feel') }],
};

const VOICE: Tool[] = [
  {
    id: 'revoice',
    name: 'another piece or articulation …',
    group: 'voice',
    letter: 'p',
    fields: (bench) => [
      choice(
        'way',
        'play it on',
        `${pieceHere(bench)}/${articulationOf(pieceHere(bench), '').id}`,
        KIT_PIECES.flatMap(({ id, name, articulations }) =>
          articulations.map(
            (a) =>
              [`${id}/${a.id}`, articulations.length > 1 ? `${name}: ${a.name}` : name] as const,
          ),
        ),
      ),
    ],
    commands(v, b) {
      const [piece, articulation] = v.text('way').split('/');
      return by(b, 'revoice', { piece, articulation });
    },
  },
  {
    id: 'alternate-ways',
    name: 'alternate two articulations …',
    group: 'voice',
    letter: 'a',
    fields(bench) {
      const { articulations } = pieceOf(pieceHere(bench));
      const ways = articulations.map((a) => [a.id, a.name] as const);
      return [
        choice('first', 'first', ways[0][0], ways),
        choice('second', 'then', (ways[1] ?? ways[0])[0], ways),
      ];
    },
    commands: (v, b) =>
      by(b, 'alternate articulations', { first: v.text('first'), second: v.text('second') }),
  },
  {
    id: 'swap-strands',
    name: 'swap this row with …',
    group: 'voice',
    letter: 's',
    free: true,
    fields: ({ pattern }) => {
      const options = rowOptions(pattern, cursorPiece());
      return [choice('other', pieceOf(cursorPiece()).name, options[0]?.[0] ?? '', options)];
    },
    commands: (v, { pattern }) => [
      { type: 'swap strands', pattern: pattern.id, one: cursorPiece(), other: v.text('other') },
    ],
  },
  {
    id: 'copy-strand',
    name: 'copy this row onto …',
    group: 'voice',
    letter: 'c',
    free: true,
    fields: ({ pattern }) => {
      const here = cursorPiece();
      const options = KIT_PIECES.filter(({ id }) => id !== here).map(
        (p) => [p.id, p.name] as const,
      );
      const first = rowOptions(pattern, here)[0]?.[0] ?? options[0][0];
      return [choice('to', `${pieceOf(here).name} onto`, first, options)];
    },
    commands: (v, { pattern }) => [
      { type: 'copy strand', pattern: pattern.id, from: cursorPiece(), to: v.text('to') },
    ],
  },
];

const TIME: Tool[] = [
  {
    id: 'rotate',
    name: 'rotate …',
    group: 'time',
    letter: 'o',
    fields: ({ pattern }) => {
      const steps = Math.ceil(pattern.length / pattern.step);
      return [number('steps', 'steps', 1, [-Math.min(1024, steps), Math.min(1024, steps)])];
    },
    commands: (v, b) => by(b, 'rotate', { steps: v.number('steps') }),
  },
  {
    id: 'thin-every',
    name: 'keep every n-th …',
    group: 'time',
    letter: 'n',
    fields: () => [number('every', 'keep every', 2, [2, 16])],
    commands: (v, b) => by(b, 'thin to every n-th', { every: v.number('every') }),
  },
  {
    id: 'thin-softest',
    name: 'thin out the softest …',
    group: 'time',
    letter: 's',
    fields: () => [percent('percent', 'of the hits go', 30)],
    commands: (v, b) => by(b, 'thin out the softest', { percent: v.number('percent') }),
  },
  {
    id: 'fill-gaps',
    name: 'fill the gaps softly …',
    group: 'time',
    letter: 'g',
    fields: () => [percent('percent', 'as loud as the hit before', 45)],
    commands: (v, b) => by(b, 'fill the gaps', { percent: v.number('percent') }),
  },
];

const ORNAMENTS: Tool[] = [
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

const ROW: Tool[] = [
  {
    id: 'own-step',
    name: 'own step rate …',
    group: 'row',
    letter: 'r',
    free: true,
    fields({ pattern }) {
      const strand = findStrand(pattern, cursorPiece());
      const step = strand ? stepOf(pattern, strand) : pattern.step;
      return [choice('step', pieceOf(cursorPiece()).name, String(step), RATES)];
    },
    commands: (v, { pattern }) => [
      {
        type: 'set strand step',
        pattern: pattern.id,
        piece: cursorPiece(),
        step: v.number('step'),
      },
    ],
  },
  {
    id: 'own-loop',
    name: 'own loop length …',
    group: 'row',
    letter: 'l',
    free: true,
    fields({ pattern }) {
      const strand = findStrand(pattern, cursorPiece());
      const step = strand ? stepOf(pattern, strand) : pattern.step;
      const most = Math.ceil(pattern.length / step);
      const now = Math.round((strand?.loopTicks ?? pattern.length) / step);
      return [number('steps', `steps of ${most}`, now, [1, most])];
    },
    commands(v, { pattern }) {
      const strand = findStrand(pattern, cursorPiece());
      const step = strand ? stepOf(pattern, strand) : pattern.step;
      return [
        {
          type: 'set strand loop',
          pattern: pattern.id,
          piece: cursorPiece(),
          loop: v.number('steps') * step,
        },
      ];
    },
    remark(v, { pattern }) {
      const strand = findStrand(pattern, cursorPiece());
      if (!strand) return undefined;
      const loop = v.number('steps') * stepOf(pattern, strand);
      const gone = strand.hits.filter((hit) => hit.at >= loop).length;
      return gone > 0
        ? `${gone} ${gone === 1 ? 'hit' : 'hits'} behind the join ${gone === 1 ? 'goes' : 'go'}.`
        : undefined;
    },
  },
];

const PATTERN: Tool[] = [
  {
    id: 'swing',
    name: 'swing …',
    group: 'pattern',
    letter: 's',
    free: true,
    fields: ({ pattern: { swing } }) => [
      number('percent', 'second note at', swing?.percent ?? 58, SWING_LIMITS, { unit: '%' }),
      choice('unit', 'of pairs of', String(swing?.unit ?? 240), [
        ['480', '1/8'],
        ['240', '1/16'],
        ['120', '1/32'],
      ]),
    ],
    commands: (v, { pattern }) => [
      {
        type: 'set swing',
        pattern: pattern.id,
        swing: { percent: v.number('percent'), unit: v.number('unit') },
      },
    ],
    remark: (v) =>
      v.number('percent') === 50
        ? 'Straight.'
        : 'What sounds is shifted; hits stay on their steps.',
  },
];

/** Every tool of Shape, by group. */
export const TOOLS: readonly Tool[] = [
  ...SELECT,
  ...VELOCITY,
  ...TIMING,
  FORGET_FEEL,
  ...VOICE,
  ...TIME,
  ...ORNAMENTS,
  ...ROW,
  ...PATTERN,
];

export function findTool(id: string): Tool | undefined {
  return TOOLS.find((tool) => tool.id === id);
}
