import { nanoid } from 'nanoid';
import { useRef, useState, type PointerEvent } from 'react';
import { findStrand, type Command, type Hit, type Pattern } from '@/core';
import { boundShift, LANES, type Lane, type LaneId, heardAt, hitOfStep, chosenHits } from '@/core/pattern';
import type { Ticks, Velocity } from '@/core/time';
import { cancelGesture, commitGesture, preview } from '@/state/session/edit';
import { clearSelection, newHit, select, setCursor } from '@/state/shape/shape';
import { shownPattern, useWorkbench } from '@/state/store';
import { strike } from '@/state/transport/transport';
import { laneShare, type Geometry, type RowPlace } from './geometry';

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
  | {
      kind: 'paint';
      row: RowPlace;
      start: Ticks;
      last: { at: Ticks; velocity: Velocity };
      run: Map<Ticks, Hit>;
    }
  | { kind: 'press'; row: RowPlace; hit: Hit; copy: boolean }
  | { kind: 'velocity'; row: RowPlace; ids: string[] }
  | { kind: 'move'; row: RowPlace; ids: string[]; seed?: string }
  | { kind: 'erase'; ids: Set<string>; last: Point }
  | {
      kind: 'line';
      row: RowPlace;
      chosen: readonly Hit[];
      /** The hit it began on: without a drag, the press selects it or not. */
      pressed?: { id: string };
      drawn?: true;
      made: Map<Ticks, Hit>;
    }
  | { kind: 'lane'; row: RowPlace; id: LaneId; last: Point; values: Map<string, number> }
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
    const at = geometry.step(from.x, row);
    event.currentTarget.setPointerCapture(event.pointerId);
    // What a tool showed stays; the stroke is a step of its own.
    commitGesture();
    const before = shownPattern(useWorkbench.getState()) ?? pattern;
    setCursor(row.piece, at);
    const { lane } = useWorkbench.getState();
    if (lane && row.lane > 0 && from.y > row.top + row.height) {
      stroke.current = {
        kind: 'lane',
        before,
        from,
        row,
        id: lane.id,
        last: from,
        values: new Map(),
      };
      drawLane(stroke.current, from, geometry);
      return;
    }
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
    if (event.ctrlKey || event.metaKey) {
      const { selection } = useWorkbench.getState();
      const hits = findStrand(before, row.piece)?.hits ?? [];
      const chosen = hits.filter(({ id }) => selection.includes(id));
      const pressed = hit && { id: hit.id };
      stroke.current = { kind: 'line', before, from, row, chosen, pressed, made: new Map() };
      return;
    }
    if (hit) {
      stroke.current = { kind: 'press', before, from, row, hit, copy: event.altKey };
      return;
    }
    clearSelection();
    const velocity = geometry.velocity(from.y, row);
    const last = { at, velocity };
    stroke.current = { kind: 'paint', before, from, row, start: at, last, run: new Map() };
    paint(stroke.current, at, velocity);
  };

  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    const now = stroke.current;
    if (!now) return;
    const point = pointOf(event);
    switch (now.kind) {
      case 'paint':
        return paint(now, geometry.step(point.x, now.row), geometry.velocity(point.y, now.row));
      case 'line':
        if (!now.drawn && Math.hypot(point.x - now.from.x, point.y - now.from.y) < SLOP) return;
        if (!now.drawn && now.chosen.length === 0) clearSelection();
        now.drawn = true;
        return drawLine(now, point, geometry);
      case 'lane':
        drawLane(now, point, geometry);
        now.last = point;
        return;
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
    if (now.kind === 'line' && !now.drawn && now.pressed) {
      const { selection } = useWorkbench.getState();
      const { id } = now.pressed;
      select(selection.includes(id) ? selection.filter((o) => o !== id) : [...selection, id]);
    }
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
  const step = geometry.step(point.x, row);
  const round = sourceOf(row, step) - step;
  const distance = (hit: Hit) => Math.abs(geometry.x(heardAt(pattern, hit) - round) - point.x);
  const reach = Math.min(REACH, geometry.stepWidth(row) * 0.45);
  const near = hits.filter((hit) => distance(hit) <= reach);
  if (near.length > 0) return near.reduce((a, b) => (distance(b) < distance(a) ? b : a));
  return hitOfStep(hits, step + round, row.step);
}

/** Behind the join of a strand that loops, a step stands for the one it repeats. */
function sourceOf({ loop }: RowPlace, at: Ticks): Ticks {
  return Number.isFinite(loop) ? at % loop : at;
}

