import {
  MAX_BARS,
  MAX_TICKS,
  MIN_PATTERN,
  MIN_STEP,
  SWING_LIMITS,
  TURNS,
  type Pattern,
} from '../model';
import {
  barsHolding,
  chosenHits,
  cropTo,
  grow,
  hitCount,
  insertBars,
  removeBars,
  repeatBars,
  secondsOf,
  setLength,
  countedIn,
  inMeter,
  METER_FITS,
  onUsualKit,
  setSwing,
  SWING_UNITS,
  type SwingUnit,
  takeOutSwing,
  takeTurn,
  writeOut,
  writeSwing,
} from '../pattern';
import { isMeter, MAX_METER_BEATS, METER_UNITS, type Meter } from '../time';
import { SWING_NAMES, swingUnit } from './common';
import { onPattern } from './definition';
import { ask, choice, found, number, optional, part, type Bench } from './value';

/** The bars of the chosen hits, or the bar of the cursor. */
function barsHere({ pattern, ids, cursor }: Bench): { from: number; to: number } {
  const ats = chosenHits(pattern, new Set(ids)).map(({ hit }) => hit.at);
  return barsHolding(pattern, ats.length > 0 ? ats : [cursor.at]);
}

const bar = () => number([0, MAX_BARS], { whole: true });
const theBars = {
  from: found(bar(), (bench: Bench) => barsHere(bench).from),
  to: found(bar(), (bench: Bench) => barsHere(bench).to),
};

/** A time signature. */
export const meterValue = () =>
  part<Meter>(
    `time signature of 1 to ${MAX_METER_BEATS} beats of ${METER_UNITS.join(', ')}`,
    (value) => isMeter(value as Meter),
  );

const NO_ROOM = `A pattern has whole bars, ${MAX_BARS} at most: there is no room for more.`;

/** What swing does to the hits that are there; where it does nothing, which notes would swing. */
function swingRemark(pattern: Pattern, unit: SwingUnit): string {
  if (secondsOf(pattern, unit) > 0) return 'What sounds is shifted; hits stay on their steps.';
  const other = SWING_UNITS.find((one) => secondsOf(pattern, one) > 0);
  const none = `No hit is the second of a pair of ${SWING_NAMES[unit]}: nothing is heard of it.`;
  if (other === undefined) return none;
  return `${none} Pairs of ${SWING_NAMES[other]} swing here.`;
}

/** What becomes of strokes in another meter: they stay where they are, or their bars are cut or stretched. */
export const METER_CHANGES = ['count', ...METER_FITS] as const;
export type MeterChangeWay = (typeof METER_CHANGES)[number];

/** What concerns the whole pattern: its bars, meter, steps and swing. */
export const BARS = {
  grow: onPattern({}, (pattern, _, { kit }) => grow(pattern, kit), 'grow', NO_ROOM),
  'onto usual kit': onPattern(
    {},
    (pattern, _, { kit }) => onUsualKit(pattern, kit),
    'usual-kit',
    'The usual kit plays all of it already.',
  ),
  'take a turn': onPattern(
    { kind: choice(TURNS), seed: number([0, 0xffffffff], { whole: true }) },
    (pattern, { kind, seed }, { kit }) => takeTurn(pattern, kind, seed, kit),
    'take-turn',
    'This change cannot be made in the last bar as it is.',
  ),
  'set swing': onPattern(
    {
      percent: ask(
        number(SWING_LIMITS),
        'second note at',
        ({ pattern }) => pattern.swing?.percent ?? 58,
        { unit: '%' },
      ),
      unit: swingUnit(),
    },
    (pattern, { percent, unit }) => setSwing(pattern, { percent, unit }),
    {
      words: 'swing …',
      menu: 'pattern',
      letter: 's',
      remark: ({ percent, unit }: { percent: number; unit: SwingUnit }, { pattern }: Bench) =>
        percent === 50 ? 'Straight.' : swingRemark(pattern, unit),
    },
  ),
  'write swing into the hits': onPattern(
    {},
    (pattern) => writeSwing(pattern),
    { words: 'write the swing into the hits', menu: 'pattern', letter: 'w' },
    'The pattern has no swing setting to write in.',
  ),
  'take swing out of the hits': onPattern(
    { unit: found(number([MIN_STEP, MAX_TICKS]), ({ pattern }: Bench) => pattern.step) },
    (pattern, { unit }) =>
      pattern.swing
        ? 'The pattern has a swing setting already: what its hits have beside it is their own.'
        : takeOutSwing(pattern, unit),
    { words: 'take the swing out of the hits', menu: 'pattern', letter: 't' },
    'The hits are not swung at this step rate: none of the second steps comes late.',
  ),
  'write out loops and every n-th time': onPattern(
    {},
    (pattern) => writeOut(pattern),
    { words: 'write out loops and every n-th time', menu: 'pattern', letter: 'c' },
    `There is nothing to write out, or it would be longer than ${MAX_BARS} bars.`,
  ),
  'insert bars': onPattern(
    { before: theBars.from, count: found(number([1, MAX_BARS], { whole: true }), () => 1) },
    (pattern, told) => insertBars(pattern, told),
    { words: 'insert a bar before', menu: 'pattern', letter: 'i' },
    NO_ROOM,
  ),
  'repeat bars': onPattern(
    theBars,
    (pattern, bars) => repeatBars(pattern, bars),
    { words: 'repeat the bar', menu: 'pattern', letter: 'r' },
    NO_ROOM,
  ),
  'remove bars': onPattern(
    theBars,
    (pattern, bars) => removeBars(pattern, bars),
    { words: 'remove the bar', menu: 'pattern', letter: 'x' },
    'A pattern keeps at least one bar.',
  ),
  'crop to bars': onPattern(
    theBars,
    (pattern, bars) => cropTo(pattern, bars),
    { words: 'crop to the bar', menu: 'pattern', letter: 'k' },
    'The pattern has no other bars.',
  ),
  'set length': onPattern(
    { length: number([MIN_PATTERN, MAX_TICKS]) },
    (pattern, { length }) => setLength(pattern, length),
    'longer',
    NO_ROOM,
  ),
  'set meter': onPattern(
    { meter: meterValue(), fit: optional(choice(METER_CHANGES)) },
    (pattern, { meter, fit = 'count' }) =>
      // Empty bars stay as many bars.
      fit !== 'count' || hitCount(pattern) === 0
        ? inMeter(pattern, meter, fit === 'count' ? 'cut' : fit)
        : countedIn(pattern, meter),
    'new-pattern',
  ),
  'set step': onPattern(
    { step: number([MIN_STEP, MAX_TICKS]) },
    (pattern, { step }) => (step === pattern.step ? pattern : { ...pattern, step }),
    'finer',
  ),
};
