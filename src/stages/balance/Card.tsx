import Box from '@mui/material/Box';
import type { ReactNode } from 'react';

/** What is chosen among the tracks, opened beside them. */
export function Card({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Box
      component="section"
      aria-label={label}
      sx={{
        gridArea: 'card',
        minHeight: 0,
        overflowY: 'auto',
        p: 2,
        display: 'grid',
        alignContent: 'start',
        gridTemplateColumns: 'minmax(0, 1fr)',
        gap: 1.5,
        bgcolor: 'var(--panel)',
        borderLeft: '1px solid var(--line)',
      }}
    >
      {children}
    </Box>
  );
}
