import { memo, useEffect, useRef } from 'react';
import { SLOTS, type Fingerprint, GROUPS } from '@/core/library';
import { useTokens } from '@/look/LookProvider';

/** From the top of a drum staff to its bottom. */
const ROWS = ['cymbals', 'hats', 'snare', 'toms', 'kick', 'percussion'] as const;

/** The look of a groove in one bar, small: its rows from cymbals to kick, darker where it is harder. */
export const PrintCanvas = memo(function PrintCanvas({
  print,
  width = 96,
  height = 30,
}: {
  print: Fingerprint;
  width?: number;
  height?: number;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const tokens = useTokens();
  useEffect(() => {
    const ink = canvas.current?.getContext('2d');
    if (!ink || !canvas.current) return;
    const density = window.devicePixelRatio || 1;
    canvas.current.width = width * density;
    canvas.current.height = height * density;
    ink.setTransform(density, 0, 0, density, 0, 0);
    ink.fillStyle = tokens.paper;
    ink.fillRect(0, 0, width, height);
    ink.fillStyle = tokens.fineLine;
    for (let beat = 1; beat < 4; beat++) ink.fillRect(Math.round((beat * width) / 4), 0, 1, height);
    const row = height / ROWS.length;
    ROWS.forEach((group, r) => {
      const from = GROUPS.indexOf(group) * SLOTS;
      for (let slot = 0; slot < SLOTS; slot++) {
        const value = print[from + slot];
        if (value === 0) continue;
        ink.globalAlpha = 0.3 + (0.7 * value) / 255;
        ink.fillStyle = tokens.ink;
        ink.fillRect((slot * width) / SLOTS, r * row + 0.5, 2, row - 1);
      }
    });
    ink.globalAlpha = 1;
  }, [print, width, height, tokens]);
  return <canvas ref={canvas} style={{ width, height, display: 'block' }} aria-hidden />;
});
