import type { Pattern } from '@/core';
import { ACCENT_FROM } from '@/core/model/limits';
import type { PieceId } from '@/core/model/pieces';
import type { Ticks, Velocity } from '@/core/time/units';

/** Room left of the first step, so that a hit on it, or before it, is seen whole. */
const LEFT = 14;
const RIGHT = 10;
/** Room above the loudest and below the softest hit of a row. */
const TOP = 11;
const BOTTOM = 3;
export const ROW_GAP = 4;
const NARROWEST_STEP = 15;

export interface RowPlace {
  piece: PieceId;
  top: number;
  height: number;
}

/** Where ticks, rows and velocities lie on the sheet, in pixels, and back. */
export interface Geometry {
  width: number;
  height: number;
  stepWidth: number;
  rows: readonly RowPlace[];
  x(tick: Ticks): number;
  /** Not bounded to the pattern. */
  tick(x: number): Ticks;
  /** The step whose column holds x. A column begins a little before its line. */
  step(x: number): Ticks;
  /** Height of a stem of this velocity in a row. */
  stem(velocity: Velocity, row: RowPlace): number;
  velocity(y: number, row: RowPlace): Velocity;
  rowAt(y: number): RowPlace;
}

/** Pieces that carry most of a beat get the tallest rows. */
const TALL = new Set<PieceId>(['hihat', 'snare', 'kick']);

export function geometryOf(pattern: Pattern, width: number, height: number): Geometry {
  const { length, step, strands } = pattern;
  const steps = length / step;
  const wide = Math.max(width, steps * NARROWEST_STEP + LEFT + RIGHT);
  const scale = (wide - LEFT - RIGHT) / length;
  const rows = rowPlaces(
    strands.map((strand) => strand.piece),
    height,
  );
  const last = (Math.ceil(steps) - 1) * step;
  return {
    width: wide,
    height: rows.length ? rows[rows.length - 1].top + rows[rows.length - 1].height : 0,
    stepWidth: step * scale,
    rows,
    x: (tick) => LEFT + tick * scale,
    tick: (x) => (x - LEFT) / scale,
    step: (x) => Math.max(0, Math.min(last, Math.floor((x - LEFT) / scale / step + 0.3) * step)),
    stem: (velocity, row) => (velocity / 127) * (row.height - TOP - BOTTOM),
    velocity: (y, row) => {
      const share = (row.top + row.height - BOTTOM - y) / (row.height - TOP - BOTTOM);
      return Math.max(1, Math.min(127, Math.round(share * 127)));
    },
    rowAt: (y) =>
      rows.find((row) => y < row.top + row.height + ROW_GAP / 2) ?? rows[rows.length - 1],
  };
}

function rowPlaces(pieces: readonly PieceId[], height: number): RowPlace[] {
  const weights = pieces.map((piece) => (TALL.has(piece) ? 1.8 : 1));
  const sum = weights.reduce((a, b) => a + b, 0);
  const room = height - ROW_GAP * (pieces.length - 1);
  let top = 0;
  return pieces.map((piece, i) => {
    const tall = weights[i] > 1;
    const share = Math.floor((room * weights[i]) / sum);
    const rowHeight = Math.max(tall ? 66 : 40, Math.min(tall ? 132 : 76, share));
    const row = { piece, top, height: rowHeight };
    top += rowHeight + ROW_GAP;
    return row;
  });
}

/** Where the line of accents lies in a row, above its bottom. */
export function accentLine(geometry: Geometry, row: RowPlace): number {
  return row.height - BOTTOM - geometry.stem(ACCENT_FROM, row);
}

export const STEM_FOOT = BOTTOM;
