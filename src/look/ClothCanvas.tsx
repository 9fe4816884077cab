'use client';

import { useEffect, useRef } from 'react';
import type { Cloth } from '@/core/weave';
import type { Ticks } from '@/core/time';
import { useTokens } from './LookProvider';
import { useClientSize } from './useClientSize';
import type { Tokens } from './tokens';
import { weaveFill } from './weaves';

export interface ClothCanvasProps {
  cloth: Cloth;
  /** Height of each row, gap not included. */
  rowHeights: readonly number[];
  gap: number;
  /** Draws every hit as a stem; without, only the weave. */
  stems?: boolean;
  /** Where sections start, for the joins between them. */
  joins: readonly Ticks[];
  label: string;
}

/** Draws the cloth as wide as it may be. The same drawing at two sizes: in Weave and on the ribbon. */
export function ClothCanvas({ cloth, rowHeights, gap, stems, joins, label }: ClothCanvasProps) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { width } = useClientSize(canvas);
  const tokens = useTokens();
  const height = rowHeights.reduce((sum, h) => sum + h + gap, -gap);

  useEffect(() => {
    const element = canvas.current;
    if (!element || width === 0 || height <= 0) return;
    const density = window.devicePixelRatio || 1;
    element.width = Math.round(width * density);
    element.height = Math.round(height * density);
    const ink = element.getContext('2d');
    if (!ink) return;
    ink.scale(density, density);
    drawCloth(ink, { cloth, rowHeights, gap, stems, joins, width, tokens });
  }, [cloth, rowHeights, gap, stems, joins, width, height, tokens]);

  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      style={{ width: '100%', height: Math.max(0, height), display: 'block' }}
    />
  );
}

interface Drawing extends Omit<ClothCanvasProps, 'label'> {
  width: number;
  tokens: Tokens;
}

function drawCloth(ink: CanvasRenderingContext2D, drawing: Drawing): void {
  const { cloth, rowHeights, gap, stems, joins, width, tokens } = drawing;
  const x = (tick: Ticks) => (tick / cloth.length) * width;
  let top = 0;
  cloth.rows.forEach((row, i) => {
    const height = rowHeights[i] ?? 0;
    ink.fillStyle = tokens.paper;
    ink.fillRect(0, top, width, height);
    for (const { from, to, dye, overlay } of row.cells) {
      ink.fillStyle = weaveFill(ink, dye, tokens.dyes[dye], 1);
      ink.fillRect(x(from), top, x(to) - x(from), height);
      if (overlay && stems) {
        ink.strokeStyle = tokens.dyes[dye];
        ink.lineWidth = 1;
        ink.strokeRect(x(from) + 0.5, top + 0.5, x(to) - x(from) - 1, height - 1);
      }
    }
    if (stems) drawStems(ink, row, top, height, x, tokens);
    top += height + gap;
  });
  ink.fillStyle = tokens.ground;
  for (const tick of joins) if (tick > 0) ink.fillRect(Math.round(x(tick)) - 1, 0, 2, top);
}

function drawStems(
  ink: CanvasRenderingContext2D,
  row: Cloth['rows'][number],
  top: number,
  height: number,
  x: (tick: Ticks) => number,
  tokens: Tokens,
): void {
  const dyeOf = new Map(row.cells.map(({ pattern, dye }) => [pattern, dye]));
  const room = height - 4;
  for (const { tick, velocity, pattern } of row.hits) {
    const stem = Math.max(2, (velocity / 127) * room);
    ink.fillStyle = tokens.dyes[dyeOf.get(pattern) ?? 0];
    ink.fillRect(Math.round(x(tick)), top + height - stem - 1, 1.25, stem);
  }
}
