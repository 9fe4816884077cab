'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { saveStored } from '@/state/session/files';
import { useWorkbench } from '@/state/store';

/** How many losses are listed one by one. */
const LISTED = 40;

/** What of a stored song could not be read: the rest is open, and the stored copy is kept. */
export function OpenedDialog() {
  const open = useWorkbench((state) => state.dialog === 'opened' && state.status === 'ready');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="sm"
      fullWidth
      aria-labelledby="opened-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const lost = useWorkbench((state) => state.lost);
  const songId = useWorkbench((state) => state.songId)!;
  return (
    <>
      <DialogTitle id="opened-title">Parts of this song are damaged</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <Typography variant="body2">
          What is sound is open, and can be changed. The song as it was stored is kept, and can be
          saved as a file.
        </Typography>
        <Box component="ul" aria-label="what was left out" sx={{ m: 0, pl: 2.5, fontSize: 13 }}>
          {lost.slice(0, LISTED).map(({ where, what }, i) => (
            <li key={i}>
              <b>{where}</b>: {what}
            </li>
          ))}
          {lost.length > LISTED && <li>and {lost.length - LISTED} more</li>}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={() => void saveStored(songId)}>save the stored copy</Button>
        <Button variant="contained" onClick={closeDialog} autoFocus>
          go on
        </Button>
      </DialogActions>
    </>
  );
}
