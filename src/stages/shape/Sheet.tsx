'use client';

import {
  memo,
  useCallback,
  useDeferredValue,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type PointerEvent,
} from 'react';
import type { Hit, Pattern } from '@/core';
import { placedGuides } from '@/core/guide';
import { pieceOf } from '@/core/model';
import { bpmAt, openedTickAt, patternTickAt, silentRows, startOf } from '@/core/weave';
import { barTicks, pulseTicks, type Ticks } from '@/core/time';
import { GuideLine } from '@/look/GuideLine';
import { useTokens } from '@/look/LookProvider';
import { useAfterPaint } from '@/look/useAfterPaint';
import { useClientSize } from '@/look/useClientSize';
import { useEveryFrame } from '@/look/useEveryFrame';
import { sayScale, zoomRows, zoomTime } from '@/state/shape/view';
import { kitOf, patternOn, rowViewOf, useWorkbench } from '@/state/store';
import {
  locate,
  MAX_LOOP_BARS,
  playhead,
  setHear,
  setPatternLoop,
} from '@/state/transport/transport';
import { Cells } from './Cells';
import type { Sheet as Drawing } from './draw';
import { geometryOf, type Geometry, type RowPlace } from './geometry';
import { cellId } from './ids';
import { Names, NAMES_WIDTH } from './Names';
import styles from './Sheet.module.css';
import { Tiles } from './Tiles';
import { useElsewhere, useUnheard } from './useTracks';
import { useStrokes } from './useStrokes';

const RULER_HEIGHT = 24;
const GUIDE_HEIGHT = 30;

/** The part of the sheet that is in view, in pixels. */
interface View {
  left: number;
  width: number;
}

/** The pattern as rows of stems under its bar numbers. */
export function Sheet({ pattern }: { pattern: Pattern }) {
  const scroller = useRef<HTMLDivElement>(null);
  const size = useClientSize(scroller);
  const [scrolled, setScrolled] = useState(0);
  const inView = useMemo(() => ({ left: scrolled, width: size.width }), [scrolled, size.width]);
  const zoom = useWorkbench((state) => state.zoom);
  const laneOf = useWorkbench((state) => state.lane?.piece);
  const guides = useWorkbench((state) => state.history!.song.guides);
  const kit = useWorkbench(kitOf);
  const guideRoom = guides.length > 0 ? GUIDE_HEIGHT : 0;
  const { length, step } = pattern;
  const view = useWorkbench((state) => rowViewOf(state, pattern));
  const rows = pattern.strands.map((s) => [s.piece, s.stepTicks, s.loopTicks].join('/')).join();
  const geometry = useMemo(
    () =>
      geometryOf(
        pattern,
        view,
        size.width - NAMES_WIDTH,
        size.height - RULER_HEIGHT - 4 - guideRoom,
        zoom,
        laneOf,
        kit,
      ),
    // Hits do not change where things lie: while one is placed, rows and steps stay the same value.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [length, step, rows, view, size, zoom, laneOf, guideRoom, kit],
  );
  useZoom(scroller, geometry);
  // Names, bar numbers and guides may follow a moment after the hits.
  const later = useAfterPaint(pattern);
  const around = later.id === pattern.id ? later : pattern;
  useEffect(() => sayScale(geometry.scale), [geometry]);
  return (
    <div className={styles.sheet}>
      <div
        ref={scroller}
        className={styles.scroller}
        // A quarter of a view at a time: between two of those, scrolling draws nothing anew.
        onScroll={(event) => setScrolled(Math.floor(event.currentTarget.scrollLeft / 160) * 160)}
      >
        {size.width > 0 && (
          <div className={styles.inner}>
            <div className={styles.corner} />
            <Ruler pattern={around} geometry={geometry} />
            <Names pattern={around} geometry={geometry} />
            <Body pattern={pattern} geometry={geometry} view={inView} scroller={scroller} />
            {guideRoom > 0 && <Guides pattern={around} geometry={geometry} />}
          </div>
        )}
      </div>
    </div>
  );
}

