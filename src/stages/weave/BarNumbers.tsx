'use client';

import Box from '@mui/material/Box';
import { useRef, type PointerEvent } from 'react';
import type { Song } from '@/core';
import { barNumber } from '@/core/time';
import { barAround, laidPlaces, type LaidPlace } from '@/core/weave';
import { keyOf } from '@/state/acts';
import { useWorkbench } from '@/state/store';
import { chooseBars } from '@/state/weave/choosing';

interface BarNumbersProps {
  song: Song;
  laid: readonly LaidPlace[];
  x: (tick: number) => number;
  width: number;
  height: number;
}

/** The numbers of the bars: press one to choose its bar, drag over several to choose them. */
export function BarNumbers({ song, laid, x, width, height }: BarNumbersProps) {
  const from = useRef<number>(null);
  const length = laidPlaces(song).at(-1)!.end;
  const tickAt = (event: PointerEvent<HTMLElement>) => {
    const { left } = event.currentTarget.getBoundingClientRect();
    return Math.max(0, Math.min(length - 1, ((event.clientX - left) / width) * length));
  };
  const choose = (a: number, b: number) => {
    const [first, last] = [barAround(song, Math.min(a, b)), barAround(song, Math.max(a, b))];
    chooseBars({ from: first.from, to: last.to });
  };
  return (
    <Box
      data-bar-numbers
      title={`press a bar to choose it, drag over several (${keyOf('next-bar')})`}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        const { bars } = useWorkbench.getState();
        from.current = event.shiftKey && bars ? bars.from : tickAt(event);
        choose(from.current, tickAt(event));
      }}
      onPointerMove={(event) => {
        if (from.current !== null) choose(from.current, tickAt(event));
      }}
      onPointerUp={() => (from.current = null)}
      onPointerCancel={() => (from.current = null)}
      sx={{
        position: 'relative',
        height,
        mt: '4px',
        cursor: 'pointer',
        touchAction: 'none',
        userSelect: 'none',
        '& > span': { position: 'absolute', fontSize: 12, color: 'text.secondary' },
      }}
    >
      {numbersOf(laid, x).map(({ tick, bar }) => (
        <span key={bar} className="figures" style={{ left: x(tick) + 1 }}>
          {bar}
        </span>
      ))}
    </Box>
  );
}

/** The numbers there is room for: of first bars before others, of each fourth before the rest. */
function numbersOf(laid: readonly LaidPlace[], x: (tick: number) => number) {
  let last = -Infinity;
  return laid.flatMap(({ start, end, section, firstBar }) => {
    const bar = (x(end) - x(start)) / section.bars;
    return Array.from({ length: section.bars }, (_, i) => i).flatMap((i) => {
      if (i > 0 && i % 4 !== 0 && bar < 40) return [];
      const tick = start + barNumber(section.meters, i).start;
      if (x(tick) - last < (i === 0 ? 22 : 34)) return [];
      last = x(tick);
      return [{ tick, bar: firstBar + i + 1 }];
    });
  });
}
