'use client';

import Box from '@mui/material/Box';
import { USUAL_DRUMS } from '@/core/model';
import { decibelsOf, drumsOf, levelOf, saidLevel } from '@/core/tracks';
import * as chain from '@/state/balance/chain';
import { useWorkbench } from '@/state/store';
import { masterReading } from '@/state/transport/transport';
import { Card } from './Card';
import { ChainParts } from './ChainParts';
import { Dial } from './Dial';
import { Presets } from './Presets';

/** What all drums go through together, and the ceiling that nothing passes. */
export function DrumsCard() {
  const song = useWorkbench((state) => state.history!.song);
  const { level = 1, ceiling } = drumsOf(song);
  return (
    <Card label="drum bus">
      <Box sx={{ fontSize: 16, fontWeight: 600, minHeight: 30 }}>Drum bus</Box>
      <ChainParts name="drum bus" reduction={() => masterReading()?.reduction ?? 0} />
      <Dial
        label="level"
        name="level of the drum bus"
        value={decibelsOf(level)}
        usual={0}
        min={-24}
        max={12}
        step={0.5}
        says={(db) => saidLevel(levelOf(db))}
        onSlide={(db) => chain.slideDrums({ level: levelOf(db) })}
      />
      <Dial
        label="ceiling"
        name="ceiling of the drum bus"
        value={ceiling}
        usual={USUAL_DRUMS.ceiling}
        min={-12}
        max={0}
        step={0.1}
        says={(db) => saidLevel(levelOf(db))}
        onSlide={(db) => chain.slideDrums({ ceiling: db })}
      />
      <Presets />
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
        {' '}
        Every track goes through this, with its room and echo, but for the share of it that goes dry
        beside it. Nothing gets over the ceiling.{' '}
      </Box>
    </Card>
  );
}
