'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { emptyBin, undelete } from '@/state/session/session';
import { useBin } from '@/state/session/songsList';
import { useWorkbench } from '@/state/store';
import { sayWhen } from './sayWhen';

/** Songs that were deleted: each can be put back until the bin is emptied. */
export function BinDialog() {
  const open = useWorkbench((state) => state.dialog === 'bin');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="sm"
      fullWidth
      aria-labelledby="bin-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const songs = useBin();
  return (
    <>
      <DialogTitle id="bin-title">The bin</DialogTitle>
      <DialogContent>
        {songs.length === 0 && (
          <Typography sx={{ color: 'text.secondary' }}>
            Nothing here. Songs that are deleted lie here until the bin is emptied.
          </Typography>
        )}
        <Box component="ul" aria-label="deleted songs" sx={{ listStyle: 'none', m: 0, p: 0 }}>
          {songs.map(({ id, head, deleted }) => (
            <Box
              component="li"
              key={id}
              sx={{
                display: 'flex',
                alignItems: 'center',
                gap: 2,
                py: 0.75,
                borderTop: '1px solid var(--fine-line)',
              }}
            >
              <Box sx={{ flex: 1, minWidth: 0 }}>
                <Box sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
                  {head.name}
                </Box>
                <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
                  deleted {sayWhen(deleted)}
                </Box>
              </Box>
              <Button
                size="small"
                aria-label={`put back ${head.name}`}
                onClick={() => void undelete(id)}
              >
                put back
              </Button>
            </Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        {songs.length > 0 && (
          <Button onClick={() => void emptyBin()}>empty the bin for good</Button>
        )}
        <Button variant="contained" onClick={closeDialog} autoFocus>
          close
        </Button>
      </DialogActions>
    </>
  );
}
