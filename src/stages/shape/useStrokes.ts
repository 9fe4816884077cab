import { nanoid } from 'nanoid';
import { useEffect, useRef, useState, type PointerEvent, type RefObject } from 'react';
import { findStrand, type Command, type Hit, type Pattern } from '@/core';
import {
  boundShift,
  chosenHits,
  heardAt,
  hitOfStep,
  LANES,
  paintedSteps,
  type Lane,
  type LaneId,
  type PaintPoint,
} from '@/core/pattern';
import type { Ticks } from '@/core/time';
import { cancelGesture, commitGesture, preview } from '@/state/session/edit';
import { clearSelection, newHit, select, setCursor } from '@/state/shape/shape';
import { holdZoom } from '@/state/shape/view';
import { shownPattern, useWorkbench, type Workbench } from '@/state/store';
import { strike } from '@/state/transport/transport';
import { laneShare, type Geometry, type RowPlace } from './geometry';
import { useEdgeScroll, type Point } from './useEdgeScroll';

/** A frame being drawn around hits, in pixels of the sheet. */
export interface Frame {
  left: number;
  top: number;
  width: number;
  height: number;
}

/** What one press of the pointer is doing, from press to release. */
type Stroke = { before: Pattern; from: Point } & (
  | {
      kind: 'paint';
      row: RowPlace;
      seed: string;
      points: PaintPoint[];
      /** The steps that were struck as they were painted. */
      struck: Set<Ticks>;
    }
  | { kind: 'press'; row: RowPlace; hit: Hit; copy: boolean }
  | { kind: 'velocity'; row: RowPlace; ids: string[]; selected: boolean; seed?: string }
  | { kind: 'move'; row: RowPlace; ids: string[]; seed?: string }
  | { kind: 'erase'; row: RowPlace; ids: Set<string>; last: Point }
  | {
      kind: 'line';
      row: RowPlace;
      chosen: readonly Hit[];
      /** The hit it began on: without a drag, the press selects it or not. */
      pressed?: { id: string };
      drawn?: true;
      seed: string;
    }
  | {
      kind: 'lane';
      row: RowPlace;
      id: LaneId;
      how: 'draw' | 'line' | 'rest';
      last: Point;
      values: Map<string, number>;
    }
  /** What was selected before stays selected. */
  | { kind: 'frame'; besides: readonly string[] }
  /** Nothing but what the press itself did. */
  | { kind: 'nothing' }
);

/** Pointer travel that turns a press into a drag. */
const SLOP = 4;
/** A press this near to a stem takes hold of it. */
const REACH = 8;
/** So far a hit goes off its step by hand, in ticks. */
const FINEST = 960;
/** So far beyond its row, in heights of it, a selection goes to other rows instead of being louder. */
const BEYOND = 0.6;
/** So far into another row, in heights of that one, it goes there too. */
const INTO = 0.35;

/**
 * All that the pointer does on the sheet. Press an empty step: place and paint; with a selection, only
 * select nothing. Press a hit: remove it, or drag it up and down to another velocity and sideways to
 * another step (with Ctrl: off the steps); a selected hit takes the selection along, also to other rows. The right button erases,
 * Shift draws a frame, Ctrl a line, and Escape takes back the stroke that is going on.
 */
