import { ACCENT_STEPS } from '@/core/pattern';
import { type Tool, number, choice, seed, percent, velocity, by, ends } from './tool';

/** How hard hits are struck. */
export const VELOCITY: readonly Tool[] = [
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
