import { useLayoutEffect, useRef } from 'react';
import { drawSheet, type Sheet } from './draw';
import styles from './Sheet.module.css';

/** Pixels across of one canvas: a few of them hold what is in view, so that scrolling draws little. */
const TILE = 320;

/** The drawn sheet, as far as it is in view. */
export function Tiles({ sheet, from, to }: { sheet: Sheet; from: number; to: number }) {
  const { width } = sheet.geometry;
  const tiles = [];
  const first = Math.max(0, Math.floor(from / TILE));
  for (let n = first; n * TILE < Math.min(to, width); n++) tiles.push(n);
  return tiles.map((n) => (
    <Tile key={n} sheet={sheet} left={n * TILE} right={Math.min(width, (n + 1) * TILE)} />
  ));
}

function Tile({ sheet, left, right }: { sheet: Sheet; left: number; right: number }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const height = Math.ceil(sheet.geometry.height) + 2;
  const width = right - left;
  const { density } = sheet;
  useLayoutEffect(() => {
    const element = canvas.current;
    if (!element) return;
    const [wide, high] = [Math.ceil(width * density), Math.ceil(height * density)];
    // Setting the size clears and reallocates: only when it changed.
    if (element.width !== wide) element.width = wide;
    if (element.height !== high) element.height = high;
    const ink = element.getContext('2d');
    if (!ink) return;
    ink.setTransform(density, 0, 0, density, -left * density, 0);
    ink.clearRect(left, 0, width, height);
    drawSheet(ink, sheet, left, right);
  }, [sheet, left, right, width, height, density]);
  return (
    <canvas ref={canvas} className={styles.tile} style={{ left, width, height }} aria-hidden />
  );
}
