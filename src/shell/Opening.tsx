'use client';

import CircularProgress from '@mui/material/CircularProgress';
import Stack from '@mui/material/Stack';

/** Something is on its way. */
export function Opening() {
  return (
    <Stack sx={{ height: '100%', alignItems: 'center', justifyContent: 'center' }}>
      <CircularProgress size={28} aria-label="opening the song" />
    </Stack>
  );
}
