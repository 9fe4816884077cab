import type { Notehead as Head } from '@/core/model';

/** How a notehead is drawn around 0, 0, about 10 units wide: as SVG and on a canvas alike. */
export interface HeadShape {
  fill?: string;
  stroke?: string;
  strokeWidth?: number;
}

/** A disc of 5 by 3.9, tilted as an engraver has it. */
const DISC = 'M-4.76 1.55A5 3.9 -18 1 0 4.76 -1.55A5 3.9 -18 1 0 -4.76 1.55Z';

export const HEAD_SHAPES: Readonly<Record<Head, readonly HeadShape[]>> = {
  dot: [{ fill: DISC }],
  cross: [{ stroke: 'M-4 -4L4 4M-4 4L4 -4', strokeWidth: 1.8 }],
  'circled-cross': [
    { stroke: 'M-6.2 0A6.2 6.2 0 1 0 6.2 0A6.2 6.2 0 1 0 -6.2 0Z', strokeWidth: 1.3 },
    { stroke: 'M-3.2 -3.2L3.2 3.2M-3.2 3.2L3.2 -3.2', strokeWidth: 1.8 },
  ],
  diamond: [{ fill: 'M0 -5.4L5 0L0 5.4L-5 0Z' }],
  triangle: [{ stroke: 'M0 -5L5 4L-5 4Z', strokeWidth: 1.8 }],
};

/** A notehead as drummers write it, centred on 0, 0. In the current colour. */
export function Notehead({ head }: { head: Head }) {
  return HEAD_SHAPES[head].map(({ fill, stroke, strokeWidth }, i) => (
    <path
      key={i}
      d={fill ?? stroke}
      fill={fill ? 'currentColor' : 'none'}
      stroke={stroke ? 'currentColor' : 'none'}
      strokeWidth={strokeWidth}
      strokeLinejoin="round"
    />
  ));
}

/** A notehead by itself, as the sign before a piece's name. */
export function PieceSign({ head, size = 14 }: { head: Head; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-7 -7 14 14" aria-hidden>
      <Notehead head={head} />
    </svg>
  );
}
