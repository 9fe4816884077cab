'use client';

import Box from '@mui/material/Box';

/** A way to begin: what it is called, and what comes of it. */
export interface Way {
  id: string;
  name: string;
  says: string;
  run: () => void;
}

/** Ways to begin, one press each. @param columns how many stand side by side */
export function WaysIn({ ways, columns }: { ways: readonly Way[]; columns: 1 | 2 }) {
  return (
    <Box
      component="ul"
      aria-label="ways to begin"
      sx={{
        listStyle: 'none',
        m: 0,
        p: 0,
        display: 'grid',
        gap: 1,
        gridTemplateColumns: `repeat(${columns}, minmax(0, 1fr))`,
        textAlign: 'left',
      }}
    >
      {ways.map(({ id, name, says, run }) => (
        <Box component="li" key={id}>
          <Box
            component="button"
            type="button"
            aria-label={name}
            onClick={run}
            sx={{
              width: '100%',
              height: '100%',
              font: 'inherit',
              color: 'inherit',
              textAlign: 'left',
              cursor: 'pointer',
              bgcolor: 'var(--paper)',
              border: '1px solid var(--line)',
              borderLeft: '4px solid var(--accent)',
              px: 1.25,
              py: columns === 1 ? 0.5 : 1,
              '&:hover, &:focus-visible': { borderColor: 'var(--accent)' },
            }}
          >
            <Box sx={{ fontWeight: 600, fontSize: columns === 1 ? 14 : 16 }}>{name}</Box>
            <Box sx={{ fontSize: 12, color: 'text.secondary', lineHeight: 1.3 }}>{says}</Box>
          </Box>
        </Box>
      ))}
    </Box>
  );
}
