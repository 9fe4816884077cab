'use client';

import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import { findPattern } from '@/core';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { saidUses, setAside } from '@/state/gather/shelf';
import { useWorkbench } from '@/state/store';

/** Before a pattern that the song plays is taken out of it: where that is. */
export function RemoveDialog() {
  const open = useWorkbench((state) => state.dialog === 'remove');
  return (
    <WhileOpen open={open} onClose={closeDialog} maxWidth="sm" aria-labelledby="remove-title">
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const id = useWorkbench((state) => state.removing ?? '');
  const name = useWorkbench((state) => findPattern(state.history!.song, id)?.name);
  const remove = () => {
    closeDialog();
    setAside(id);
  };
  return (
    <>
      <DialogTitle id="remove-title" sx={{ overflowWrap: 'anywhere' }}>
        Remove “{name}”?
      </DialogTitle>
      <DialogContent>
        <Typography>It is played in {saidUses(id).join(', ')}, and falls silent there.</Typography>
        <Typography sx={{ color: 'text.secondary', mt: 1 }}>
          It lies among the offcuts: recovered, it is played again where it was.
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button onClick={closeDialog}>cancel</Button>
        <Button variant="contained" autoFocus onClick={remove}>
          remove it
        </Button>
      </DialogActions>
    </>
  );
}
