import Box from '@mui/material/Box';
import type { ReactNode } from 'react';

/** What stands under the cloth: the chosen section, or what a view found. */
export function Card({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Box
      component="section"
      aria-label={label}
      sx={{
        bgcolor: 'var(--paper)',
        border: '1px solid var(--line)',
        p: 1,
        px: 1.25,
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr)',
        gap: 0.75,
        alignContent: 'start',
        minWidth: 0,
        // As high whatever it shows, so that the cloth stays where it is.
        height: 160,
        overflow: 'hidden',
      }}
    >
      {children}
    </Box>
  );
}
