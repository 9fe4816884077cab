'use client';

import { useEffect, useMemo, useRef, useState, type PointerEvent } from 'react';
import type { Pattern } from '@/core';
import { articulationOf, pieceOf } from '@/core/model/pieces';
import { patternTickAt } from '@/core/weave/where';
import { barTicks, beatTicks } from '@/core/time/meter';
import { PieceSign } from '@/look/Notehead';
import { useEveryFrame } from '@/look/useEveryFrame';
import { setCursor } from '@/state/shape';
import { useWorkbench } from '@/state/store';
import {
  locate,
  MAX_LOOP_BARS,
  playhead,
  setHear,
  setPatternLoop,
  strike,
} from '@/state/transport';
import { geometryOf, type Geometry, type RowPlace } from './geometry';
import { cellId } from './ids';
import { Row } from './Row';
import styles from './Sheet.module.css';
import { useStrokes } from './useStrokes';

const NAMES_WIDTH = 172;
const RULER_HEIGHT = 24;

/** The pattern as rows of stems under its bar numbers. */
export function Sheet({ pattern }: { pattern: Pattern }) {
  const scroller = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState({ width: 0, height: 0 });
  const [scrolled, setScrolled] = useState(0);
  useEffect(() => {
    const element = scroller.current;
    if (!element) return;
    const observer = new ResizeObserver(() =>
      setSize({ width: element.clientWidth, height: element.clientHeight }),
    );
    observer.observe(element);
    return () => observer.disconnect();
  }, []);
  const { length, step, strands } = pattern;
  const pieces = strands.map((strand) => strand.piece).join();
  const geometry = useMemo(
    () => geometryOf(pattern, size.width - NAMES_WIDTH, size.height - RULER_HEIGHT - 4),
    // Hits do not change where things lie: while one is placed, rows and steps stay the same value.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [length, step, pieces, size],
  );
  // Whole bars, so that scrolling does not draw every row anew at every pixel.
  const bar = barTicks(pattern.meter);
  const from = Math.max(0, Math.floor(geometry.tick(scrolled) / bar) * bar);
  const to = Math.min(length, Math.ceil(geometry.tick(scrolled + size.width) / bar) * bar);
  return (
    <div className={styles.sheet}>
      <div
        ref={scroller}
        className={styles.scroller}
        onScroll={(event) => setScrolled(event.currentTarget.scrollLeft)}
      >
        {size.width > 0 && (
          <div className={styles.inner}>
            <div className={styles.corner} />
            <Ruler pattern={pattern} geometry={geometry} />
            <Names pattern={pattern} geometry={geometry} />
            <Body
              pattern={pattern}
              geometry={geometry}
              from={Math.floor(from / step) * step}
              to={to}
              scroller={scroller}
            />
          </div>
        )}
      </div>
    </div>
  );
}

