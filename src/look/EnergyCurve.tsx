'use client';

import type { EnergyLine } from '@/core/draft';
import { levelAt } from '@/core/model';

/** Room above and below a line of energy, in pixels. */
const EDGE = 2;

interface EnergyCurveProps {
  lines: readonly EnergyLine[];
  x: (tick: number) => number;
  width: number;
  height: number;
}

/** The line of energy over some places that follow one another: dashed where all of it is only proposed. */
export function EnergyCurve({ lines, x, width, height }: EnergyCurveProps) {
  const y = (level: number) => EDGE + (1 - level) * (height - 2 * EDGE);
  const path = lines
    .map(({ start, end, points }) => {
      const at = (tick: number, level: number) =>
        `${x(start + tick).toFixed(1)},${y(level).toFixed(1)}`;
      const first = at(0, points[0].level);
      const inner = points.filter(({ at: tick }) => tick < end - start);
      const last = at(end - start, levelAt(points, end - start));
      return [first, ...inner.map((point) => at(point.at, point.level)), last].join(' L');
    })
    .join(' L');
  const [from, to] = [x(lines[0]?.start ?? 0), x(lines.at(-1)?.end ?? 0)];
  return (
    <svg width={width} height={height} style={{ display: 'block' }} aria-hidden>
      <path
        d={`M${from.toFixed(1)},${height} L${path} L${to.toFixed(1)},${height} Z`}
        fill="color-mix(in srgb, var(--accent) 11%, transparent)"
      />
      <path
        d={`M${path}`}
        fill="none"
        stroke="var(--accent)"
        strokeWidth={2}
        strokeLinejoin="round"
        strokeDasharray={lines.some(({ drawn }) => drawn) ? undefined : '5 4'}
      />
    </svg>
  );
}

/** The level of energy, 0 to 1, at a height of a field with such a line. @param y pixels from its top */
export function levelOf(y: number, height: number): number {
  return Math.max(0, Math.min(1, 1 - (y - EDGE) / (height - 2 * EDGE)));
}
