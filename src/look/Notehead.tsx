import type { Notehead as Head } from '@/core/model/pieces';

/** A notehead as drummers write it, centred on 0, 0; about 10 units wide. In the current colour. */
export function Notehead({ head }: { head: Head }) {
  const stroke = { fill: 'none', stroke: 'currentColor', strokeWidth: 1.8 };
  switch (head) {
    case 'dot':
      return <ellipse rx={5} ry={3.9} transform="rotate(-18)" fill="currentColor" stroke="none" />;
    case 'cross':
      return <path d="M-4 -4L4 4M-4 4L4 -4" {...stroke} />;
    case 'circled-cross':
      return (
        <>
          <circle r={6.2} {...stroke} strokeWidth={1.3} />
          <path d="M-3.2 -3.2L3.2 3.2M-3.2 3.2L3.2 -3.2" {...stroke} />
        </>
      );
    case 'diamond':
      return <path d="M0 -5.4L5 0L0 5.4L-5 0Z" fill="currentColor" stroke="none" />;
    case 'triangle':
      return <path d="M0 -5L5 4L-5 4Z" {...stroke} strokeLinejoin="round" />;
  }
}

/** A notehead by itself, as the sign before a piece's name. */
export function PieceSign({ head, size = 14 }: { head: Head; size?: number }) {
  return (
    <svg width={size} height={size} viewBox="-7 -7 14 14" aria-hidden>
      <Notehead head={head} />
    </svg>
  );
}
