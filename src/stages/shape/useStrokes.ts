import { nanoid } from 'nanoid';
import { useRef, useState, type PointerEvent } from 'react';
import { findStrand, type Command, type Hit, type Pattern } from '@/core';
import { boundShift } from '@/core/pattern/move';
import { hitOfStep } from '@/core/pattern/speak';
import { chosenHits } from '@/core/pattern/strands';
import type { Ticks, Velocity } from '@/core/time/units';
import { cancelGesture, commitGesture, preview } from '@/state/edit';
import { clearSelection, newHit, select, setCursor } from '@/state/shape';
import { useWorkbench } from '@/state/store';
import { strike } from '@/state/transport';
import type { Geometry, RowPlace } from './geometry';

/** A frame being drawn around hits, in pixels of the sheet. */
export interface Frame {
  left: number;
  top: number;
  width: number;
  height: number;
}

interface Point {
  x: number;
  y: number;
}

/** What one press of the pointer is doing, from press to release. */
type Stroke = { before: Pattern; from: Point } & (
  | { kind: 'paint'; row: RowPlace; last: { at: Ticks; velocity: Velocity }; run: Map<Ticks, Hit> }
  | { kind: 'press'; row: RowPlace; hit: Hit; copy: boolean }
  | { kind: 'velocity'; row: RowPlace; ids: string[] }
  | { kind: 'move'; row: RowPlace; ids: string[]; seed?: string }
  | { kind: 'erase'; ids: Set<string>; last: Point }
  | { kind: 'frame' }
);

/** Pointer travel that turns a press into a drag. */
const SLOP = 4;
/** A press this near to a stem takes hold of it. */
const REACH = 8;

/**
 * All that the pointer does on the sheet. Press an empty step: place and paint. Press a hit:
 * remove it, drag it up or down, or erase sideways; a selected hit moves the selection instead.
 */
export function useStrokes(pattern: Pattern, geometry: Geometry) {
  const stroke = useRef<Stroke>(undefined);
  const [frame, setFrame] = useState<Frame>();

  const pointOf = (event: PointerEvent<HTMLElement>): Point => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    return { x: event.clientX - left, y: event.clientY - top };
  };

  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    if (stroke.current || geometry.rows.length === 0) return;
    const from = pointOf(event);
    const row = geometry.rowAt(from.y);
    const at = geometry.step(from.x);
    event.currentTarget.setPointerCapture(event.pointerId);
    const before = pattern;
    setCursor(row.piece, at);
    if (event.shiftKey) {
      stroke.current = { kind: 'frame', before, from };
      return;
    }
    const hit = hitNear(before, geometry, row, from);
    if (event.button === 2) {
      stroke.current = { kind: 'erase', before, from, ids: new Set(), last: from };
      erase(stroke.current, from, from, geometry);
      return;
    }
    if (hit && (event.ctrlKey || event.metaKey)) {
      const { selection } = useWorkbench.getState();
      select(
        selection.includes(hit.id)
          ? selection.filter((id) => id !== hit.id)
          : [...selection, hit.id],
      );
      return;
    }
    if (hit) {
      stroke.current = { kind: 'press', before, from, row, hit, copy: event.altKey };
      return;
    }
    clearSelection();
    const velocity = geometry.velocity(from.y, row);
    const last = { at, velocity };
    stroke.current = { kind: 'paint', before, from, row, last, run: new Map() };
    paint(stroke.current, at, velocity);
  };

  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    const now = stroke.current;
    if (!now) return;
    const point = pointOf(event);
    switch (now.kind) {
      case 'paint':
        return paint(now, geometry.step(point.x), geometry.velocity(point.y, now.row));
      case 'press':
        stroke.current = dragOf(now, point);
        return;
      case 'velocity':
        return changeVelocity(now, point, geometry);
      case 'move':
        return move(now, point, geometry);
      case 'erase':
        erase(now, now.last, point, geometry);
        now.last = point;
        return;
      case 'frame':
        return setFrame(selectWithin(now, point, geometry));
    }
  };

  const onPointerUp = () => {
    const now = stroke.current;
    stroke.current = undefined;
    setFrame(undefined);
    if (!now) return;
    if (now.kind === 'press') {
      const { selection } = useWorkbench.getState();
      if (selection.includes(now.hit.id)) {
        clearSelection();
      } else {
        clearSelection();
        preview([{ type: 'remove hits', pattern: pattern.id, ids: [now.hit.id] }], 'remove hit');
      }
    }
    commitGesture();
    if (now.kind === 'move' && now.seed) select(now.ids.map((id) => `${now.seed}-${id}`));
  };

  const onPointerCancel = () => {
    stroke.current = undefined;
    setFrame(undefined);
    cancelGesture();
  };

  return { frame, handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel } };
}

/** The hit a press takes hold of: the nearest stem in reach, or what is on the pressed step. */
function hitNear(
  pattern: Pattern,
  geometry: Geometry,
  row: RowPlace,
  point: Point,
): Hit | undefined {
  const hits = findStrand(pattern, row.piece)?.hits ?? [];
  const distance = (hit: Hit) => Math.abs(geometry.x(hit.at + hit.push) - point.x);
  const reach = Math.min(REACH, geometry.stepWidth * 0.45);
  const near = hits.filter((hit) => distance(hit) <= reach);
  if (near.length > 0) return near.reduce((a, b) => (distance(b) < distance(a) ? b : a));
  return hitOfStep(hits, geometry.step(point.x), pattern.step);
}

