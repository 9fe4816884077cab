import { memo } from 'react';
import type { Hit, Pattern } from '@/core';
import type { Kit, PieceId } from '@/core/model';
import { hitOfStep, spokenCell } from '@/core/pattern';
import type { Bpm, Ticks } from '@/core/time';
import { cellId } from './ids';
import styles from './Sheet.module.css';

interface CellsProps {
  kit: Kit;
  piece: PieceId;
  meter: Pattern['meter'];
  step: Ticks;
  loop: Ticks;
  bpm: Bpm;
  /** The steps from `from` to `to`, and the hits that are heard on them. */
  from: Ticks;
  to: Ticks;
  hits: readonly Hit[];
  /** Those of them that are selected. */
  selected: string;
  cursorAt?: Ticks;
  left: number;
  width: number;
  height: number;
}

/** The steps of one bar of a row, for keyboard and screen reader. Drawn again only when it changes. */
export const Cells = memo(
  function Cells(props: CellsProps) {
    const { kit, piece, meter, step, loop, bpm, from, to, hits, selected, cursorAt } = props;
    const { left, width, height } = props;
    const chosen = new Set(selected.split(' '));
    const cells = [];
    for (let n = Math.ceil(from / step - 1e-6); n * step < to - 1e-6; n++) {
      const at = n * step;
      const hit = hitOfStep(hits, Number.isFinite(loop) ? at % loop : at, step);
      cells.push(
        <div
          key={at}
          id={cellId(piece, at)}
          role="gridcell"
          aria-colindex={n + 2}
          aria-selected={hit ? chosen.has(hit.id) : undefined}
          aria-label={spokenCell({ meter, step }, piece, at, hit, bpm, kit)}
          className={at === cursorAt ? styles.cursor : styles.cell}
          style={{ left: left + (at - from) * (width / step) - width * 0.3, width, height }}
        />,
      );
    }
    return cells;
  },
  (before, after) =>
    (Object.keys(after) as (keyof CellsProps)[]).every((key) =>
      key === 'hits' ? sameHits(before.hits, after.hits) : before[key] === after[key],
    ),
);

function sameHits(before: readonly Hit[], after: readonly Hit[]): boolean {
  return before.length === after.length && before.every((hit, i) => hit === after[i]);
}
