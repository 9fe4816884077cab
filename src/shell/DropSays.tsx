'use client';

import Box from '@mui/material/Box';
import { useCarried } from '@/state/gather/carrying';

/** While a strand is carried: what dropping it here would do. */
export function DropSays() {
  const pattern = useCarried((state) => state.pattern);
  const groove = useCarried((state) => state.groove);
  const says = useCarried((state) => state.says);
  const section = useCarried((state) => state.section);
  if (!pattern && !groove && !(section && says)) return null;
  return (
    <Box
      role="status"
      sx={{
        position: 'fixed',
        left: '50%',
        bottom: 112,
        transform: 'translateX(-50%)',
        maxWidth: 720,
        px: 2,
        py: 1,
        bgcolor: 'var(--ink)',
        color: 'var(--paper)',
        borderRadius: 1,
        pointerEvents: 'none',
        zIndex: 1500,
      }}
    >
      {says ??
        (groove
          ? 'its hits are on their way'
          : 'drop it on a section of the song (Shift: only there; Alt: beside what is there), on a pattern, or on the shelf')}
    </Box>
  );
}
