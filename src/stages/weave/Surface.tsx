'use client';

import { useDraggable, useDroppable } from '@dnd-kit/core';
import Box from '@mui/material/Box';
import { useRef, useState, type PointerEvent, type ReactNode } from 'react';
import { findPattern, type Song } from '@/core';
import { pieceOf, type PieceId } from '@/core/model';
import { barAround, tickOfBar, type Cloth, type ClothCell, type LaidPlace } from '@/core/weave';
import { gripOf } from '@/look/grip';
import { useEveryFrame } from '@/look/useEveryFrame';
import { carryOffCloth, clothTarget, useCarried } from '@/state/gather/carrying';
import { useWorkbench } from '@/state/store';
import { play, playhead, setHear } from '@/state/transport/transport';
import { chooseRow, placesToChange, selectPlace } from '@/state/weave/choosing';
import { pointWhy } from '@/state/weave/draftWhy';
import { openInPlace } from '@/state/weave/weave';
import { useFindings } from '@/state/weave/views';

/** The stretch of a strand that is under the pointer: it can be dragged. */
interface Grip {
  piece: PieceId;
  cell: ClothCell;
  top: number;
  height: number;
}

/** The rows of the cloth with where each begins. */
function placedRows(woven: Cloth, heights: readonly number[], gap: number) {
  let top = 0;
  return woven.rows.map((row, i) => {
    const placed = { row, piece: row.piece, top, height: heights[i] };
    top += heights[i] + gap;
    return placed;
  });
}

/** The row at a height of the cloth. */
const rowAt = (woven: Cloth, heights: readonly number[], gap: number, y: number) =>
  placedRows(woven, heights, gap).find(({ top, height }) => y >= top && y < top + height);

interface SurfaceProps {
  song: Song;
  laid: readonly LaidPlace[];
  shown: readonly LaidPlace[];
  woven: Cloth;
  heights: readonly number[];
  gap: number;
  x: (tick: number) => number;
  width: number;
  children: ReactNode;
}

/** Whether a strand of the cloth is on its way: until it is dropped, the pointer does nothing else. */
const isCarrying = () => useCarried.getState().pattern !== undefined;

/**
 * Press a bar: its section is chosen and the song plays from there. Press it twice: what plays there
 * opens in Shape. Drag a strand to take it elsewhere.
 */
export function Surface(props: SurfaceProps) {
  const { song, laid, woven, heights, gap, x, width, children } = props;
  const [grip, setGrip] = useState<Grip>();
  // What goes into one section is said in words; what goes into the song is shown on all of it.
  const adding = useCarried((state) => state.section !== undefined);
  const carried = grip && findPattern(song, grip.cell.pattern);
  const head = useRef<HTMLDivElement>(null);
  const length = laid.at(-1)!.end;
  const tall = heights.reduce((sum, height) => sum + height + gap, -gap);
  const placeAt = (tick: number) => laid.find(({ start, end }) => tick >= start && tick < end);
  const { setNodeRef, isOver } = useDroppable({
    id: 'cloth',
    data: {
      target: clothTarget(({ x: across, y: down }) => {
        return {
          tick: across * length,
          piece: rowAt(woven, heights, gap, down * tall)?.row.piece,
        };
      }),
    },
  });
  const { setNodeRef: setGripRef, listeners } = useDraggable({
    id: 'strand of the cloth',
    data: { carry: () => grip && carryOffCloth(grip.cell.pattern, grip.piece) },
  });
  useEveryFrame(() => {
    if (!head.current) return;
    const heard = useWorkbench.getState().hear === 'song';
    head.current.style.visibility = heard ? 'visible' : 'hidden';
    head.current.style.transform = `translateX(${x(Math.min(length, playhead())).toFixed(1)}px)`;
  });
  const pointAt = (event: { clientX: number; clientY: number; currentTarget: Element }) => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const tick = Math.max(0, Math.min(length - 1, ((event.clientX - left) / width) * length));
    return { tick, under: rowAt(woven, heights, gap, event.clientY - top) };
  };
  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    if (isCarrying()) return;
    const { tick, under } = pointAt(event);
    const cell = under?.row.cells.findLast(({ from, to }) => tick >= from && tick < to);
    if (grip?.cell === cell) return;
    setGrip(
      cell && !cell.silent && under
        ? { piece: under.row.piece, cell, top: under.top, height: under.height }
        : undefined,
    );
  };
  const onPointerUp = (event: PointerEvent<HTMLElement>) => {
    if (event.button !== 0 || isCarrying()) return;
    const { tick, under } = pointAt(event);
    const place = placeAt(tick);
    const how = event.shiftKey ? 'up to' : event.ctrlKey || event.metaKey ? 'beside' : 'alone';
    if (place) selectPlace(place.place.id, how);
    if (how !== 'alone') return;
    chooseRow(under?.row.piece);
    if (place && useWorkbench.getState().weaveView === 'draft') {
      pointWhy(place.place.id, tick - place.start, under?.row.piece);
    }
    setHear('song');
    void play(barAround(song, tick).from);
  };
  return (
    <Box
      ref={setNodeRef}
      onPointerUp={onPointerUp}
      onPointerMove={onPointerMove}
      onPointerLeave={() => !isCarrying() && setGrip(undefined)}
      onDoubleClick={(event) => {
        const { tick, under } = pointAt(event);
        openInPlace(tick, under?.row.piece);
      }}
      sx={{
        position: 'relative',
        cursor: 'pointer',
        outline: isOver && adding ? '2px solid var(--accent)' : 'none',
      }}
    >
      {children}
      {grip && carried && (
        <Box
          ref={setGripRef}
          {...gripOf(listeners)}
          data-grip={grip.cell.pattern}
          title={`${pieceOf(grip.piece, song.kit).name.toLowerCase()} of “${carried.name}”: press to play from here, press twice to open it in Shape, drag it onto another section or a pattern of the shelf`}
          sx={{
            position: 'absolute',
            border: '1px solid var(--ink)',
          }}
          style={{
            top: grip.top,
            height: grip.height,
            left: x(grip.cell.from),
            width: x(grip.cell.to) - x(grip.cell.from) - 2,
          }}
        />
      )}
      <Marks {...props} />
      <Box
        ref={head}
        sx={{
          position: 'absolute',
          top: -4,
          bottom: -4,
          left: -1,
          width: 2,
          bgcolor: 'var(--ink)',
          pointerEvents: 'none',
        }}
      />
    </Box>
  );
}

