'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useEffect, useRef } from 'react';
import { WhileOpen } from '@/look/WhileOpen';
import { keyOf } from '@/state/acts';
import { closeDialog } from '@/state/dialogs/dialogs';
import { goToStep } from '@/state/session/edit';
import { useWorkbench } from '@/state/store';

/** All steps of undo: press one, and the song is as it was after it. */
export function HistoryDialog() {
  const open = useWorkbench((state) => state.dialog === 'history');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="xs"
      fullWidth
      aria-labelledby="history-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const history = useWorkbench((state) => state.history!);
  const now = useRef<HTMLButtonElement>(null);
  useEffect(() => {
    now.current?.scrollIntoView({ block: 'center' });
  }, []);
  const { past, future } = history;
  // What each step did, the oldest first; the state before all of them has none.
  const steps = [...past.map(({ label }) => label), ...future.map(({ label }) => label).reverse()];
  return (
    <>
      <DialogTitle id="history-title">History</DialogTitle>
      <DialogContent>
        <Box
          component="ol"
          start={0}
          aria-label="steps"
          sx={{ m: 0, pl: 4, maxHeight: 420, overflowY: 'auto' }}
        >
          {['as it was opened', ...steps].map((label, index) => (
            <Box
              component="li"
              key={index}
              className="figures"
              sx={{ color: index > past.length ? 'text.secondary' : 'inherit' }}
            >
              <Button
                ref={index === past.length ? now : undefined}
                variant="text"
                aria-current={index === past.length ? 'step' : undefined}
                onClick={() => goToStep(index)}
                sx={{
                  width: '100%',
                  justifyContent: 'start',
                  fontWeight: index === past.length ? 700 : 400,
                }}
              >
                {label}
                {index === past.length && ' · here'}
              </Button>
            </Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Box sx={{ flex: 1, fontSize: 12, color: 'text.secondary', pl: 1 }}>
          undo {keyOf('undo')}, redo {keyOf('redo')}: they survive a reload.
        </Box>
        <Button onClick={closeDialog}>close</Button>
      </DialogActions>
    </>
  );
}
