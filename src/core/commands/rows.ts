import { findStrand, MAX_TICKS, MIN_STEP, type Pattern } from '../model';
import {
  addStrand,
  asItCame,
  clearStrand,
  removeStrand,
  setStrandLoop,
  setStrandStep,
  stepOf,
} from '../pattern';
import { nameOfRow, RATES, rowHere } from './common';
import { onPattern } from './definition';
import { ask, id, number, type Bench, type Told } from './value';

/** The step of the cursor's row. */
const stepHere = ({ pattern, cursor }: Bench) => stepOfPiece(pattern, cursor.piece);

function stepOfPiece(pattern: Pattern, piece: string): number {
  return stepOf(pattern, findStrand(pattern, piece) ?? {});
}

const stepsIn = (bench: Bench) => Math.ceil(bench.pattern.length / stepHere(bench));

/** What concerns one row. */
export const ROWS = {
  'add strand': onPattern(
    { piece: id('piece') },
    (pattern, { piece }, { kit }) => addStrand(pattern, piece, kit),
    'add-strand',
    'The pattern has this row already.',
  ),
  'remove strand': onPattern(
    { piece: rowHere() },
    (pattern, { piece }) => removeStrand(pattern, piece),
    'remove-strand',
  ),
  'as it came': onPattern(
    { piece: rowHere() },
    (pattern, { piece }, { kit }) => asItCame(pattern, piece, kit),
    { words: 'reset to its groove', menu: 'row', letter: 'c' },
    'This row is as it came, or was not taken from another groove.',
  ),
  'clear strand': onPattern(
    { piece: rowHere() },
    (pattern, { piece }) => clearStrand(pattern, piece),
    { words: 'clear its hits', menu: 'row', letter: 'q' },
    'This row has no hits.',
  ),
  'set strand step': onPattern(
    {
      piece: rowHere(),
      step: ask(number([MIN_STEP, MAX_TICKS]), nameOfRow, stepHere, { options: RATES }),
    },
    (pattern, { piece, step }) => setStrandStep(pattern, piece, step),
    { words: 'own step rate …', menu: 'row', letter: 'r' },
    'The row is written at this step rate already.',
  ),
  'set strand loop': onPattern(
    {
      piece: rowHere(),
      steps: ask(
        number([1, 20_000], { whole: true }),
        (bench) => `steps of ${stepsIn(bench)}`,
        (bench) => {
          const strand = findStrand(bench.pattern, bench.cursor.piece);
          return Math.round((strand?.loopTicks ?? bench.pattern.length) / stepHere(bench));
        },
        { limits: (bench) => [1, stepsIn(bench)] },
      ),
    },
    (pattern, { piece, steps }) =>
      setStrandLoop(pattern, piece, steps * stepOfPiece(pattern, piece)),
    {
      words: 'own loop length …',
      menu: 'row',
      letter: 'l',
      remark({ steps }: Told<{ steps: ReturnType<typeof number> }>, bench) {
        const strand = findStrand(bench.pattern, bench.cursor.piece);
        if (!strand) return undefined;
        const gone = strand.hits.filter((hit) => hit.at >= steps * stepHere(bench)).length;
        return gone > 0
          ? `${gone} ${gone === 1 ? 'hit' : 'hits'} behind the join ${gone === 1 ? 'goes' : 'go'}.`
          : undefined;
      },
    },
    'The row loops like this already.',
  ),
};