/** Paints on to a step, filling the steps a quick pointer has jumped over along a straight line. */
function paint(stroke: Stroke & { kind: 'paint' }, at: Ticks, velocity: Velocity): void {
  const { before, row, last, run } = stroke;
  const { step } = before;
  const hits = findStrand(before, row.piece)?.hits ?? [];
  const count = Math.max(1, Math.round(Math.abs(at - last.at) / step));
  for (let i = run.size === 0 ? 0 : 1; i <= count; i++) {
    const share = i / count;
    const here = last.at + Math.round(((at - last.at) * share) / step) * step;
    const strength = Math.round(last.velocity + (velocity - last.velocity) * share);
    const there = run.get(here) ?? hitOfStep(hits, here, step);
    if (!run.has(here) && !useWorkbench.getState().playing) {
      strike(row.piece, there?.articulation ?? newHit(row.piece, here, 1).articulation, strength);
    }
    run.set(here, { ...(there ?? newHit(row.piece, here, strength)), velocity: strength });
  }
  stroke.last = { at, velocity };
  const ids = new Set(hits.map((hit) => hit.id));
  const placed = [...run.values()].filter((hit) => !ids.has(hit.id));
  const changed = [...run.values()].filter((hit) => ids.has(hit.id));
  preview(
    [
      {
        type: 'place hits',
        pattern: before.id,
        hits: placed.map((hit) => ({ piece: row.piece, hit })),
      },
      {
        type: 'set velocity',
        pattern: before.id,
        velocities: changed.map((hit) => [hit.id, hit.velocity] as const),
      },
    ],
    run.size > 1 ? 'paint hits' : 'place hit',
  );
}

/** What a press on a hit becomes once the pointer moves: up and down is velocity. */
function dragOf(press: Stroke & { kind: 'press' }, point: Point): Stroke {
  const { before, from, row, hit, copy } = press;
  const [dx, dy] = [Math.abs(point.x - from.x), Math.abs(point.y - from.y)];
  if (Math.max(dx, dy) < SLOP) return press;
  const { selection } = useWorkbench.getState();
  const selected = selection.includes(hit.id);
  const ids = selected ? [...selection] : [hit.id];
  if (dy >= dx) {
    if (!selected) clearSelection();
    return { kind: 'velocity', before, from, row, ids };
  }
  if (selected) return { kind: 'move', before, from, row, ids, seed: copy ? nanoid(6) : undefined };
  return { kind: 'erase', before, from, ids: new Set([hit.id]), last: from };
}

function changeVelocity(
  stroke: Stroke & { kind: 'velocity' },
  point: Point,
  geometry: Geometry,
): void {
  const { before, from, row, ids } = stroke;
  const by = geometry.velocity(point.y, row) - geometry.velocity(from.y, row);
  preview([{ type: 'add velocity', pattern: before.id, ids, by }], 'change velocity');
}

function move(stroke: Stroke & { kind: 'move' }, point: Point, geometry: Geometry): void {
  const { before, from, row, ids, seed } = stroke;
  const shift = boundShift(before, new Set(ids), {
    by: Math.round((point.x - from.x) / geometry.stepWidth) * before.step,
    rows: geometry.rows.indexOf(geometry.rowAt(point.y)) - geometry.rows.indexOf(row),
  });
  const command: Command = seed
    ? { type: 'copy hits', pattern: before.id, ids, shift, seed }
    : { type: 'move hits', pattern: before.id, ids, shift };
  preview([command], seed ? 'copy hits' : 'move hits');
}

/** Erases the hits whose stems the pointer has passed, on the rows it has passed over. */
function erase(
  stroke: Stroke & { kind: 'erase' },
  from: Point,
  to: Point,
  geometry: Geometry,
): void {
  const { before, ids } = stroke;
  const row = geometry.rowAt(to.y);
  const [left, right] = [from.x, to.x].sort((a, b) => a - b);
  const reach = Math.min(REACH, geometry.stepWidth * 0.45);
  for (const hit of findStrand(before, row.piece)?.hits ?? []) {
    const x = geometry.x(hit.at + hit.push);
    if (x >= left - reach && x <= right + reach) ids.add(hit.id);
  }
  preview([{ type: 'remove hits', pattern: before.id, ids: [...ids] }], 'erase hits');
}

/** Selects the hits inside the frame from where it was begun to the pointer. */
function selectWithin(stroke: Stroke, point: Point, geometry: Geometry): Frame {
  const { before, from } = stroke;
  const [left, right] = [from.x, point.x].sort((a, b) => a - b);
  const [top, bottom] = [from.y, point.y].sort((a, b) => a - b);
  const all = new Set(before.strands.flatMap(({ hits }) => hits.map((hit) => hit.id)));
  const rows = new Map(geometry.rows.map((row) => [row.piece, row]));
  const inside = chosenHits(before, all).filter(({ piece, hit }) => {
    const row = rows.get(piece)!;
    const x = geometry.x(hit.at + hit.push);
    return x >= left && x <= right && row.top <= bottom && row.top + row.height >= top;
  });
  select(inside.map(({ hit }) => hit.id));
  return { left, top, width: right - left, height: bottom - top };
}
