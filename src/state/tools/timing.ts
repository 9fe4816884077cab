import { pushOfMs } from '@/core/time';
import type { Pattern } from '@/core';
import { SWING_LIMITS, pieceOf } from '@/core/model';
import { takeFeel, unmappedHits, allIds } from '@/core/pattern';
import { openSongNow } from '../store';
import { type Tool, number, choice, seed, percent, ms, by, RATES } from './tool';

/** When hits sound, and feels. */
export const TIMING: readonly Tool[] = [
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

export const FORGET_FEEL: Tool = {
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