/** Bars and beats; press to go there, drag to loop bars. */
function Ruler({ pattern, geometry }: { pattern: Pattern; geometry: Geometry }) {
  const loop = useWorkbench((state) => state.patternLoop);
  const start = useRef<number>(undefined);
  const bar = barTicks(pattern.meter);
  const beat = beatTicks(pattern.meter);
  const beats = Math.ceil(pattern.length / beat);
  const wide = (geometry.width * beat) / pattern.length > 20;
  const barAt = (event: PointerEvent<HTMLElement>) => {
    const { left } = event.currentTarget.getBoundingClientRect();
    const tick = geometry.tick(event.clientX - left);
    return Math.max(0, Math.min(Math.ceil(pattern.length / bar) - 1, Math.floor(tick / bar)));
  };
  const loopTo = (event: PointerEvent<HTMLElement>) => {
    if (start.current === undefined) return;
    const end = barAt(event);
    const first = Math.min(start.current, end);
    const last = Math.min(Math.max(start.current, end), first + MAX_LOOP_BARS - 1);
    const whole = first === 0 && (last + 1) * bar >= pattern.length;
    setPatternLoop(
      whole ? undefined : { from: first * bar, to: Math.min(pattern.length, (last + 1) * bar) },
    );
  };
  return (
    <div
      className={styles.ruler}
      style={{ width: geometry.width }}
      title="press to go there, drag to loop bars"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        start.current = barAt(event);
        setHear('pattern');
        locate(start.current * bar);
      }}
      onPointerMove={(event) => {
        if (start.current !== undefined && event.movementX !== 0) loopTo(event);
      }}
      onPointerUp={() => (start.current = undefined)}
      onDoubleClick={() => setPatternLoop(undefined)}
    >
      {Array.from({ length: beats }, (_, i) => i * beat).map((at) => {
        const isBar = at % bar === 0;
        if (!isBar && !wide) return null;
        return (
          <span
            key={at}
            className={isBar ? styles.bar : undefined}
            style={{ left: geometry.x(at) }}
          >
            {isBar ? at / bar + 1 : (at % bar) / beat + 1}
          </span>
        );
      })}
      {loop && (
        <div
          className={styles.loop}
          style={{
            left: geometry.x(loop.from),
            width: geometry.x(Math.min(loop.to, pattern.length)) - geometry.x(loop.from),
          }}
        />
      )}
    </div>
  );
}

/** The kit pieces; press a name to hear it. */
function Names({ pattern, geometry }: { pattern: Pattern; geometry: Geometry }) {
  const current = useWorkbench((state) => state.cursor.piece);
  const chosen = useWorkbench((state) => state.articulations);
  return (
    <div className={styles.names} style={{ height: geometry.height }}>
      {geometry.rows.map((row) => {
        const { name, articulations } = pieceOf(row.piece);
        const coming = articulationOf(row.piece, chosen[row.piece] ?? '');
        const hits = pattern.strands.find((s) => s.piece === row.piece)?.hits ?? [];
        const used = articulations.filter((a) => hits.some((hit) => hit.articulation === a.id));
        const ways = used.length > 1 || coming !== articulations[0];
        return (
          <div
            key={row.piece}
            className={row.piece === current ? `${styles.name} ${styles.current}` : styles.name}
            style={{ top: row.top, height: row.height }}
          >
            <button
              type="button"
              tabIndex={-1}
              aria-label={`hear ${name}`}
              title={`${name}: press to hear it`}
              onClick={() => {
                setCursor(row.piece, useWorkbench.getState().cursor.at);
                strike(row.piece, coming.id, useWorkbench.getState().strength);
              }}
            >
              <PieceSign head={coming.head} />
              {name}
            </button>
            {ways && row.height > 44 && (
              <small>
                {coming !== articulations[0]
                  ? `next: ${coming.name}`
                  : used.map((a) => a.name).join(', ')}
              </small>
            )}
          </div>
        );
      })}
    </div>
  );
}

interface BodyProps {
  pattern: Pattern;
  geometry: Geometry;
  from: number;
  to: number;
  scroller: React.RefObject<HTMLDivElement | null>;
}