/** The steps from one to another, both included, every n-th from the first on. */
function stepsBetween(from: Ticks, to: Ticks, step: Ticks, every: number): Ticks[] {
  const count = Math.round(Math.abs(to - from) / step);
  const sign = to < from ? -1 : 1;
  const steps = Array.from({ length: count + 1 }, (_, i) => from + sign * i * step);
  return steps.filter((_, i) => i % every === 0);
}

/** A straight line of velocities from where it was begun to the pointer: over a selection, or as hits. */
function drawLine(stroke: Stroke & { kind: 'line' }, point: Point, geometry: Geometry): void {
  const { before, from, row, chosen, made } = stroke;
  const [first, last] = [from, point].sort((a, b) => a.x - b.x);
  const velocityAt = (x: number) => {
    const share = last.x === first.x ? 1 : (x - first.x) / (last.x - first.x);
    return geometry.velocity(first.y + (last.y - first.y) * Math.max(0, Math.min(1, share)), row);
  };
  if (chosen.length > 0) {
    const velocities = chosen.flatMap((hit) => {
      const x = geometry.x(heardAt(before, hit));
      const inside = x >= first.x - REACH && x <= last.x + REACH;
      return inside ? [[hit.id, velocityAt(x)] as const] : [];
    });
    preview([{ type: 'set velocity', pattern: before.id, velocities }], 'ramp velocity');
    return;
  }
  const { paintEvery } = useWorkbench.getState();
  const [start, end] = [geometry.step(from.x, row), geometry.step(point.x, row)];
  const hits = stepsBetween(start, end, row.step, paintEvery).map((at) => {
    const source = sourceOf(row, at);
    const known = made.get(source) ?? newHit(row.piece, source, 1);
    made.set(source, known);
    return { piece: row.piece, hit: { ...known, velocity: velocityAt(geometry.x(at)) } };
  });
  preview([{ type: 'place hits', pattern: before.id, hits }], 'draw a line of hits');
}

/** Draws values of the lane: every hit the pointer passes takes the height it passes at. */
function drawLane(stroke: Stroke & { kind: 'lane' }, point: Point, geometry: Geometry): void {
  const { before, row, id, last, values } = stroke;
  const { limits }: Lane = LANES[id];
  const [left, right] = [last, point].sort((a, b) => a.x - b.x);
  for (const hit of findStrand(before, row.piece)?.hits ?? []) {
    const x = geometry.x(hit.at);
    if (x < left.x - REACH || x > right.x + REACH) continue;
    const share =
      right.x === left.x ? 1 : Math.max(0, Math.min(1, (x - left.x) / (right.x - left.x)));
    const height = laneShare(row, left.y + (right.y - left.y) * share);
    values.set(hit.id, limits[0] + (limits[1] - limits[0]) * height);
  }
  preview(
    [{ type: 'draw values', pattern: before.id, lane: id, values: [...values] }],
    `draw ${LANES[id].name}`,
  );
}

/** Paints on to a step, filling the steps a quick pointer has jumped over along a straight line. */
function paint(stroke: Stroke & { kind: 'paint' }, at: Ticks, velocity: Velocity): void {
  const { before, row, last, run } = stroke;
  const { step } = row;
  const { paintEvery } = useWorkbench.getState();
  const hits = findStrand(before, row.piece)?.hits ?? [];
  const count = Math.max(1, Math.round(Math.abs(at - last.at) / step));
  for (let i = run.size === 0 ? 0 : 1; i <= count; i++) {
    const share = i / count;
    const place = last.at + Math.round(((at - last.at) * share) / step) * step;
    if (Math.round((place - stroke.start) / step) % paintEvery !== 0) continue;
    const here = sourceOf(row, place);
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
    by: Math.round((point.x - from.x) / geometry.stepWidth(row)) * row.step,
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
  const reach = Math.min(REACH, geometry.stepWidth(row) * 0.45);
  const step = geometry.step(to.x, row);
  const round = step - sourceOf(row, step);
  for (const hit of findStrand(before, row.piece)?.hits ?? []) {
    const x = geometry.x(heardAt(before, hit) + round);
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
    const row = rows.get(piece);
    if (!row) return false;
    const x = geometry.x(heardAt(before, hit));
    return x >= left && x <= right && row.top <= bottom && row.top + row.height >= top;
  });
  select(inside.map(({ hit }) => hit.id));
  return { left, top, width: right - left, height: bottom - top };
}
