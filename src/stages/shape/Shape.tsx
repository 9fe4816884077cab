'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { spokenSelection, summary } from '@/core/pattern/speak';
import { addPattern } from '@/state/shape';
import { shownPattern, useWorkbench } from '@/state/store';
import { AddStrand } from './AddStrand';
import { Inspector } from './Inspector';
import { PatternBar } from './PatternBar';
import { Sheet } from './Sheet';

/** One pattern, strand by strand. */
export function Shape() {
  const pattern = useWorkbench(shownPattern);
  const selection = useWorkbench((state) => state.selection);
  if (!pattern) {
    return (
      <Box
        sx={{
          height: '100%',
          display: 'grid',
          placeContent: 'center',
          gap: 2,
          justifyItems: 'center',
        }}
      >
        This song has no pattern yet.
        <Button variant="contained" onClick={addPattern}>
          new pattern
        </Button>
      </Box>
    );
  }
  const selected = summary(pattern, new Set(selection));
  const empty = pattern.strands.every((strand) => strand.hits.length === 0);
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)' }}>
      <PatternBar pattern={pattern} />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 208px', minHeight: 0 }}>
        <Box
          sx={{ display: 'grid', gridTemplateRows: 'minmax(0, 1fr) auto', minHeight: 0, pr: 1.5 }}
        >
          <Sheet pattern={pattern} />
          <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, height: 40, pl: 1.5 }}>
            <AddStrand pattern={pattern} />
            <Box
              role="status"
              sx={{
                fontSize: 12,
                color: 'text.secondary',
                overflow: 'hidden',
                textOverflow: 'ellipsis',
                whiteSpace: 'nowrap',
              }}
            >
              {selected
                ? `${spokenSelection(pattern, selected)} · drag them to move · Alt drag copies`
                : empty
                  ? 'Press in a row to place a hit: the higher you press, the louder it is. Drag on to paint a run.'
                  : 'press to place, higher is louder · drag to paint · press a hit to remove it · Shift drag selects · right drag erases'}
            </Box>
          </Box>
        </Box>
        <Inspector pattern={pattern} selected={selected} />
      </Box>
    </Box>
  );
}