export function useStrokes(
  pattern: Pattern,
  geometry: Geometry,
  scroller: RefObject<HTMLElement | null>,
) {
  const stroke = useRef<Stroke>(undefined);
  const [frame, setFrame] = useState<Frame>();
  const sheet = useRef<HTMLElement>(null);
  /** Where the pointer is on the screen: the sheet may scroll under it. */
  const pointer = useRef<Point>({ x: 0, y: 0 });
  /** What was selected, and where the cursor was, before the stroke. */
  const held = useRef<Pick<Workbench, 'selection' | 'anchor' | 'cursor'>>(undefined);

  /** Held while a hit is dragged: it goes off the steps, tick by tick. */
  const fine = useRef(false);

  const pointNow = (): Point => {
    const { left, top } = sheet.current!.getBoundingClientRect();
    return { x: pointer.current.x - left, y: pointer.current.y - top };
  };
  const pointOf = (event: PointerEvent<HTMLElement>): Point => {
    sheet.current = event.currentTarget;
    pointer.current = { x: event.clientX, y: event.clientY };
    return pointNow();
  };

  const goOn = (point: Point) => {
    const now = stroke.current;
    if (!now) return;
    switch (now.kind) {
      case 'paint':
        return paint(now, {
          at: geometry.step(point.x, now.row),
          velocity: geometry.velocity(point.y, now.row),
        });
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
        if (isBeyond(now, point, geometry)) {
          stroke.current = { ...now, kind: 'move' };
          return move(stroke.current, point, geometry, fine.current);
        }
        return changeVelocity(now, point, geometry);
      case 'move':
        return move(now, point, geometry, fine.current);
      case 'erase':
        erase(now, now.last, point, geometry);
        now.last = point;
        return;
      case 'frame':
        return setFrame(selectWithin(now, point, geometry));
    }
  };

  const edges = useEdgeScroll(
    scroller,
    () => {
      const kind = stroke.current?.kind;
      const held = kind === undefined || kind === 'press' || kind === 'velocity';
      return { x: !held, y: kind === 'move' || kind === 'frame' };
    },
    () => goOn(pointNow()),
  );

  const cancel = () => {
    stroke.current = undefined;
    holdZoom(false);
    edges.end();
    setFrame(undefined);
    cancelGesture();
    if (held.current) useWorkbench.setState(held.current);
  };
  const latest = useRef({ cancel });
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !stroke.current) return;
      event.preventDefault();
      event.stopPropagation();
      latest.current.cancel();
    };
    window.addEventListener('keydown', onKeyDown, true);
    return () => {
      window.removeEventListener('keydown', onKeyDown, true);
      holdZoom(false);
    };
  }, []);
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    if (stroke.current || geometry.rows.length === 0) return;
    holdZoom(true);
    const from = pointOf(event);
    edges.begin(pointer.current);
    const { selection, anchor, cursor } = useWorkbench.getState();
    held.current = { selection, anchor, cursor };
    const row = geometry.rowAt(from.y);
    const at = geometry.step(from.x, row);
    event.currentTarget.setPointerCapture(event.pointerId);
    // What a tool showed stays; the stroke is a step of its own.
    commitGesture();
    const before = shownPattern(useWorkbench.getState()) ?? pattern;
    setCursor(row.piece, at);
    const { lane } = useWorkbench.getState();
    if (lane && row.lane > 0 && from.y > row.top + row.height) {
      const how = event.button === 2 ? 'rest' : event.ctrlKey || event.metaKey ? 'line' : 'draw';
      const values = new Map<string, number>();
      stroke.current = { kind: 'lane', before, from, row, id: lane.id, how, last: from, values };
      drawLane(stroke.current, from, geometry);
      return;
    }
    if (event.shiftKey) {
      const adds = event.ctrlKey || event.metaKey;
      const besides = adds ? selection : [];
      stroke.current = { kind: 'frame', before, from, besides };
      return;
    }
    const hit = hitNear(before, geometry, row, from);
    if (event.button === 2) {
      stroke.current = { kind: 'erase', before, from, row, ids: new Set(), last: from };
      erase(stroke.current, from, from, geometry);
      return;
    }
    if (event.ctrlKey || event.metaKey) {
      const hits = findStrand(before, row.piece)?.hits ?? [];
      const chosen = hits.filter(({ id }) => selection.includes(id));
      const pressed = hit && { id: hit.id };
      stroke.current = { kind: 'line', before, from, row, chosen, pressed, seed: nanoid(6) };
      return;
    }
    if (hit) {
      stroke.current = { kind: 'press', before, from, row, hit, copy: event.altKey };
      return;
    }
    if (selection.length > 0) {
      clearSelection();
      stroke.current = { kind: 'nothing', before, from };
      return;
    }
    const velocity = geometry.velocity(from.y, row);
    const struck = new Set<Ticks>();
    stroke.current = { kind: 'paint', before, from, row, seed: nanoid(6), points: [], struck };
    paint(stroke.current, { at, velocity });
  };

  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    if (!stroke.current) return;
    fine.current = event.ctrlKey || event.metaKey;
    const point = pointOf(event);
    edges.moved(pointer.current);
    goOn(point);
  };

  const onPointerUp = () => {
    const now = stroke.current;
    stroke.current = undefined;
    holdZoom(false);
    edges.end();
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

  useEffect(() => {
    latest.current = { cancel };
  });

  return {
    frame,
    handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel: cancel },
  };
}

