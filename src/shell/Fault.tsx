'use client';

import Link from '@mui/material/Link';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { lazy, Suspense } from 'react';

/** It is there where a song is; a fault that keeps it from being loaded leaves the rest. */
const SaveOpen = lazy(() =>
  import('./SaveOpen').then(
    (module) => ({ default: module.SaveOpen }),
    () => ({ default: () => null }),
  ),
);

/** In place of the whole page, when it could not be drawn. */
export function Fault({ error, retry }: { error: Error; retry: () => void }) {
  return (
    <Stack
      component="main"
      role="alert"
      sx={{ height: '100%', alignItems: 'center', justifyContent: 'center', gap: 2, px: 3 }}
    >
      <Typography variant="h1">This page cannot be drawn</Typography>
      <Typography sx={{ maxWidth: 560, textAlign: 'center' }}>
        That is a fault of Verse Loom, not of yours ({error.message}). Songs are stored in this
        browser as they were.
      </Typography>
      <Stack direction="row" sx={{ gap: 1, alignItems: 'center' }}>
        <Button variant="contained" onClick={retry}>
          try again
        </Button>
        <Suspense>
          <SaveOpen />
        </Suspense>
        <Link href="/">go to the songs</Link>
      </Stack>
    </Stack>
  );
}
