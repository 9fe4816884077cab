'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import type { MeterChangeWay } from '@/core/commands';
import { barsOf, countedIn, lostInMeter } from '@/core/pattern';
import { barTicks, meterName, saidBars } from '@/core/time';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { setMeterBy } from '@/state/shape/frame';
import { shownPattern, useWorkbench } from '@/state/store';

/** Before a pattern is counted in another meter: what becomes of the beats that do not fit. */
export function MeterDialog() {
  const open = useWorkbench((state) => state.dialog === 'meter');
  return (
    <WhileOpen open={open} onClose={closeDialog} maxWidth="sm" aria-labelledby="meter-title">
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const meter = useWorkbench((state) => state.meterAsked)!;
  const pattern = useWorkbench(shownPattern)!;
  const [bar, room] = [barTicks(pattern.meter), barTicks(meter)];
  const lost = lostInMeter(pattern, meter);
  const counted = barsOf(countedIn(pattern, meter));
  const ways: readonly (readonly [MeterChangeWay, string, string])[] = [
    room < bar
      ? [
          'cut',
          'cut each bar',
          lost === 0
            ? 'bars begin where they did; nothing is struck in what goes'
            : `bars begin where they did; ${lost === 1 ? '1 stroke goes' : `${lost} strokes go`} with the beats that have no room`,
        ]
      : ['cut', 'a rest after each bar', 'bars begin where they did, and are silent at their end'],
    [
      'stretch',
      room < bar ? 'squeeze each bar' : 'stretch each bar',
      'strokes stay as far into their bar as they are',
    ],
    ['count', 'count anew', `no stroke moves; the bar lines do: ${saidBars(counted)}`],
  ];
  return (
    <>
      <DialogTitle id="meter-title">
        {meterName(pattern.meter)} to {meterName(meter)}
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5, pt: '6px !important' }}>
        {ways.map(([way, name, says], i) => (
          <Box key={way} sx={{ display: 'grid', gridTemplateColumns: '190px 1fr', gap: 2 }}>
            <Button
              variant={i === 0 ? 'contained' : undefined}
              autoFocus={i === 0}
              onClick={() => {
                closeDialog();
                setMeterBy(way, meter);
              }}
            >
              {name}
            </Button>
            <Box sx={{ alignSelf: 'center' }}>{says}</Box>
          </Box>
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={closeDialog}>keep {meterName(pattern.meter)}</Button>
      </DialogActions>
    </>
  );
}
