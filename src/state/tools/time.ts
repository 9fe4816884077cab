import { type Tool, number, percent, by } from './tool';

/** The shape of time: halves, doubles, turns. */
export const TIME: readonly Tool[] = [
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
