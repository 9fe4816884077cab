'use client';

import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';

/** An address that leads nowhere. */
export function Missing() {
  return (
    <Stack sx={{ height: '100%', alignItems: 'center', justifyContent: 'center', gap: 2 }}>
      <Typography variant="h1">Nothing is woven here</Typography>
      <Typography>This address belongs to no song and no stage.</Typography>
      <Button href="/" variant="contained">
        go to the songs
      </Button>
    </Stack>
  );
}