/** What is played against, under the kick: the guides where the song first plays this pattern. */
const Guides = memo(function Guides({
  pattern,
  geometry,
}: {
  pattern: Pattern;
  geometry: Geometry;
}) {
  const song = useAfterPaint(useWorkbench((state) => state.history!.song));
  const opened = useWorkbench((state) => state.opened);
  const start = startOf(song, pattern, opened);
  const names = song.guides.map(({ name }) => name.toLowerCase()).join(', ');
  return (
    <>
      <div className={styles.guideName} title="a reference part is heard, and never a drum">
        {names}, reference part
      </div>
      <div className={styles.guide} style={{ height: GUIDE_HEIGHT }}>
        <GuideLine
          guides={placedGuides(song)}
          from={start}
          to={start + pattern.length}
          x={geometry.x}
          width={geometry.width}
          height={22}
        />
      </div>
    </>
  );
});

/** Ctrl with the wheel, or a pinch, zooms time where the pointer is; Alt with the wheel zooms rows. */
function useZoom(scroller: React.RefObject<HTMLDivElement | null>, geometry: Geometry): void {
  const held = useRef<{ tick: Ticks; x: number }>(undefined);
  const latest = useRef(geometry);
  useLayoutEffect(() => {
    const before = latest.current;
    latest.current = geometry;
    const view = scroller.current;
    if (!view || (!held.current && before.scale === geometry.scale)) return;
    const { tick, x } = held.current ?? heldByCursor(view, before);
    view.scrollTo({ left: geometry.x(tick) - x });
    held.current = undefined;
  }, [geometry, scroller]);
  const onWheel = useCallback((event: WheelEvent) => {
    const view = event.currentTarget as HTMLElement;
    if (!event.ctrlKey && !event.altKey) return;
    event.preventDefault();
    const by = Math.exp(-event.deltaY / 300);
    if (event.altKey) return zoomRows(by);
    const x = event.clientX - view.getBoundingClientRect().left - NAMES_WIDTH;
    held.current = { tick: latest.current.tick(view.scrollLeft + x), x };
    zoomTime(by, latest.current.scale);
  }, []);
  useEffect(() => {
    const view = scroller.current;
    // React's own wheel handlers are passive: they cannot keep the page from zooming.
    view?.addEventListener('wheel', onWheel, { passive: false });
    return () => view?.removeEventListener('wheel', onWheel);
  }, [scroller, onWheel]);
}

/** Zoomed by a key, or as steps become finer: the cursor stays where it is seen, or comes into sight. */
function heldByCursor(view: HTMLElement, before: Geometry): { tick: Ticks; x: number } {
  const { at: tick } = useWorkbench.getState().cursor;
  const room = view.clientWidth - NAMES_WIDTH;
  const x = before.x(tick) - view.scrollLeft;
  return { tick, x: x >= 0 && x <= room ? x : room / 3 };
}

/** Bars and beats; press to go there, drag to loop bars. */
const Ruler = memo(function Ruler({ pattern, geometry }: { pattern: Pattern; geometry: Geometry }) {
  const loop = useWorkbench((state) => state.patternLoop);
  const start = useRef<number>(undefined);
  const bar = barTicks(pattern.meter);
  const beat = pulseTicks(pattern.meter);
  const beats = Math.ceil(pattern.length / beat);
  const wide = geometry.scale * beat > 20;
  const everyBar = Math.max(1, 2 ** Math.ceil(Math.log2(26 / (geometry.scale * bar))));
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
        if (isBar ? (at / bar) % everyBar !== 0 : !wide) return null;
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
});

const NO_STRAND = { hits: [] };

interface BodyProps {
  pattern: Pattern;
  geometry: Geometry;
  view: View;
  scroller: React.RefObject<HTMLDivElement | null>;
}

/** More steps in view than this are not offered one by one: only those of the cursor's bar. */
const MOST_CELLS = 1600;

