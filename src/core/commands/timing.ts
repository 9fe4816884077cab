import { HIT_LIMITS, pieceOf, SWING_LIMITS, type Feel, type Song } from '../model';
import {
  allIds,
  applyFeel,
  humanize,
  layBack,
  quantize,
  setPush,
  straighten,
  swingHits,
  takeFeel,
  unmappedHits,
} from '../pattern';
import { pushOfMs } from '../time';
import { ms, percent, RATES, seed, swingUnit } from './common';
import { onHits, onSong } from './definition';
import {
  ask,
  choice,
  found,
  id,
  list,
  number,
  text,
  type Bench,
  type Option,
  type Told,
} from './value';

/** When hits sound, and feels. */
export const TIMING = {
  'timing offset': onHits(
    { push: number(HIT_LIMITS.push) },
    (pattern, ids, { push }) => setPush(pattern, ids, push),
    'earlier',
  ),
  quantize: onHits(
    {
      strength: percent('strength', 100),
      grid: ask(choice([0, ...RATES.map(([ticks]) => ticks)]), 'grid', 0, {
        options: [[0, 'each row’s own steps'], ...RATES],
      }),
      swing: ask(number(SWING_LIMITS), 'swing', 50, { unit: '%' }),
      window: ms('only nearer than (0: all)', 0, [0, 200]),
    },
    (pattern, ids, told, { bpm }) =>
      quantize(pattern, ids, { ...told, window: pushOfMs(told.window, bpm) }),
    { words: 'quantize …', menu: 'timing', letter: 'q' },
  ),
  humanize: onHits(
    {
      timing: ms('timing strays by', 8, [0, 60]),
      velocity: ask(number([0, 64]), 'velocity strays by', 8),
      bias: ask(number([-100, 100]), 'early or late', 0, { unit: '%' }),
      seed: seed(),
    },
    (pattern, ids, told, { bpm }) =>
      humanize(pattern, ids, { ...told, timing: Math.min(480, pushOfMs(told.timing, bpm)) }),
    { words: 'humanize …', menu: 'timing', letter: 'h' },
  ),
  'swing hits': onHits(
    {
      percent: ask(number(SWING_LIMITS), 'the second of a pair at', 58, { unit: '%' }),
      unit: swingUnit(),
    },
    (pattern, ids, told) => swingHits(pattern, ids, told),
    { words: 'swing …', menu: 'timing', letter: 'w' },
    () => 'None of the chosen hits is the second of such a pair.',
  ),
  'push or lay back': onHits(
    { by: ms('early (−) or late', 6, [-60, 60]) },
    (pattern, ids, { by }, { bpm }) => layBack(pattern, ids, { by: pushOfMs(by, bpm) }),
    { words: 'push or lay back …', menu: 'timing', letter: 'l' },
  ),
  nudge: onHits(
    { by: ask(number([-960, 960]), 'ticks, 960 to a beat', 10, { limits: [-240, 240] }) },
    (pattern, ids, told) => layBack(pattern, ids, told),
    { words: 'nudge by ticks …', menu: 'timing', letter: 'n' },
  ),
  straighten: onHits(
    { percent: percent('strength', 100) },
    (pattern, ids, told) => straighten(pattern, ids, told),
    { words: 'straighten …', menu: 'timing', letter: 's' },
  ),
  'apply feel': onHits(
    {
      feel: ask(id('feel'), 'feel of', (bench) => feelOptions(bench)[0]?.[0] ?? '', {
        options: feelOptions,
      }),
      percent: percent('amount', 100),
    },
    (pattern, ids, told, song) => {
      const feel = feelOf(song, told.feel);
      return feel ? applyFeel(pattern, ids, { ...told, feel }) : NO_FEEL;
    },
    {
      words: 'apply a feel …',
      menu: 'timing',
      letter: 'f',
      remark({ feel: wanted }: Told<{ feel: ReturnType<typeof id> }>, bench) {
        const { pattern, ids, song } = bench;
        const feel = feelOf(song, wanted);
        if (!feel) return NO_FEEL;
        const { count, first } = unmappedHits(pattern, new Set(ids), feel);
        if (!first) return undefined;
        const piece = pieceOf(first.piece, song.kit).name.toLowerCase();
        const where = `${piece} at step ${first.at / pattern.step + 1}`;
        return `${count} ${count === 1 ? 'hit lies' : 'hits lie'} on steps this feel says nothing about (first: ${where}); they stay.`;
      },
    },
    () =>
      'The feel says nothing about the steps of the chosen hits, or they are played so already.',
  ),
  'keep feel': onSong(
    {
      pattern: found(id('pattern'), (bench) => bench.pattern.id),
      ids: found(list(id('hit')), (bench) => bench.ids),
      name: ask(
        text(200, /\S/, 'a name'),
        'name of the feel',
        ({ pattern }) => `${pattern.name}, feel`,
      ),
    },
    (song, { pattern: of, ids, name }) => {
      const pattern = song.patterns.find((one) => one.id === of);
      if (!pattern) return song;
      const wanted = new Set(ids);
      const feel = takeFeel(pattern, wanted, { id: `feel-${name.trim()}`, name: name.trim() });
      if (feel.points.length === 0) return 'Select the hits whose feel is to be kept first.';
      return { ...song, feels: [...song.feels.filter((one) => one.id !== feel.id), feel] };
    },
    {
      words: 'keep a feel …',
      menu: 'timing',
      letter: 'k',
      remark: (_, { ids }) => `The timing and velocity of ${ids.length} hits.`,
    },
  ),
  'remove feel': onSong(
    {
      feel: ask(id('feel'), 'feel', ({ song }) => song.feels[0]?.id ?? '', {
        options: ({ song }) => song.feels.map((one) => [one.id, one.name] as const),
      }),
    },
    (song, { feel }) =>
      song.feels.some((one) => one.id === feel)
        ? { ...song, feels: song.feels.filter((one) => one.id !== feel) }
        : 'No feel was kept in this song.',
    { words: 'forget a feel …', menu: 'timing', letter: 'r' },
  ),
};

const NO_FEEL = 'Keep a feel first: take one from this or another pattern.';

/** The feels that were kept, and those of the other patterns as they are. */
function feelOptions({ song, pattern }: Bench): Option<string>[] {
  return [
    ...song.feels.map((one): Option<string> => [one.id, one.name]),
    ...song.patterns
      .filter((other) => other.id !== pattern.id)
      .map((other): Option<string> => [`of ${other.id}`, other.name]),
  ];
}

/** A feel that was kept, or the one of another pattern. */
function feelOf({ feels, patterns }: Song, wanted: string): Feel | undefined {
  const pattern = patterns.find((other) => `of ${other.id}` === wanted);
  return pattern
    ? takeFeel(pattern, allIds(pattern), { id: wanted, name: pattern.name })
    : feels.find((feel) => feel.id === wanted);
}
