'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { ReactNode } from 'react';
import { saidBars } from '@/core/time';
import { songPath } from '@/state/addresses';
import type { SongHead } from '@/state/session/firstVisit';
import { PageLink } from './PageLink';
import { sayWhen } from './sayWhen';

/** How high the picture of a song is in the list, in pixels. */
export const THUMBNAIL_HEIGHT = 40;

/** The list of songs. */
export const SONGS = { listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 1 } as const;

/** A song in the list. */
export const row = {
  display: 'grid',
  gridTemplateColumns: '280px minmax(0, 1fr) auto',
  alignItems: 'center',
  gap: 2,
  p: 1.5,
  bgcolor: 'var(--paper)',
  border: '1px solid var(--line)',
} as const;

/** How long, how fast, and when it was changed. */
export function Facts({ song, children }: { song: SongHead; children?: ReactNode }) {
  const { bpm, bars, patterns, changed, demo } = song;
  return (
    <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
      {saidBars(bars)} · {Math.round(bpm * 100) / 100} bpm ·{' '}
      {patterns === 1 ? '1 pattern' : `${patterns} patterns`}
      <br />
      {demo ? 'demo' : `changed ${sayWhen(changed)}`}
      {children}
    </Box>
  );
}

export function OpenButton({ song: { id, name, bars } }: { song: SongHead }) {
  return (
    <Button
      variant="contained"
      component={PageLink}
      href={songPath(id, bars > 0 ? 'weave' : 'shape')}
      aria-label={`open ${name}`}
    >
      open
    </Button>
  );
}
