import { SWING_LIMITS } from '@/core/model';
import { type Tool, number, choice } from './tool';

/** What concerns the whole pattern. */
export const PATTERN: readonly Tool[] = [
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
