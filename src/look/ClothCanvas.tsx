'use client';

import { useEffect, useRef } from 'react';
import { useTokens } from './LookProvider';
import { useClientSize } from './useClientSize';
import { drawCloth, type ClothLook } from './drawCloth';

export interface ClothCanvasProps extends ClothLook {
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