function Body({ pattern, geometry, view, scroller }: BodyProps) {
  const selection = useWorkbench((state) => state.selection);
  const cursor = useWorkbench((state) => state.cursor);
  const bpm = useWorkbench(({ history }) => bpmAt(history!.song, 0));
  const before = useWorkbench(
    (state) => state.tool && state.gesture && patternOn(state, state.gesture.before.song),
  );
  const lane = useWorkbench((state) => state.lane?.id);
  const muted = useWorkbench((state) => state.muted);
  const soloed = useWorkbench((state) => state.soloed);
  const unheard = useUnheard(geometry);
  const elsewhere = useElsewhere(pattern);
  const tokens = useTokens();
  const kit = useWorkbench(kitOf);
  const selected = useMemo(() => new Set(selection), [selection]);
  const { frame, handlers } = useStrokes(pattern, geometry, scroller);
  useCursorInView(scroller, geometry, cursor);
  const { length, meter, step } = pattern;
  const bar = barTicks(meter);
  // While the sheet scrolls the picture goes first; the steps to be named may follow it.
  const { left, width } = useDeferredValue(view);
  const from = Math.max(0, Math.floor(geometry.tick(left) / bar) * bar);
  const to = Math.min(length, Math.ceil(geometry.tick(left + width + 160) / bar) * bar);
  const rows = new Map(geometry.rows.map((row) => [row.piece, row]));
  const many = geometry.rows.reduce((sum, row) => sum + (to - from) / row.step, 0) > MOST_CELLS;
  const cursorBar = Math.floor(cursor.at / bar) * bar;
  const bars: Ticks[] = [];
  if (!many) for (let at = from; at < to; at += bar) bars.push(at);
  // The cursor's own step is always there to be named.
  if (!bars.includes(cursorBar) && cursorBar < length) bars.push(cursorBar);
  // One value as long as nothing in it changes: scrolling then draws no tile anew.
  const sheet = useMemo<Drawing>(
    () => ({
      kit,
      pattern,
      before,
      geometry,
      selected,
      silent: new Set([...silentRows(pattern, { muted, soloed }), ...unheard]),
      elsewhere,
      lane,
      tokens,
      density: window.devicePixelRatio || 1,
    }),
    [kit, pattern, before, geometry, selected, muted, soloed, unheard, elsewhere, lane, tokens],
  );
  // While something is tried out the picture goes first; what the steps say may follow it.
  const trying = useWorkbench((state) => state.gesture !== undefined);
  const calm = useAfterPaint(pattern);
  const spoken = trying && calm.id === pattern.id ? calm : pattern;
  const cursorShown = rows.has(cursor.piece) && bars.includes(cursorBar);
  return (
    <div
      className={styles.body}
      style={{ width: geometry.width, height: geometry.height }}
      role="grid"
      data-work
      tabIndex={0}
      aria-label={`${pattern.name}, steps by strands`}
      aria-rowcount={geometry.rows.length}
      aria-colcount={Math.ceil(length / step) + 1}
      aria-multiselectable
      aria-activedescendant={cursorShown ? cellId(cursor.piece, cursor.at) : undefined}
      onContextMenu={(event) => event.preventDefault()}
      {...handlers}
    >
      <Tiles sheet={sheet} from={view.left} to={view.left + view.width + 160} />
      {geometry.rows.map((row, i) => {
        const { hits } = spoken.strands.find(({ piece }) => piece === row.piece) ?? NO_STRAND;
        return (
          <div
            key={row.piece}
            role="row"
            aria-rowindex={i + 1}
            aria-label={pieceOf(row.piece, sheet.kit).name}
            className={styles.row}
            style={{ top: row.top, height: row.height, width: geometry.width }}
          >
            {bars.map((at) => {
              const end = Math.min(length, at + bar);
              const here = hitsBetween(hits, row, at, end);
              const onIt = cursor.piece === row.piece && cursor.at >= at && cursor.at < end;
              return (
                <Cells
                  key={at}
                  kit={sheet.kit}
                  piece={row.piece}
                  meter={meter}
                  step={row.step}
                  loop={row.loop}
                  bpm={bpm}
                  from={at}
                  to={end}
                  hits={here}
                  selected={here.flatMap(({ id }) => (selected.has(id) ? [id] : [])).join(' ')}
                  cursorAt={onIt ? cursor.at : undefined}
                  left={geometry.x(at)}
                  width={geometry.stepWidth(row)}
                  height={row.height}
                />
              );
            })}
          </div>
        );
      })}
      {frame && <div className={styles.frame} style={frame} />}
      <Playhead pattern={pattern} geometry={geometry} scroller={scroller} />
    </div>
  );
}

