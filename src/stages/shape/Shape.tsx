'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useMemo } from 'react';
import { summary } from '@/core/pattern';
import { useAfterPaint } from '@/look/useAfterPaint';
import { addPattern } from '@/state/shape/shape';
import { shownPattern, useWorkbench } from '@/state/store';
import { Inspector } from './Inspector';
import { OpenedBar } from './OpenedBar';
import { PatternBar } from './PatternBar';
import { Foot } from './Foot';
import { Pads } from './Pads';
import { Sheet } from './Sheet';
import { MeterDialog } from './MeterDialog';

/** One pattern, strand by strand. */
export function Shape() {
  const pattern = useWorkbench(shownPattern);
  const selection = useWorkbench((state) => state.selection);
  const pads = useWorkbench((state) => state.pads.open);
  // What stands around the sheet may follow a moment after the hits.
  const calm = useAfterPaint(useMemo(() => ({ pattern, selection }), [pattern, selection]));
  const selected = useMemo(
    () => calm.pattern && summary(calm.pattern, new Set(calm.selection)),
    [calm],
  );
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
  const around = calm.pattern ?? pattern;
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)' }}>
      <Box>
        <PatternBar pattern={around} />
        <OpenedBar />
      </Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 248px', minHeight: 0 }}>
        <Box
          sx={{
            display: 'grid',
            gridTemplateRows: 'minmax(0, 1fr) auto auto',
            minHeight: 0,
            minWidth: 0,
          }}
        >
          <Sheet pattern={pattern} />
          <Foot pattern={around} selected={selected} />
          {pads && <Pads />}
        </Box>
        <Inspector pattern={around} selected={selected} />
      </Box>
      <MeterDialog />
    </Box>
  );
}
