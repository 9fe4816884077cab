import { findStrand, HIT_LIMITS, pieceOf } from '../model';
import {
  allIds,
  barOfStep,
  describedHits,
  grownSelection,
  invertedSelection,
  shrunkSelection,
  type Description,
} from '../pattern';
import { pushOfMs } from '../time';
import { ms } from './common';
import type { Offer } from './definition';
import {
  ask,
  choice,
  id,
  number,
  text,
  type Bench,
  type Option,
  type Told,
  type Values,
} from './value';

/** A way of choosing hits: it changes what is selected, and nothing of the song. */
export interface Choosing<V = Values> {
  values: V;
  choose(bench: Bench, told: Told<V>): readonly string[];
  offer: Offer;
}

const choosing = <const V extends object>(
  values: V,
  choose: Choosing<V>['choose'],
  words: string,
  letter: string,
  keys?: readonly string[],
): Choosing<V> => ({
  values,
  choose,
  offer: { words, menu: 'select', letter, ...(keys && { keys }) },
});

const ANY: Option<string> = ['any', 'any'];

const ALL = {
  'select everything': choosing({}, ({ pattern }) => [...allIds(pattern)], 'everything', 'a', [
    'mod+a',
  ]),
  'select the row': choosing(
    {},
    ({ pattern, cursor }) => (findStrand(pattern, cursor.piece)?.hits ?? []).map((hit) => hit.id),
    'the row',
    'r',
    ['r'],
  ),
  'select the rest of the row': choosing(
    {},
    ({ pattern, cursor }) =>
      (findStrand(pattern, cursor.piece)?.hits ?? []).flatMap(({ id: hit, at }) =>
        at >= cursor.at ? [hit] : [],
      ),
    'the row from here on',
    'h',
  ),
  'select the bar': choosing(
    {},
    ({ pattern, cursor }) => {
      const { from, to } = barOfStep(pattern, cursor.at);
      return pattern.strands.flatMap(({ hits }) =>
        hits.filter((hit) => hit.at >= from && hit.at < to).map((hit) => hit.id),
      );
    },
    'the bar',
    'b',
  ),
  'grow the selection': choosing(
    {},
    ({ pattern, ids }) => grownSelection(pattern, new Set(ids)),
    'grow by a hit each way',
    'g',
  ),
  'shrink the selection': choosing(
    {},
    ({ pattern, ids }) => shrunkSelection(pattern, new Set(ids)),
    'shrink by a hit each way',
    's',
  ),
  'invert the selection': choosing(
    {},
    ({ pattern, ids }) => invertedSelection(pattern, new Set(ids)),
    'invert',
    'i',
  ),
  'select by description': choosing(
    {
      piece: ask(id('piece'), 'piece', 'any', {
        options: ({ pattern, song }) => [
          ANY,
          ...pattern.strands.map(({ piece }): Option<string> => [
            piece,
            pieceOf(piece, song.kit).name,
          ]),
        ],
      }),
      articulation: ask(text(), 'struck', 'any', {
        options: ({ pattern, song }) => [
          ['any', 'any way'],
          ...new Map(
            pattern.strands.flatMap(({ piece }) =>
              pieceOf(piece, song.kit).articulations.map((a) => [a.id, a.name] as const),
            ),
          ),
        ],
      }),
      beat: ask(choice(['any', 'on the beat', 'off-beat', 'between']), 'place', 'any', {
        options: [
          ['any', 'anywhere'],
          ['on the beat', 'on the beat'],
          ['off-beat', 'off-beats'],
          ['between', 'between those'],
        ],
      }),
      every: ask(number([1, 16], { whole: true }), 'every n-th', 1),
      low: ask(number(HIT_LIMITS.velocity), 'velocity from', 1),
      high: ask(number(HIT_LIMITS.velocity), 'velocity to', 127),
      off: ms('off by more than', 0, [0, 120]),
      figures: ask(choice(['any', 'ghosts', 'bursts', 'flams', 'cycles']), 'only', 'any', {
        options: [
          ['any', 'any hit'],
          ['ghosts', 'ghosts'],
          ['bursts', 'bursts'],
          ['flams', 'flams and drags'],
          ['cycles', 'hits of every n-th time'],
        ],
      }),
      how: ask(choice(['instead', 'besides']), 'selected', 'instead', {
        options: [
          ['instead', 'instead of the selection'],
          ['besides', 'besides the selection'],
        ],
      }),
    },
    (
      { pattern, song, ids },
      { piece, articulation, beat, every, low, high, off, figures, how },
    ) => {
      const some = <T extends string>(value: T | 'any') => (value === 'any' ? undefined : value);
      const wanted: Description = {
        ...(piece !== 'any' && { pieces: [piece] }),
        articulation: some(articulation),
        beat: some(beat) as Description['beat'],
        every,
        velocity: [low, high],
        ...(off > 0 && { offBy: pushOfMs(off, song.bpm) }),
        figures: some(figures) as Description['figures'],
      };
      const found = describedHits(pattern, wanted);
      return how === 'besides' ? [...new Set([...ids, ...found])] : found;
    },
    'select by description …',
    'd',
  ),
};

export type ChoosingName = keyof typeof ALL;

/** Every way of choosing hits, by its name. */
export const CHOOSING = ALL as unknown as Readonly<
  Record<ChoosingName, Omit<Choosing, 'choose'> & { choose(bench: Bench, told: never): string[] }>
>;

export const CHOOSING_NAMES = Object.keys(ALL) as ChoosingName[];
