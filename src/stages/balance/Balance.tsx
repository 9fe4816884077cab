'use client';

import Box from '@mui/material/Box';
import { useEffect } from 'react';
import { useWorkbench } from '@/state/store';
import { chosenTrack, noteFirstMix, shownTracks } from '@/state/balance/balance';
import { BusRow } from './BusRow';
import { DrumsCard } from './DrumsCard';
import { KitsCard } from './KitsCard';
import { LayoutBar } from './LayoutBar';
import { TrackCard } from './TrackCard';
import { COLUMNS, TrackRow } from './TrackRow';
import { Scale } from './Level';

/** Tracks in staff order, each its own level chart; the chosen one opens beside them. */
export function Balance() {
  const tracks = useWorkbench(shownTracks);
  const chosen = useWorkbench(chosenTrack);
  const kits = useWorkbench((state) => state.kitsOpen);
  useEffect(noteFirstMix, []);
  return (
    <Box
      sx={{
        height: '100%',
        display: 'grid',
        gridTemplate: "'bar bar' auto 'tracks card' minmax(0, 1fr) / minmax(0, 1fr) 284px",
      }}
    >
      <LayoutBar />
      <Box
        sx={{
          gridArea: 'tracks',
          minHeight: 0,
          display: 'grid',
          gridTemplate: 'minmax(0, 1fr) auto / minmax(0, 1fr)',
          p: 1.5,
          pt: 1,
          gap: 0.5,
        }}
      >
        <Box sx={{ overflowY: 'auto', minHeight: 0 }}>
          <Box
            sx={{
              position: 'sticky',
              top: 0,
              zIndex: 2,
              display: 'grid',
              gridTemplateColumns: COLUMNS,
              columnGap: { xs: 1.75, lg: 2 },
              px: 1,
              fontSize: 12,
              color: 'text.secondary',
              bgcolor: 'var(--ground)',
            }}
          >
            <span />
            <Scale />
            <span>pan</span>
            <span>room</span>
            <span>echo</span>
            <span />
          </Box>
          <Box role="list" aria-label="tracks">
            {tracks.map((track) => (
              <TrackRow key={track.id} track={track} chosen={track.id === chosen?.id} />
            ))}
          </Box>
        </Box>
        <BusRow />
      </Box>
      {kits ? <KitsCard /> : chosen ? <TrackCard key={chosen.id} track={chosen} /> : <DrumsCard />}
    </Box>
  );
}
