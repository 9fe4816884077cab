import { HIT_LIMITS, MAX_TICKS } from '../model';
import {
  ACCENT_STEPS,
  accentSteps,
  addVelocity,
  alternateHands,
  drawVelocityLine,
  ghostOffBeats,
  levelVelocity,
  rampVelocity,
  randomVelocity,
  scaleVelocity,
  setVelocities,
  setVelocity,
  spreadVelocity,
} from '../pattern';
import { ends, percent, seed, velocity } from './common';
import { onHits, onPattern } from './definition';
import { ask, choice, id, list, number, record, text } from './value';

/** How hard hits are struck. */
export const VELOCITY = {
  'set velocity': onPattern(
    {
      velocities: list(record({ id: id('hit'), velocity: number(HIT_LIMITS.velocity) })),
    },
    (pattern, { velocities }) =>
      setVelocities(pattern, new Map(velocities.map((one) => [one.id, one.velocity]))),
    'strike-1',
  ),
  'velocity line': onHits(
    {
      from: number([-MAX_TICKS, MAX_TICKS]),
      to: number([-MAX_TICKS, MAX_TICKS]),
      first: number(HIT_LIMITS.velocity),
      last: number(HIT_LIMITS.velocity),
    },
    (pattern, ids, line) => drawVelocityLine(pattern, ids, line),
    'write',
  ),
  'set velocity to': onHits(
    { velocity: velocity('velocity', (bench) => ends(bench)[0]) },
    (pattern, ids, told) => setVelocity(pattern, ids, told),
    { words: 'set …', menu: 'velocity', letter: 's' },
  ),
  'scale velocity': onHits(
    { percent: percent('of what it is', 100, 200) },
    (pattern, ids, told) => scaleVelocity(pattern, ids, told),
    { words: 'scale …', menu: 'velocity', letter: 'c' },
  ),
  'add velocity': onHits(
    { by: ask(number([-126, 126]), 'louder or softer', 0) },
    (pattern, ids, { by }) => addVelocity(pattern, ids, by),
    { words: 'add …', menu: 'velocity', letter: 'a' },
  ),
  'ramp velocity': onHits(
    {
      from: velocity('from', (bench) => ends(bench)[0]),
      to: velocity('to', (bench) => ends(bench)[1]),
    },
    (pattern, ids, told) => rampVelocity(pattern, ids, told),
    { words: 'ramp …', menu: 'velocity', letter: 'r' },
  ),
  'level velocity': onHits(
    { percent: percent('towards the mean', 50) },
    (pattern, ids, told) => levelVelocity(pattern, ids, told),
    { words: 'compress …', menu: 'velocity', letter: 'l' },
  ),
  'spread velocity': onHits(
    { percent: percent('away from the mean', 40, 200) },
    (pattern, ids, told) => spreadVelocity(pattern, ids, told),
    { words: 'expand …', menu: 'velocity', letter: 'p' },
  ),
  'random velocity': onHits(
    { low: velocity('softest', 60), high: velocity('loudest', 100), seed: seed() },
    (pattern, ids, told) => randomVelocity(pattern, ids, told),
    { words: 'random …', menu: 'velocity', letter: 'n' },
  ),
  'alternate hands': onHits(
    {
      softer: percent('the weak hand is softer by', 25, 90),
      lead: ask(choice(['strong', 'weak']), 'begins with', 'strong', {
        options: [
          ['strong', 'the strong hand'],
          ['weak', 'the weak hand'],
        ],
      }),
    },
    (pattern, ids, told) => alternateHands(pattern, ids, told),
    { words: 'strong and weak hand …', menu: 'velocity', letter: 'h' },
  ),
  'accent steps': onHits(
    {
      steps: ask(
        text(16, ACCENT_STEPS, '2 to 16 of x and dots with an x among them, as in x..x..'),
        'accents',
        'x..x..',
      ),
      louder: ask(number([0, 126]), 'accents louder by', 16),
      softer: ask(number([0, 126]), 'others softer by', 8),
    },
    (pattern, ids, told) => accentSteps(pattern, ids, told),
    { words: 'accent pattern …', menu: 'velocity', letter: 't' },
  ),
  'ghost the off-beats': onHits(
    { velocity: ask(number(HIT_LIMITS.velocity), 'velocity', 34, { limits: [1, 60] }) },
    (pattern, ids, told) => ghostOffBeats(pattern, ids, told),
    { words: 'ghost the off-beats …', menu: 'velocity', letter: 'g' },
    () => 'All chosen hits are on the beat, or are as soft already.',
  ),
};
