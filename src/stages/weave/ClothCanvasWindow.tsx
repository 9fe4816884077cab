'use client';

import { useEffect, useRef, type RefObject } from 'react';
import { drawCloth, type ClothDrawing } from '@/look/drawCloth';
import { useTokens } from '@/look/LookProvider';

interface Props extends Omit<ClothDrawing, 'tokens' | 'left' | 'seen'> {
  /** What scrolls, and how much of it stands before the cloth. */
  scroller: RefObject<HTMLElement | null>;
  seen: number;
  /** How far from the left edge of what scrolls the cloth is seen, in pixels. */
  inset: number;
  label: string;
}

/**
 * The part of a wide cloth that is seen. It stays where it is while the cloth scrolls under it, and is
 * drawn anew for each place it scrolls to: a canvas as wide as the whole would be too big.
 */
export function ClothCanvasWindow({ scroller, seen, inset, label, ...drawing }: Props) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const tokens = useTokens();
  const { cloth, rowHeights, gap, stems, joins, width } = drawing;
  const height = Math.max(
    0,
    rowHeights.reduce((sum, h) => sum + h + gap, -gap),
  );

  useEffect(() => {
    const element = canvas.current;
    const box = scroller.current;
    if (!element || !box || seen <= 0 || height <= 0) return;
    const density = window.devicePixelRatio || 1;
    element.width = Math.round(seen * density);
    element.height = Math.round(height * density);
    const ink = element.getContext('2d');
    if (!ink) return;
    const draw = () => {
      ink.setTransform(density, 0, 0, density, 0, 0);
      ink.clearRect(0, 0, seen, height);
      const left = Math.max(0, Math.min(width - seen, box.scrollLeft));
      drawCloth(ink, { cloth, rowHeights, gap, stems, joins, width, tokens, left, seen });
    };
    draw();
    if (width <= seen) return;
    box.addEventListener('scroll', draw, { passive: true });
    return () => box.removeEventListener('scroll', draw);
  }, [cloth, rowHeights, gap, stems, joins, width, seen, height, tokens, scroller]);

  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label={label}
      style={{ position: 'sticky', left: inset, width: seen, height, display: 'block' }}
    />
  );
}
