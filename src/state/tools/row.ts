import { findStrand } from '@/core';
import { pieceOf } from '@/core/model';
import { stepOf } from '@/core/pattern';
import { type Tool, number, choice, RATES, cursorPiece } from './tool';

/** What concerns one row. */
export const ROW: readonly Tool[] = [
  {
    id: 'own-step',
    name: 'own step rate …',
    group: 'row',
    letter: 'r',
    free: true,
    fields({ pattern }) {
      const strand = findStrand(pattern, cursorPiece());
      const step = strand ? stepOf(pattern, strand) : pattern.step;
      return [choice('step', pieceOf(cursorPiece()).name, String(step), RATES)];
    },
    commands: (v, { pattern }) => [
      {
        type: 'set strand step',
        pattern: pattern.id,
        piece: cursorPiece(),
        step: v.number('step'),
      },
    ],
  },
  {
    id: 'own-loop',
    name: 'own loop length …',
    group: 'row',
    letter: 'l',
    free: true,
    fields({ pattern }) {
      const strand = findStrand(pattern, cursorPiece());
      const step = strand ? stepOf(pattern, strand) : pattern.step;
      const most = Math.ceil(pattern.length / step);
      const now = Math.round((strand?.loopTicks ?? pattern.length) / step);
      return [number('steps', `steps of ${most}`, now, [1, most])];
    },
    commands(v, { pattern }) {
      const strand = findStrand(pattern, cursorPiece());
      const step = strand ? stepOf(pattern, strand) : pattern.step;
      return [
        {
          type: 'set strand loop',
          pattern: pattern.id,
          piece: cursorPiece(),
          loop: v.number('steps') * step,
        },
      ];
    },
    remark(v, { pattern }) {
      const strand = findStrand(pattern, cursorPiece());
      if (!strand) return undefined;
      const loop = v.number('steps') * stepOf(pattern, strand);
      const gone = strand.hits.filter((hit) => hit.at >= loop).length;
      return gone > 0
        ? `${gone} ${gone === 1 ? 'hit' : 'hits'} behind the join ${gone === 1 ? 'goes' : 'go'}.`
        : undefined;
    },
  },
];
