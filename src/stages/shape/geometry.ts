import { findStrand, type Pattern } from '@/core';
import {
  ACCENT_FROM,
  DEFAULT_KIT,
  pieceOf,
  type Kit,
  type PieceId,
  type RowView,
} from '@/core/model';
import { shownRows } from '@/core/pattern';
import { PPQ, type Ticks, type Velocity } from '@/core/time';

/** Room left of the first step, so that a hit on it, or before it, is seen whole. */
export const LEFT = 14;
export const RIGHT = 10;
/** Room above the loudest and below the softest hit of a row. */
const TOP = 11;
const BOTTOM = 3;
export const ROW_GAP = 4;
/** Between rows of different families. */
const FAMILY_GAP = 9;
const NARROWEST_STEP = 15;
/** A whole pattern that is to be seen at once has beats no narrower than this. */
const NARROWEST_BEAT = 2;
const FOLDED_HEIGHT = 20;
const OPEN_HEIGHT = 210;
export const LANE_HEIGHT = 76;

/** The closest and the widest that time is drawn, in pixels a quarter note. */
export const BEAT_PIXELS = [6, 480] as const;
export const ROW_ZOOM = [0.6, 3] as const;

export interface RowPlace {
  piece: PieceId;
  top: number;
  /** Of the stems; a lane lies below them. */
  height: number;
  lane: number;
  /** The steps it is written at. */
  step: Ticks;
  /** After so many ticks it repeats itself; infinite for most. */
  loop: Ticks;
  folded: boolean;
}

/** Where ticks, rows and velocities lie on the sheet, in pixels, and back. */
export interface Geometry {
  width: number;
  height: number;
  /** Pixels a tick. */
  scale: number;
  rows: readonly RowPlace[];
  stepWidth(row: Pick<RowPlace, 'step'>): number;
  x(tick: Ticks): number;
  /** Not bounded to the pattern. */
  tick(x: number): Ticks;
  /** The step of a row whose column holds x. A column begins a little before its line. */
  step(x: number, row: RowPlace): Ticks;
  /** Height of a stem of this velocity in a row. */
  stem(velocity: Velocity, row: RowPlace): number;
  velocity(y: number, row: RowPlace): Velocity;
  rowAt(y: number): RowPlace;
}

/** How much of the sheet is seen at once. */
export interface SheetZoom {
  /** Pixels a quarter note; absent fits the pattern, as far as its steps stay wide enough. */
  beat?: number;
  /** Factor of the height of rows. */
  rows: number;
  /** The whole pattern is to be seen, with all its rows, however narrow its steps get. */
  fit?: true;
}

/** Pieces that carry most of a beat get the tallest rows. */
const TALL = new Set<PieceId>(['hihat', 'snare', 'kick']);

export function geometryOf(
  pattern: Pattern,
  view: RowView,
  width: number,
  height: number,
  zoom: SheetZoom = { rows: 1 },
  laneOf?: PieceId,
  kit: Kit = DEFAULT_KIT,
): Geometry {
  const { length } = pattern;
  const whole = (width - LEFT - RIGHT) / length;
  const fitted = zoom.fit
    ? Math.max(whole, NARROWEST_BEAT / PPQ)
    : Math.max(whole, NARROWEST_STEP / Math.min(pattern.step, PPQ));
  const scale = zoom.beat ? zoom.beat / PPQ : fitted;
  const rows = rowPlaces(pattern, view, height, zoom, laneOf, kit);
  const lastRow = rows.at(-1);
  const tickAt = (x: number) => (x - LEFT) / scale;
  return {
    width: Math.max(length * scale + LEFT + RIGHT, width),
    height: lastRow ? lastRow.top + lastRow.height + lastRow.lane : 0,
    scale,
    rows,
    stepWidth: ({ step }) => step * scale,
    x: (tick) => LEFT + tick * scale,
    tick: tickAt,
    step: (x, { step }) => {
      const last = (Math.ceil(length / step - 1e-9) - 1) * step;
      return Math.max(0, Math.min(last, Math.floor(tickAt(x) / step + 0.3) * step));
    },
    stem: (velocity, row) => (velocity / 127) * stemRoom(row),
    velocity: (y, row) => {
      const share = (row.top + row.height - BOTTOM - y) / stemRoom(row);
      return Math.max(1, Math.min(127, Math.round(share * 127)));
    },
    rowAt: (y) =>
      rows.find((row) => y < row.top + row.height + row.lane + ROW_GAP / 2) ??
      rows[rows.length - 1],
  };
}

const stemRoom = ({ height, folded }: RowPlace) => height - (folded ? 4 : TOP) - BOTTOM;

function rowPlaces(
  pattern: Pattern,
  view: RowView,
  height: number,
  { rows: zoom, fit }: SheetZoom,
  laneOf: PieceId | undefined,
  kit: Kit,
): RowPlace[] {
  const pieces = shownRows(pattern, view);
  const { open = [], folded = [] } = view;
  const gapAfter = (i: number) =>
    i + 1 < pieces.length && pieceOf(pieces[i], kit).family !== pieceOf(pieces[i + 1], kit).family
      ? FAMILY_GAP
      : ROW_GAP;
  const isUsual = (piece: PieceId) => !open.includes(piece) && !folded.includes(piece);
  const weight = (piece: PieceId) => (isUsual(piece) ? (TALL.has(piece) ? 1.8 : 1) : 0);
  const sum = pieces.reduce((all, piece) => all + weight(piece), 0);
  const fixed = pieces.reduce((all, piece, i) => {
    const own = open.includes(piece) ? OPEN_HEIGHT : folded.includes(piece) ? FOLDED_HEIGHT : 0;
    return all + own + gapAfter(i) + (piece === laneOf ? LANE_HEIGHT : 0);
  }, 0);
  const room = height - fixed;
  let top = 0;
  return pieces.map((piece, i) => {
    const strand = findStrand(pattern, piece)!;
    const tall = TALL.has(piece);
    const share = Math.floor((room * weight(piece)) / (sum || 1));
    const least = fit ? FOLDED_HEIGHT : tall ? 52 : 32;
    const usual = Math.max(least, Math.min(tall ? 132 : 76, share));
    const isFolded = folded.includes(piece);
    const own = open.includes(piece) ? OPEN_HEIGHT : usual;
    const row = {
      piece,
      top,
      height: isFolded ? FOLDED_HEIGHT : Math.round(own * zoom),
      lane: piece === laneOf ? LANE_HEIGHT : 0,
      step: strand.stepTicks ?? pattern.step,
      loop: strand.loopTicks ?? Infinity,
      folded: isFolded,
    };
    top += row.height + row.lane + gapAfter(i);
    return row;
  });
}

/** Where the line of accents lies in a row, above its bottom. */
export function accentLine(geometry: Geometry, row: RowPlace): number {
  return row.height - BOTTOM - geometry.stem(ACCENT_FROM, row);
}

export const STEM_FOOT = BOTTOM;

/** Room above the highest and below the lowest bar of a lane. */
const LANE_MARGIN = 6;

/** Where a share of a lane's range (0 to 1) lies, from the top of the sheet, and back. */
export function laneY(row: RowPlace, share: number): number {
  const foot = row.top + row.height + row.lane - LANE_MARGIN;
  return foot - share * (row.lane - 2 * LANE_MARGIN);
}

export function laneShare(row: RowPlace, y: number): number {
  const foot = row.top + row.height + row.lane - LANE_MARGIN;
  return Math.max(0, Math.min(1, (foot - y) / (row.lane - 2 * LANE_MARGIN)));
}
