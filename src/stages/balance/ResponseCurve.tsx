'use client';

import Box from '@mui/material/Box';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { bendReaching, DESIGN_LIMITS, struckAs, type KitPiece } from '@/core/model';
import { slideDone } from '@/state/balance/balance';
import { slideDesign } from '@/state/balance/pieces';

const WIDTH = 240;
const HEIGHT = 84;
const xOf = (velocity: number) => ((velocity - 1) / 126) * WIDTH;
const yOf = (velocity: number) => HEIGHT - ((velocity - 1) / 126) * HEIGHT;
const velocityAt = (y: number) => 1 + (1 - y / HEIGHT) * 126;
const STEPS = Array.from({ length: 43 }, (_, i) => 1 + i * 3);
const MIDDLE = 64;

const within = (value: number, [low, high]: readonly [number, number]) =>
  Math.max(low, Math.min(high, value));

/** How a piece answers to velocity: its softest stroke and its middle are dragged, or moved by arrow keys. */
export function ResponseCurve({ piece }: { piece: KitPiece }) {
  const box = useRef<SVGSVGElement>(null);
  const { floor = 1, bend = 0 } = piece.design ?? {};
  const design = { floor, bend };
  const handles = [
    { name: 'softest', x: 6, velocity: floor, value: Math.round(floor) },
    { name: 'middle', x: xOf(MIDDLE), velocity: struckAs(MIDDLE, design), value: bend },
  ] as const;
  const set = (name: 'softest' | 'middle', velocity: number) =>
    slideDesign(
      piece,
      name === 'softest'
        ? { floor: Math.round(within(velocity, DESIGN_LIMITS.floor)) }
        : { bend: bendReaching(MIDDLE, velocity, floor) },
    );
  const drag = (name: 'softest' | 'middle') => (event: PointerEvent<SVGElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    set(name, velocityAt(event.clientY - box.current!.getBoundingClientRect().top));
  };
  const press = (name: 'softest' | 'middle') => (event: KeyboardEvent) => {
    const by = { ArrowUp: 1, ArrowDown: -1 }[event.key];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    slideDesign(
      piece,
      name === 'softest'
        ? { floor: within(floor + by, DESIGN_LIMITS.floor) }
        : { bend: within(Math.round((bend + by * 0.05) * 100) / 100, DESIGN_LIMITS.bend) },
    );
    slideDone();
  };
  return (
    <Box>
      <Box sx={{ fontSize: 13, minHeight: 24 }}>answer to velocity</Box>
      <svg
        ref={box}
        width={WIDTH}
        height={HEIGHT}
        style={{ background: 'var(--paper)', display: 'block', overflow: 'hidden' }}
      >
        <line x1={0} y1={HEIGHT} x2={WIDTH} y2={0} stroke="var(--line)" strokeDasharray="3 3" />
        <polyline
          data-response-curve
          points={STEPS.map(
            (v) => `${xOf(v).toFixed(1)},${yOf(struckAs(v, design)).toFixed(1)}`,
          ).join(' ')}
          fill="none"
          stroke="var(--accent)"
          strokeWidth={2}
        />
        {handles.map(({ name, x, velocity, value }) => (
          <circle
            key={name}
            role="slider"
            tabIndex={0}
            aria-label={`${piece.name}: ${name} stroke`}
            aria-valuemin={name === 'softest' ? 1 : -1}
            aria-valuemax={name === 'softest' ? 127 : 1}
            aria-valuenow={value}
            aria-valuetext={`struck as ${Math.round(velocity)}`}
            cx={x}
            cy={within(yOf(velocity), [6, HEIGHT - 6])}
            r={6}
            fill="var(--paper)"
            stroke="var(--accent)"
            strokeWidth={2}
            style={{ cursor: 'ns-resize', touchAction: 'none' }}
            onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
            onPointerMove={drag(name)}
            onPointerUp={slideDone}
            onPointerCancel={slideDone}
            onKeyDown={press(name)}
          >
            <title>
              {name} stroke: struck as {Math.round(velocity)}
            </title>
          </circle>
        ))}
      </svg>
    </Box>
  );
}
