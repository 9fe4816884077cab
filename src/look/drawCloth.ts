import type { Ticks } from '@/core/time';
import type { Cloth } from '@/core/weave';
import type { Tokens } from './tokens';
import { weaveFill } from './weaves';

/** A cloth as it is drawn. */
export interface ClothLook {
  cloth: Cloth;
  /** Height of each row, gap not included. */
  rowHeights: readonly number[];
  gap: number;
  /** Draws every hit as a stem; without, only the weave. */
  stems?: boolean;
  /** Where sections start, for the joins between them. */
  joins: readonly Ticks[];
}

/** The part of a cloth that is drawn, and how. */
export interface ClothDrawing extends ClothLook {
  /** Of the whole cloth, in pixels. */
  width: number;
  tokens: Tokens;
  /** The first pixel that is seen, and how many are; absent is all. */
  left?: number;
  seen?: number;
}

/** Narrower cells show no hatch, in pixels: half of its tile. */
const NARROW = 4;
/** How strong their tint is, 0 to 1: as dark as tint and hatch together. */
const FLAT = 0.3;

/** Draws a cloth, or as much of it as is seen. */
export function drawCloth(ink: CanvasRenderingContext2D, drawing: ClothDrawing): void {
  const { cloth, rowHeights, gap, stems, joins, width, tokens, left = 0 } = drawing;
  const seen = drawing.seen ?? width;
  const perTick = width / Math.max(1, cloth.length);
  const x = (tick: Ticks) => tick * perTick - left;
  const from = left / perTick;
  const to = (left + seen) / perTick;
  const weaves = new Map<number, CanvasPattern>();
  let top = 0;
  cloth.rows.forEach((row, i) => {
    const height = rowHeights[i] ?? 0;
    ink.fillStyle = tokens.paper;
    ink.fillRect(0, top, seen, height);
    // All cells of a dye are filled after one another: changing what fills takes longest.
    const woven = new Map<number, { x: number; width: number }[]>();
    const edges: { dye: number; x: number; width: number }[] = [];
    for (const cell of row.cells) {
      if (cell.to <= from || cell.from >= to) continue;
      // Whole pixels: neighbours meet without a seam, and edges need not be blended.
      const begins = Math.max(-2, Math.round(x(cell.from)));
      const long = Math.min(Math.ceil(seen) + 2, Math.round(x(cell.to))) - begins;
      if (cell.silent) {
        if (stems) drawRest(ink, begins, top, long, height, tokens);
        continue;
      }
      const cells = woven.get(cell.dye) ?? woven.set(cell.dye, []).get(cell.dye)!;
      cells.push({ x: begins, width: long });
      if (cell.overlay && stems) edges.push({ dye: cell.dye, x: begins, width: long });
    }
    for (const [dye, cells] of woven) {
      // A cell too narrow for its hatch is given its tint alone, which takes a fraction of the time.
      ink.fillStyle = tokens.dyes[dye];
      ink.globalAlpha = FLAT;
      for (const { x: begins, width: long } of cells) {
        if (long < NARROW) ink.fillRect(begins, top, long, height);
      }
      ink.globalAlpha = 1;
      if (cells.every((cell) => cell.width < NARROW)) continue;
      let weave = weaves.get(dye);
      if (!weave) weaves.set(dye, (weave = weaveFill(ink, dye, tokens.dyes[dye], 1)));
      ink.fillStyle = weave;
      for (const { x: begins, width: long } of cells) {
        if (long >= NARROW) ink.fillRect(begins, top, long, height);
      }
    }
    ink.lineWidth = 1;
    for (const { dye, x: begins, width: long } of edges) {
      ink.strokeStyle = tokens.dyes[dye];
      ink.strokeRect(begins + 0.5, top + 0.5, long - 1, height - 1);
    }
    if (stems) drawStems(ink, row, { top, height, x, from, to, seen, tokens });
    top += height + gap;
  });
  ink.fillStyle = tokens.ground;
  for (const tick of joins) {
    if (tick > from && tick < to) ink.fillRect(Math.round(x(tick)) - 1, 0, 2, top);
  }
}

/** A silent stretch where something else would sound: paper with a line through it, as a rest. */
function drawRest(
  ink: CanvasRenderingContext2D,
  x: number,
  top: number,
  width: number,
  height: number,
  tokens: Tokens,
): void {
  ink.strokeStyle = tokens.softInk;
  ink.lineWidth = 1;
  ink.setLineDash([3, 3]);
  ink.beginPath();
  ink.moveTo(x + 2, top + height / 2);
  ink.lineTo(x + width - 2, top + height / 2);
  ink.stroke();
  ink.setLineDash([]);
}

interface StemDrawing {
  top: number;
  height: number;
  x: (tick: Ticks) => number;
  from: Ticks;
  to: Ticks;
  seen: number;
  tokens: Tokens;
}

/** Stems of a row: one for each hit, or where several fall on one pixel, one for the loudest of them. */
function drawStems(
  ink: CanvasRenderingContext2D,
  row: Cloth['rows'][number],
  { top, height, x, from, to, seen, tokens }: StemDrawing,
): void {
  const dyeOf = new Map(row.cells.map(({ pattern, dye }) => [pattern, dye]));
  const room = height - 4;
  const loudest = new Uint8Array(Math.ceil(seen) + 2);
  const dyes = new Uint8Array(loudest.length);
  const { hits } = row;
  for (let i = firstFrom(hits, from); i < hits.length && hits[i].tick < to; i++) {
    const { tick, velocity, pattern } = hits[i];
    const at = Math.round(x(tick));
    if (at < 0 || velocity <= loudest[at]) continue;
    loudest[at] = velocity;
    dyes[at] = dyeOf.get(pattern) ?? 0;
  }
  // The stems of a dye after one another; where they stand close, on whole pixels.
  const wide = x(3840) - x(0) > 40 ? 1.25 : 1;
  for (const dye of new Set(dyeOf.values())) {
    ink.fillStyle = tokens.dyes[dye];
    for (let at = 0; at < loudest.length; at++) {
      if (loudest[at] === 0 || dyes[at] !== dye) continue;
      const stem = Math.max(2, Math.round((loudest[at] / 127) * room));
      ink.fillRect(at, top + height - stem - 1, wide, stem);
    }
  }
}

/** The first hit that sounds at a tick or later; hits are in the order they sound. */
function firstFrom(hits: Cloth['rows'][number]['hits'], tick: Ticks): number {
  let low = 0;
  let high = hits.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (hits[middle].tick < tick) low = middle + 1;
    else high = middle;
  }
  return low;
}