/** Whether the pointer has left the row of a selection that it drags up or down, and is well in another one. */
function isBeyond(
  { row, selected }: Stroke & { kind: 'velocity' },
  { y }: Point,
  geometry: Geometry,
): boolean {
  const depth = Math.max(row.top - y, y - (row.top + row.height));
  const other = geometry.rowAt(y);
  const within = other === row ? Infinity : other.height * INTO;
  return selected && depth > Math.min(row.height * BEYOND, within);
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

/** A straight line of velocities from where it was begun to the pointer: over a selection, or as hits. */
function drawLine(stroke: Stroke & { kind: 'line' }, point: Point, geometry: Geometry): void {
  const { before, from, row, chosen, seed } = stroke;
  if (chosen.length === 0) {
    const points = [from, point].map(({ x, y }) => ({
      at: geometry.step(x, row),
      velocity: geometry.velocity(y, row),
    }));
    preview([paintCommand(before, row, points, seed)], 'draw a line of hits');
    return;
  }
  const [left, right] = [from, point].sort((a, b) => a.x - b.x);
  const passed = chosen.filter((hit) => {
    const x = geometry.x(heardAt(before, hit));
    return x >= left.x - REACH && x <= right.x + REACH;
  });
  // The line reaches as far as the hits it takes hold of.
  const ats = passed.map((hit) => heardAt(before, hit));
  const command: Command = {
    type: 'velocity line',
    pattern: before.id,
    ids: passed.map(({ id }) => id),
    from: Math.min(geometry.tick(left.x), ...ats),
    to: Math.max(geometry.tick(right.x), ...ats),
    first: geometry.velocity(left.y, row),
    last: geometry.velocity(right.y, row),
  };
  preview([command], 'ramp velocity');
}

/**
 * Draws values of the lane: every hit the pointer passes takes the height it passes at, or that of a line
 * from where it began, or has no value of its own any more.
 */
function drawLane(stroke: Stroke & { kind: 'lane' }, point: Point, geometry: Geometry): void {
  const { before, from, row, id, how, last, values } = stroke;
  const { limits, rest }: Lane = LANES[id];
  if (how === 'line') values.clear();
  const [left, right] = [how === 'line' ? from : last, point].sort((a, b) => a.x - b.x);
  for (const hit of findStrand(before, row.piece)?.hits ?? []) {
    const x = geometry.x(hit.at);
    if (x < left.x - REACH || x > right.x + REACH) continue;
    const share =
      right.x === left.x ? 1 : Math.max(0, Math.min(1, (x - left.x) / (right.x - left.x)));
    const height = laneShare(row, left.y + (right.y - left.y) * share);
    values.set(hit.id, how === 'rest' ? rest : limits[0] + (limits[1] - limits[0]) * height);
  }
  preview(
    [
      {
        type: 'draw values',
        pattern: before.id,
        lane: id,
        values: [...values].map(([hit, value]) => ({ id: hit, value })),
      },
    ],
    `draw ${LANES[id].name}`,
  );
}

/** Paints on to a step. What is painted anew is heard, unless the pattern is. */
function paint(stroke: Stroke & { kind: 'paint' }, point: PaintPoint): void {
  const { before, row, seed, points, struck } = stroke;
  // On the step it was on already, what the hand does last counts.
  if (points.length > 1 && points.at(-1)!.at === point.at) points.pop();
  points.push(point);
  const command = paintCommand(before, row, [...points], seed);
  const painted = paintedSteps(before, command);
  const { playing } = useWorkbench.getState();
  for (const { at, velocity, there } of painted) {
    if (struck.has(at)) continue;
    struck.add(at);
    if (!playing) strike(row.piece, there?.articulation ?? command.articulation, velocity);
  }
  preview([command], painted.length > 1 ? 'paint hits' : 'place hit');
}

function paintCommand(
  { id }: Pattern,
  { piece }: RowPlace,
  points: readonly PaintPoint[],
  seed: string,
): Extract<Command, { type: 'paint' }> {
  const { paintEvery: every } = useWorkbench.getState();
  const { articulation } = newHit(piece, 0, 1);
  return { type: 'paint', pattern: id, piece, points, every, articulation, seed };
}

/** What a press on a hit becomes once the pointer moves: up and down is velocity. */
function dragOf(press: Stroke & { kind: 'press' }, point: Point): Stroke {
  const { before, from, row, hit, copy } = press;
  const [dx, dy] = [Math.abs(point.x - from.x), Math.abs(point.y - from.y)];
  if (Math.max(dx, dy) < SLOP) return press;
  const { selection } = useWorkbench.getState();
  const selected = selection.includes(hit.id);
  const ids = selected ? [...selection] : [hit.id];
  if (!selected) clearSelection();
  const drag = { before, from, row, ids, ...(copy && { seed: nanoid(6) }) };
  return dy >= dx ? { kind: 'velocity', ...drag, selected } : { kind: 'move', ...drag };
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

function move(
  stroke: Stroke & { kind: 'move' },
  point: Point,
  geometry: Geometry,
  fine: boolean,
): void {
  const { before, from, row, ids, seed } = stroke;
  if (fine && !seed) {
    const by = Math.round((point.x - from.x) / geometry.scale);
    const bounded = Math.max(-FINEST, Math.min(FINEST, by));
    preview([{ type: 'nudge', pattern: before.id, ids, by: bounded }], 'move off the grid');
    return;
  }
  const order = geometry.rows.map(({ piece }) => piece);
  const shift = boundShift(before, new Set(ids), {
    order,
    by: Math.round((point.x - from.x) / geometry.stepWidth(row)) * row.step,
    rows: geometry.rows.indexOf(geometry.rowAt(point.y)) - geometry.rows.indexOf(row),
  });
  const command: Command = seed
    ? { type: 'copy hits', pattern: before.id, ids, ...shift, order, seed }
    : { type: 'move hits', pattern: before.id, ids, ...shift, order };
  preview([command], seed ? 'copy hits' : 'move hits');
}

/** Erases the hits whose stems the pointer has passed, on the row where it began. */
function erase(
  stroke: Stroke & { kind: 'erase' },
  from: Point,
  to: Point,
  geometry: Geometry,
): void {
  const { before, row, ids } = stroke;
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
function selectWithin(stroke: Stroke & { kind: 'frame' }, point: Point, geometry: Geometry): Frame {
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
  select([...new Set([...stroke.besides, ...inside.map(({ hit }) => hit.id)])]);
  return { left, top, width: right - left, height: bottom - top };
}