function Body({ pattern, geometry, from, to, scroller }: BodyProps) {
  const selection = useWorkbench((state) => state.selection);
  const cursor = useWorkbench((state) => state.cursor);
  const bpm = useWorkbench((state) => state.history!.song.tempo[0].bpm);
  const selected = useMemo(() => new Set(selection), [selection]);
  const { frame, handlers } = useStrokes(pattern, geometry);
  const rows = new Map(geometry.rows.map((row) => [row.piece, row]));
  const steps = Math.ceil(pattern.length / pattern.step);
  const lines = useMemo(() => linesOf(pattern, geometry), [pattern, geometry]);
  const cursorRow = rows.has(cursor.piece) ? cursor.piece : undefined;
  return (
    <div
      className={styles.body}
      style={{ width: geometry.width, height: geometry.height }}
      role="grid"
      tabIndex={0}
      aria-label={`${pattern.name}, steps by strands`}
      aria-rowcount={pattern.strands.length}
      aria-colcount={steps + 1}
      aria-multiselectable
      aria-activedescendant={
        cursorRow && cursor.at >= from && cursor.at < to ? cellId(cursorRow, cursor.at) : undefined
      }
      onContextMenu={(event) => event.preventDefault()}
      {...handlers}
    >
      {pattern.strands.map((strand, i) => {
        const row = rows.get(strand.piece);
        if (!row) return null;
        return (
          <div
            key={strand.piece}
            role="row"
            aria-rowindex={i + 1}
            aria-label={pieceOf(strand.piece).name}
            className={styles.row}
            style={rowStyle(row, geometry, pattern.dye)}
          >
            <svg
              className={styles.steps}
              width={geometry.width}
              height={row.height - 1}
              aria-hidden
            >
              <path d={lines.shade} fill="var(--paper-shade)" />
              <path d={lines.steps} stroke="var(--fine-line)" />
              <path d={lines.beats} stroke="var(--line)" />
              <path d={lines.bars} stroke="var(--soft-ink)" strokeWidth={1.5} />
            </svg>
            <Row
              pattern={pattern}
              strand={strand}
              row={row}
              geometry={geometry}
              selected={selected}
              bpm={bpm}
              from={from}
              to={to}
              cursorAt={strand.piece === cursor.piece ? cursor.at : undefined}
            />
          </div>
        );
      })}
      {frame && <div className={styles.frame} style={frame} />}
      <Playhead pattern={pattern} geometry={geometry} scroller={scroller} />
    </div>
  );
}

function rowStyle(row: RowPlace, geometry: Geometry, dye: number) {
  return {
    top: row.top,
    height: row.height,
    width: geometry.width,
    '--row-dye': `var(--dye-${dye})`,
  } as React.CSSProperties;
}

/** The lines behind the hits, the same for all rows; rows are cut to their own heights. */
function linesOf(pattern: Pattern, geometry: Geometry) {
  const { length, step, meter } = pattern;
  const [bar, beat] = [barTicks(meter), beatTicks(meter)];
  const tall = 200;
  const line = (at: number) => `M${geometry.x(at).toFixed(1)} 0V${tall}`;
  const each = (by: number, wanted: (at: number) => boolean) => {
    let path = '';
    for (let at = 0; at <= length; at += by) if (wanted(at)) path += line(at);
    return path;
  };
  let shade = '';
  for (let at = beat; at < length; at += 2 * beat) {
    const [x, right] = [geometry.x(at), geometry.x(Math.min(length, at + beat))];
    shade += `M${x} 0H${right}V${tall}H${x}Z`;
  }
  return {
    shade,
    steps: each(step, (at) => at % beat !== 0),
    beats: each(beat, (at) => at % bar !== 0),
    bars: each(bar, () => true) + (length % bar === 0 ? '' : line(length)),
  };
}

/** Where the music is: in the pattern heard alone, or in the song where it plays this pattern. */
function Playhead({ pattern, geometry, scroller }: Omit<BodyProps, 'from' | 'to'>) {
  const line = useRef<HTMLDivElement>(null);
  useEveryFrame(() => {
    if (!line.current) return;
    const { hear, playing, history } = useWorkbench.getState();
    const tick = playhead();
    const local =
      hear === 'pattern' ? tick % pattern.length : patternTickAt(history!.song, pattern, tick);
    line.current.style.visibility = local === undefined || tick < 0 ? 'hidden' : 'visible';
    line.current.style.opacity = playing ? '1' : '0.3';
    if (local === undefined) return;
    const x = geometry.x(local);
    line.current.style.transform = `translateX(${x.toFixed(1)}px)`;
    const view = scroller.current;
    if (!playing || !view || view.scrollWidth <= view.clientWidth) return;
    const room = view.clientWidth - NAMES_WIDTH;
    if (x < view.scrollLeft || x > view.scrollLeft + room)
      view.scrollTo({ left: Math.max(0, x - 40) });
  });
  return <div ref={line} className={styles.playhead} style={{ height: geometry.height }} />;
}
