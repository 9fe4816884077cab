'use client';

import Box from '@mui/material/Box';
import { useRef, type PointerEvent } from 'react';
import type { Song } from '@/core';
import { energyOf, levelAt, reportOf, type EnergyStroke } from '@/core/draft';
import { barLinesOf, type LaidPlace } from '@/core/weave';
import { keyOf } from '@/state/acts';
import { useWorkbench } from '@/state/store';
import { cancelEnergy, drawEnergy, endEnergy } from '@/state/weave/drafting';

/** Height of the line, without the gap below it. */
export const ENERGY = 46;
/** Room for the strip that says which bars a draft would change. */
const STRIP = 4;

interface EnergyLaneProps {
  song: Song;
  laid: readonly LaidPlace[];
  x: (tick: number) => number;
  width: number;
}

/** The line of energy over the song: draw it in one stroke; the draft follows it. */
export function EnergyLane({ song, laid, x, width }: EnergyLaneProps) {
  const drafting = useWorkbench((state) => state.weaveView === 'draft');
  const stroke = useRef<EnergyStroke[]>(null);
  const lines = energyOf(song);
  const tall = ENERGY - STRIP - 2;
  const y = (level: number) => 2 + (1 - level) * (tall - 4);
  const length = lines.at(-1)!.end;
  const momentAt = (event: PointerEvent<HTMLElement>): EnergyStroke => {
    const { left, top } = event.currentTarget.getBoundingClientRect();
    const tick = Math.max(0, Math.min(length, ((event.clientX - left) / width) * length));
    const level = 1 - (event.clientY - top - 2) / (tall - 4);
    return { tick, level: Math.max(0, Math.min(1, level)) };
  };
  const end = (event: PointerEvent<HTMLElement>) => {
    const drawn = stroke.current;
    stroke.current = null;
    if (!drawn) return;
    if (event.type === 'pointercancel') return cancelEnergy();
    endEnergy(drawn);
  };
  const shown = new Set(laid.map(({ place }) => place.id));
  const seen = lines.filter(({ place }) => shown.has(place));
  const path = seen
    .map(({ start, end: until, points }) => {
      const at = (tick: number, level: number) =>
        `${x(start + tick).toFixed(1)},${y(level).toFixed(1)}`;
      const first = at(0, points[0].level);
      const inner = points.filter(({ at: tick }) => tick < until - start);
      const last = at(until - start, levelAt(points, until - start));
      return [first, ...inner.map((point) => at(point.at, point.level)), last].join(' L');
    })
    .join(' L');
  const [from, to] = [x(seen[0]?.start ?? 0), x(seen.at(-1)?.end ?? 0)];
  return (
    <Box
      role="img"
      aria-label="energy over the song"
      data-energy
      title={`Draw the energy of the song in one stroke: the draft follows it. Raise or lower the chosen sections with ${keyOf('energy-up')} and ${keyOf('energy-down')}.`}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        stroke.current = [momentAt(event)];
        drawEnergy(stroke.current);
      }}
      onPointerMove={(event) => {
        if (!stroke.current) return;
        stroke.current.push(momentAt(event));
        drawEnergy(stroke.current);
      }}
      onPointerUp={end}
      onPointerCancel={end}
      sx={{
        height: ENERGY,
        mb: '4px',
        position: 'relative',
        cursor: 'crosshair',
        touchAction: 'none',
        bgcolor: 'var(--paper)',
        userSelect: 'none',
      }}
    >
      <svg width={width} height={tall} style={{ display: 'block' }} aria-hidden>
        <path
          d={`M${from.toFixed(1)},${tall} L${path} L${to.toFixed(1)},${tall} Z`}
          fill="color-mix(in srgb, var(--accent) 11%, transparent)"
        />
        <path
          d={`M${path}`}
          fill="none"
          stroke="var(--accent)"
          strokeWidth={2}
          strokeLinejoin="round"
          strokeDasharray={seen.some(({ drawn }) => drawn) ? undefined : '5 4'}
        />
      </svg>
      {drafting && <Strip song={song} laid={laid} x={x} />}
    </Box>
  );
}

/** Under the line: the bars that a draft fills are inked, what it leaves alone is not. */
function Strip({ song, laid, x }: Omit<EnergyLaneProps, 'width'>) {
  const { bars } = reportOf(song);
  const runs: { from: number; to: number; left: boolean; key: string; says: string }[] = [];
  for (const { section, start, firstBar } of laid) {
    const lines = barLinesOf(section);
    for (let bar = 0; bar < section.bars; bar++) {
      const state = bars[firstBar + bar];
      const left = state === 'by hand' || state === 'elsewhere' || state === 'locked';
      const last = runs.at(-1);
      const from = x(start + lines[bar]);
      const to = x(start + lines[bar + 1]);
      if (last && last.left === left && Math.abs(last.to - from) < 0.5 && last.says === state) {
        last.to = to;
      } else runs.push({ from, to, left, says: state, key: `${firstBar + bar}` });
    }
  }
  return runs.map(({ from, to, left, key, says }) => (
    <Box
      key={key}
      title={left ? `${says}: a draft leaves these bars as they are` : undefined}
      sx={{
        position: 'absolute',
        bottom: 0,
        height: STRIP,
        ...(left
          ? { borderBottom: '2px dotted var(--soft-ink)' }
          : { bgcolor: 'color-mix(in srgb, var(--accent) 45%, transparent)' }),
      }}
      style={{ left: from, width: Math.max(1, to - from - 1) }}
    />
  ));
}
