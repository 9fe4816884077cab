'use client';

import Box from '@mui/material/Box';
import { useRef } from 'react';
import type { Song } from '@/core';
import { energyOf } from '@/core/draft';
import { EnergyCurve } from '@/look/EnergyCurve';
import { useClientSize } from '@/look/useClientSize';
import { useEnergyStroke } from '@/look/useEnergyStroke';
import { cancelEnergy, drawEnergy, endEnergy } from '@/state/weave/drafting';

/** The line of energy over the map of the whole song, however long it is: with Shift it is drawn there. */
export function EnergyMap({ song, height }: { song: Song; height: number }) {
  const field = useRef<HTMLDivElement>(null);
  const { width } = useClientSize(field);
  const lines = energyOf(song);
  const length = lines.at(-1)!.end;
  const stroke = useEnergyStroke({
    length,
    height,
    begins: ({ shiftKey }) => shiftKey,
    onStroke: drawEnergy,
    onEnd: endEnergy,
    onCancel: cancelEnergy,
  });
  return (
    <Box
      ref={field}
      data-energy-map
      title="Hold Shift and draw the energy of the whole song in one stroke. Without Shift: press to go there, drag to loop bars."
      sx={{ position: 'absolute', top: 0, left: 0, right: 0, height, touchAction: 'none' }}
      {...stroke}
    >
      {width > 0 && (
        <EnergyCurve
          lines={lines}
          x={(tick) => (tick / length) * width}
          width={width}
          height={height}
        />
      )}
    </Box>
  );
}