/** Scrolls to the cursor when it walks out of view. */
function useCursorInView(
  scroller: BodyProps['scroller'],
  geometry: Geometry,
  { piece, at }: { piece: string; at: Ticks },
): void {
  const latest = useRef(geometry);
  useEffect(() => {
    latest.current = geometry;
  });
  useEffect(() => {
    const view = scroller.current;
    const row = latest.current.rows.find((other) => other.piece === piece);
    if (!view || !row) return;
    const x = latest.current.x(at);
    const room = view.clientWidth - NAMES_WIDTH;
    const wide = latest.current.stepWidth(row);
    const right = view.scrollLeft + room;
    // A leap brings what follows into view, a step only itself.
    if (x < view.scrollLeft) view.scrollTo({ left: x - wide });
    else if (x > right + 4 * wide) view.scrollTo({ left: x - room / 3 });
    else if (x + wide > right) view.scrollTo({ left: x + 2 * wide - room });
    const high = view.clientHeight - RULER_HEIGHT;
    if (row.top < view.scrollTop) view.scrollTo({ top: row.top });
    else if (row.top + row.height > view.scrollTop + high) {
      view.scrollTo({ top: row.top + row.height + row.lane - high });
    }
  }, [scroller, piece, at]);
}

/** The hits that are heard between two ticks; all of a strand that loops at its own length. */
function hitsBetween(hits: readonly Hit[], row: RowPlace, from: Ticks, to: Ticks): readonly Hit[] {
  if (Number.isFinite(row.loop)) return hits;
  const first = hits.findIndex((hit) => hit.at >= from);
  if (first < 0) return [];
  const after = hits.findIndex((hit, i) => i >= first && hit.at >= to);
  return hits.slice(first, after < 0 ? undefined : after);
}

/** Where the music is: in the pattern heard alone, or in the song where it plays this pattern. */
function Playhead({ pattern, geometry, scroller }: Omit<BodyProps, 'view'>) {
  const line = useRef<HTMLDivElement>(null);
  /** Whether it was in sight while it played on, and where the sheet was. */
  const seen = useRef({ playing: false, inside: false, left: 0 });
  useEveryFrame(() => {
    if (!line.current) return;
    const { hear, playing, follow, history, opened } = useWorkbench.getState();
    const tick = playhead();
    const local =
      hear === 'pattern'
        ? tick % pattern.length
        : opened
          ? openedTickAt(history!.song, opened, tick)
          : patternTickAt(history!.song, pattern, tick);
    line.current.style.visibility = local === undefined || tick < 0 ? 'hidden' : 'visible';
    line.current.style.opacity = playing ? '1' : '0.3';
    if (local === undefined) return;
    const x = geometry.x(local);
    line.current.style.transform = `translateX(${x.toFixed(1)}px)`;
    const view = scroller.current;
    if (!view) return;
    const room = view.clientWidth - NAMES_WIDTH;
    const inside = x >= view.scrollLeft && x <= view.scrollLeft + room;
    const before = seen.current;
    // Only a playhead that leaves takes the sheet along: one that was scrolled away from is left alone.
    const leaves = !inside && (before.inside || !before.playing) && before.left === view.scrollLeft;
    if (playing && follow && leaves) view.scrollTo({ left: Math.max(0, x - 40) });
    seen.current = {
      playing,
      inside: inside || (playing && follow && leaves),
      left: view.scrollLeft,
    };
  });
  return <div ref={line} className={styles.playhead} style={{ height: geometry.height }} />;
}
