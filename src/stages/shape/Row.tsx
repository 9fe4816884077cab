import { memo } from 'react';
import type { Pattern, Strand } from '@/core';
import { articulationOf } from '@/core/model/pieces';
import { hitOfStep, spokenCell } from '@/core/pattern/speak';
import type { Bpm, Ticks } from '@/core/time/units';
import { ACCENT_FROM, GHOST_BELOW } from '@/core/model/limits';
import { Notehead } from '@/look/Notehead';
import { accentLine, STEM_FOOT, type Geometry, type RowPlace } from './geometry';
import { cellId } from './ids';
import styles from './Sheet.module.css';

export interface RowProps {
  pattern: Pattern;
  strand: Strand;
  row: RowPlace;
  geometry: Geometry;
  selected: ReadonlySet<string>;
  bpm: Bpm;
  /** The steps that are in view: only these are grid cells. */
  from: Ticks;
  to: Ticks;
  cursorAt?: Ticks;
}

/** One strand as its own velocity chart. */
export const Row = memo(function Row(props: RowProps) {
  const { strand, row, geometry, selected } = props;
  const accent = accentLine(geometry, row);
  return (
    <>
      <svg width={geometry.width} height={row.height} className={styles.hits} aria-hidden>
        <line x1={0} x2={geometry.width} y1={accent} y2={accent} className={styles.accentLine} />
        {strand.hits.map((hit) => {
          const x = geometry.x(hit.at + hit.push);
          const foot = row.height - STEM_FOOT;
          const head = foot - geometry.stem(hit.velocity, row);
          const ghost = hit.velocity < GHOST_BELOW;
          const off = Math.abs(hit.push) * (geometry.stepWidth / props.pattern.step) > 1;
          return (
            <g
              key={hit.id}
              className={selected.has(hit.id) ? styles.selected : ghost ? styles.ghost : undefined}
            >
              {off && (
                <line x1={geometry.x(hit.at)} x2={x} y1={foot} y2={foot} className={styles.push} />
              )}
              <line x1={x} x2={x} y1={foot} y2={head} strokeWidth={ghost ? 1.4 : 2.2} />
              <g transform={`translate(${x} ${head})`}>
                <Notehead head={articulationOf(strand.piece, hit.articulation).head} />
                {ghost && (
                  <path d="M-7 -4Q-10 0 -7 4M7 -4Q10 0 7 4" fill="none" strokeWidth={1.2} />
                )}
                {hit.velocity >= ACCENT_FROM && (
                  <path d="M-4 -11L4 -8.5L-4 -6" fill="none" strokeWidth={1.3} />
                )}
              </g>
            </g>
          );
        })}
      </svg>
      <Cells {...props} />
    </>
  );
});

/** The steps of a row for keyboard and screen reader. */
function Cells({ pattern, strand, row, geometry, selected, bpm, from, to, cursorAt }: RowProps) {
  const { step } = pattern;
  const cells = [];
  for (let at = from; at < to; at += step) {
    const hit = hitOfStep(strand.hits, at, step);
    cells.push(
      <div
        key={at}
        id={cellId(strand.piece, at)}
        role="gridcell"
        aria-colindex={at / step + 2}
        aria-selected={hit ? selected.has(hit.id) : undefined}
        aria-label={spokenCell(pattern, strand.piece, at, hit, bpm)}
        className={at === cursorAt ? styles.cursor : styles.cell}
        style={{
          left: geometry.x(at) - geometry.stepWidth * 0.3,
          width: geometry.stepWidth,
          height: row.height,
        }}
      />,
    );
  }
  return cells;
}
