'use client';

import Box from '@mui/material/Box';
import { TOKENS } from '@/look/tokens';
import type { FirstSong } from '@/state/session/firstVisit';
import { Facts, OpenButton, row, THUMBNAIL_HEIGHT } from './SongFacts';

/** A song of the first visit, until the browser has it. */
export function FirstRow({ first: { head, rows } }: { first: FirstSong }) {
  const { dyes } = TOKENS.light;
  const high = Math.floor((THUMBNAIL_HEIGHT + 1) / rows.length);
  return (
    <Box component="li" sx={row}>
      <Box sx={{ minWidth: 0 }}>
        <Box sx={{ fontSize: 16, fontWeight: 600 }}>{head.name}</Box>
        <Facts song={head} />
      </Box>
      <svg
        role="img"
        aria-label={`cloth of ${head.name}`}
        viewBox={`0 0 1 ${high * rows.length}`}
        preserveAspectRatio="none"
        width="100%"
        height={high * rows.length}
      >
        {rows.map((cells, n) =>
          cells.map(([x, width, dye]) => (
            <rect
              key={x}
              x={x}
              y={n * high}
              width={width}
              height={high - 1}
              fill={dyes[dye]}
              opacity={0.3}
            />
          )),
        )}
      </svg>
      <OpenButton song={head} />
    </Box>
  );
}