const FRAME = {
  position: 'absolute',
  border: '2px solid var(--accent)',
  pointerEvents: 'none',
} as const;

/** What is chosen, what an edit would change, what loops, and what the view that is shown has found. */
function Marks({ song, shown, x, woven, heights, gap }: SurfaceProps) {
  const loop = useWorkbench((state) => state.songLoop);
  const ids = useWorkbench((state) => state.placeIds);
  const placeId = useWorkbench((state) => state.placeId);
  const bars = useWorkbench((state) => state.bars);
  const row = useWorkbench((state) => state.row);
  const reached = useWorkbench(placesToChange);
  const chosen = shown.filter(({ place }) => place.id === placeId || ids.includes(place.id));
  const across = (from: number, to: number) => ({ left: x(from), width: x(to) - x(from) - 2 });
  const { top, height } =
    placedRows(woven, heights, gap).find(({ piece }) => piece === row) ?? ALL_ROWS;
  const inRow = { top, height };
  return (
    <>
      {shown
        .filter(({ place }) => reached.includes(place.id))
        .map(({ place, start, end }) => (
          <Box
            key={place.id}
            data-reached={place.id}
            sx={{
              position: 'absolute',
              borderBottom: '2px solid var(--accent)',
              pointerEvents: 'none',
            }}
            style={{ ...inRow, ...across(start, end) }}
          />
        ))}
      {!bars &&
        chosen.map(({ place, start, end }) => (
          <Box key={place.id} sx={FRAME} style={{ ...inRow, ...across(start, end) }} />
        ))}
      {bars && <Box data-bars sx={FRAME} style={{ ...inRow, ...across(bars.from, bars.to) }} />}
      <Found song={song} x={x} />
      <Changed x={x} woven={woven} heights={heights} gap={gap} />
      {loop && (
        <Box
          sx={{
            position: 'absolute',
            bottom: -4,
            height: 3,
            bgcolor: 'var(--accent)',
            pointerEvents: 'none',
          }}
          style={{ left: x(loop.from), width: x(loop.to) - x(loop.from) }}
        />
      )}
    </>
  );
}

/** Lights up the bars and rows that a drop here would change. */
function Changed({
  x,
  woven,
  heights,
  gap,
}: Pick<SurfaceProps, 'x' | 'woven' | 'heights' | 'gap'>) {
  const changes = useCarried((state) => state.changes);
  if (!changes) return null;
  const { stretches, pieces } = changes;
  const rows = placedRows(woven, heights, gap).filter(({ piece }) => pieces?.includes(piece));
  // A row that the song does not have yet is nowhere: all rows stand for it.
  const bands = rows.length > 0 && rows.length === pieces?.length ? rows : [ALL_ROWS];
  return stretches.map(({ from, to }, i) =>
    bands.map(({ top, height }) => (
      <Box
        key={`${i} ${top}`}
        data-changes
        sx={{ ...FRAME, bgcolor: 'color-mix(in srgb, var(--accent) 22%, transparent)' }}
        style={{ top, height, left: x(from), width: Math.max(4, x(to) - x(from) - 2) }}
      />
    )),
  );
}

const ALL_ROWS = { top: -2, height: 'calc(100% + 4px)' };

/** What “same again” and “playable” found, each in the way of its view. */
function Found({ song, x }: Pick<SurfaceProps, 'song' | 'x'>) {
  const view = useWorkbench((state) => state.weaveView);
  const findings = useFindings((state) => state.findings);
  if (!findings || (view !== 'same' && view !== 'playable')) return null;
  if (view === 'same') {
    return findings.same.runs.map(({ from, bars, meant }) => {
      const [first, last] = [tickOfBar(song, from + 1), tickOfBar(song, from + bars + 1)];
      return (
        <Box
          key={from}
          sx={{
            position: 'absolute',
            top: 0,
            bottom: 0,
            borderTop: '3px solid',
            borderColor: meant ? 'var(--line)' : 'var(--ink)',
            bgcolor: meant ? 'transparent' : 'color-mix(in srgb, var(--ground) 62%, transparent)',
            pointerEvents: 'none',
          }}
          style={{ left: x(first) + 1, width: Math.max(1, x(last) - x(first) - 3) }}
        />
      );
    });
  }
  return findings.wrong.map(({ tick, to, says }, i) => (
    <Box
      key={`${tick}-${i}`}
      title={says}
      sx={{
        position: 'absolute',
        top: -3,
        bottom: -3,
        border: '2px solid var(--accent)',
        pointerEvents: 'none',
      }}
      style={{ left: x(tick) - 4, width: Math.max(9, x(to) - x(tick) + 8) }}
    />
  ));
}
