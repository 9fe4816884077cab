'use client';

import Box from '@mui/material/Box';
import Popover from '@mui/material/Popover';
import { useState } from 'react';
import { positionAt } from '@/core/weave';
import { NumberField } from '@/look/NumberField';
import { edit } from '@/state/session/edit';
import { useWorkbench } from '@/state/store';

/** The tempo of the song's start, and the later changes of tempo if there are any. */
export function TempoField() {
  const song = useWorkbench((state) => state.history!.song);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const bpm = Math.round(song.tempo[0].bpm * 100) / 100;
  return (
    <>
      <Box
        component="button"
        type="button"
        className="figures"
        aria-label={`${bpm} bpm: press to change the tempo`}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{
          p: 0,
          border: 0,
          background: 'none',
          color: 'inherit',
          fontSize: 12,
          cursor: 'pointer',
          borderBottom: '1px dotted var(--soft-ink)',
        }}
      >
        {bpm} bpm
      </Box>
      <Popover
        open={!!anchor}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { sx: { p: 2, display: 'grid', gap: 1.5 } } }}
      >
        {song.tempo.map(({ at, bpm: tempo }) => {
          const { bar, beat } = positionAt(song, at);
          return (
            <NumberField
              key={at}
              label={at === 0 ? 'tempo (bpm)' : `from bar ${bar}, beat ${beat}`}
              value={tempo}
              min={20}
              max={400}
              unit="bpm"
              width={168}
              onChange={(value) => edit({ type: 'set tempo', at, bpm: value })}
            />
          );
        })}
      </Popover>
    </>
  );
}
