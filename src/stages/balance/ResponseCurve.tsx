'use client';

import Box from '@mui/material/Box';
import { bendReaching, DESIGN_LIMITS, struckAs, type KitPiece } from '@/core/model';
import { CurveHandle } from '@/look/CurveHandle';
import { TypedValue } from '@/look/TypedValue';
import { slideDone } from '@/state/balance/balance';
import { slideDesign } from '@/state/balance/pieces';
import { cancelGesture } from '@/state/session/edit';

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
  const step = (name: 'softest' | 'middle', by: number) =>
    slideDesign(
      piece,
      name === 'softest'
        ? {
            floor: within(
              Math.round(floor + Math.sign(by) * Math.max(1, Math.abs(by))),
              DESIGN_LIMITS.floor,
            ),
          }
        : { bend: within(Math.round((bend + by * 0.05) * 1000) / 1000, DESIGN_LIMITS.bend) },
    );
  return (
    <Box>
      <Box sx={{ fontSize: 13, minHeight: 24 }}>velocity curve</Box>
      <svg
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
          <CurveHandle
            key={name}
            name={`${piece.name}: ${name} stroke`}
            min={name === 'softest' ? 1 : -1}
            max={name === 'softest' ? 127 : 1}
            value={value}
            says={`struck as ${Math.round(velocity)}`}
            x={x}
            y={within(yOf(velocity), [6, HEIGHT - 6])}
            cursor="ns-resize"
            onPlace={(_, y) => set(name, velocityAt(y))}
            onStep={(across, up) => step(name, across + up)}
            onReset={() => slideDesign(piece, name === 'softest' ? { floor: 1 } : { bend: 0 })}
            onDone={slideDone}
            onCancel={cancelGesture}
          />
        ))}
      </svg>
      <Box sx={{ display: 'flex', gap: 2, fontSize: 13, pt: 0.25 }}>
        {handles.map(({ name, velocity }) => (
          <Box key={name} component="span" sx={{ display: 'flex', gap: 0.75 }}>
            {name}
            <TypedValue
              name={`${piece.name}: ${name} stroke`}
              value={Math.round(velocity)}
              min={name === 'softest' ? 1 : Math.round(floor)}
              max={127}
              says={String}
              onType={(to) => {
                set(name, to);
                slideDone();
              }}
            />
          </Box>
        ))}
      </Box>
    </Box>
  );
}
