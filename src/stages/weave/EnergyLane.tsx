'use client';

import Box from '@mui/material/Box';
import type { Song } from '@/core';
import { energyOf, reportOf } from '@/core/draft';
import { barLinesOf, type LaidPlace } from '@/core/weave';
import { EnergyCurve } from '@/look/EnergyCurve';
import { useEnergyStroke } from '@/look/useEnergyStroke';
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
  const lines = energyOf(song);
  const height = ENERGY - STRIP - 2;
  const shown = new Set(laid.map(({ place }) => place.id));
  const stroke = useEnergyStroke({
    length: lines.at(-1)!.end,
    height,
    onStroke: drawEnergy,
    onEnd: endEnergy,
    onCancel: cancelEnergy,
  });
  return (
    <Box
      role="img"
      aria-label="energy over the song"
      data-energy
      title={`Draw the energy of the song in one stroke: the draft follows it. Raise or lower the chosen sections with ${keyOf('energy-up')} and ${keyOf('energy-down')}.`}
      {...stroke}
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
      <EnergyCurve
        lines={lines.filter(({ place }) => shown.has(place))}
        x={x}
        width={width}
        height={height}
      />
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
