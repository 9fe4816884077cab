'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import * as reading from '@/state/gather/reading';
import { useReading } from '@/state/gather/reading';

/** While files are read into the library, wherever one is: how far that is, and stopping it. */
export function ReadingProgress() {
  const { name, progress, paused } = useReading();
  if (name === undefined || !progress) return null;
  return (
    <Box
      role="group"
      aria-label="reading files"
      sx={{
        position: 'fixed',
        top: 60,
        right: 16,
        zIndex: 1200,
        display: 'flex',
        gap: 1,
        alignItems: 'center',
        p: 1,
        bgcolor: 'var(--paper)',
        border: '1px solid var(--ink)',
        borderRadius: 1,
      }}
    >
      <Box sx={{ width: 190 }}>
        <Box className="figures" sx={{ fontSize: 12 }}>
          {progress.done.toLocaleString('en')} of {progress.total.toLocaleString('en')} files
          {progress.unread > 0 && `, ${progress.unread} unread`}
        </Box>
        <LinearProgress
          variant="determinate"
          aria-label={`reading ${name}`}
          value={(100 * progress.done) / Math.max(1, progress.total)}
        />
      </Box>
      <Button size="small" onClick={reading.pauseReading}>
        {paused ? 'go on' : 'pause'}
      </Button>
      <Button size="small" onClick={reading.cancelReading}>
        stop
      </Button>
    </Box>
  );
}
