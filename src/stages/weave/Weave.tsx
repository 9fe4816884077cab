'use client';

import Box from '@mui/material/Box';
import { ClothView } from './ClothView';
import { PlaceCard } from './PlaceCard';
import { Shelf } from './Shelf';

/** The song put together: the shelf on the left, the cloth, and what is known of the chosen place. */
export function Weave() {
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateColumns: '208px minmax(0, 1fr)' }}>
      <Shelf />
      <Box
        sx={{
          minHeight: 0,
          display: 'grid',
          gridTemplateRows: 'minmax(0, 1fr) auto',
          p: 2,
          gap: 1.5,
        }}
      >
        <ClothView />
        <PlaceCard />
      </Box>
    </Box>
  );
}
