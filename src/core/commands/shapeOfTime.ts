import {
  doubleTime,
  fillTo,
  halfTime,
  mirror,
  reverse,
  roomToStretch,
  rotate,
  thinEvery,
  thinSoftest,
  densify,
  barOfStep,
  chosenHits,
} from '../pattern';
import type { Pattern } from '../model';
import { percent } from './common';
import { onHits } from './definition';
import { ask, number } from './value';

/** The shape of time: halves, doubles, repeats. */
export const SHAPE_OF_TIME = {
  reverse: onHits({}, (pattern, ids) => reverse(pattern, ids), {
    words: 'reverse',
    menu: 'time',
    letter: 'r',
  }),
  mirror: onHits({}, (pattern, ids) => mirror(pattern, ids), {
    words: 'mirror',
    menu: 'time',
    letter: 'm',
  }),
  'half time': onHits(
    {},
    (pattern, ids) => halfTime(pattern, ids),
    { words: 'half time', menu: 'time', letter: 'h' },
    (pattern, ids) =>
      roomToStretch(pattern, ids)
        ? undefined
        : 'There is no room: the pattern would have to be longer, or what is chosen shorter.',
  ),
  'double time': onHits(
    {},
    (pattern, ids) => doubleTime(pattern, ids),
    { words: 'double time', menu: 'time', letter: 'd' },
    () => 'It cannot be half as long: no pattern is shorter than a 64th note.',
  ),
  'fill the bar': onHits(
    {},
    (pattern, ids, _, { kit }) => fillTo(pattern, ids, endOfBar(pattern, ids), kit),
    { words: 'repeat to fill the bar', menu: 'time', letter: 'b' },
    () => 'There is no room after the chosen hits in their bar.',
  ),
  'fill the pattern': onHits(
    {},
    (pattern, ids, _, { kit }) => fillTo(pattern, ids, pattern.length, kit),
    { words: 'repeat to fill the pattern', menu: 'time', letter: 'p' },
    () => 'There is no room after the chosen hits in the pattern.',
  ),
  rotate: onHits(
    {
      steps: ask(number([-1024, 1024], { whole: true }), 'steps', 1, {
        limits: ({ pattern }) => {
          const steps = Math.min(1024, Math.ceil(pattern.length / pattern.step));
          return [-steps, steps];
        },
      }),
    },
    (pattern, ids, told) => rotate(pattern, ids, told),
    { words: 'rotate …', menu: 'time', letter: 'o' },
  ),
  'thin to every n-th': onHits(
    { every: ask(number([2, 16], { whole: true }), 'keep every', 2) },
    (pattern, ids, told) => thinEvery(pattern, ids, told),
    { words: 'keep every n-th …', menu: 'time', letter: 'n' },
  ),
  'thin out the softest': onHits(
    { percent: percent('of the hits go', 30) },
    (pattern, ids, told) => thinSoftest(pattern, ids, told),
    { words: 'thin out the softest …', menu: 'time', letter: 's' },
  ),
  'fill the gaps': onHits(
    { percent: percent('as loud as the hit before', 45) },
    (pattern, ids, told) => densify(pattern, ids, told),
    { words: 'fill the gaps softly …', menu: 'time', letter: 'g' },
    () => 'There is no empty step between the chosen hits. A finer step rate makes room.',
  ),
};

/** The end of the bar in which the last of the chosen hits lies. */
function endOfBar(pattern: Pattern, ids: ReadonlySet<string>): number {
  const ats = chosenHits(pattern, ids).map(({ hit }) => hit.at);
  return barOfStep(pattern, Math.max(0, ...ats)).to;
}
