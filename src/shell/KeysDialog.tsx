'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { WhileOpen } from '@/look/WhileOpen';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { ACT_GROUPS, keyOf, type ActGroup } from '@/state/acts';
import { keyRows } from '@/state/acts/keyTable';
import { closeDialog, openDialog } from '@/state/dialogs/dialogs';
import { useWorkbench } from '@/state/store';

const STROKES: readonly (readonly [string, string])[] = [
  ['press', 'place a hit as loud as you press high; drag on to paint'],
  ['press a hit', 'remove it'],
  ['drag a hit up or down', 'louder or softer'],
  ['drag sideways from a hit', 'erase what the stroke passes'],
  ['right button, drag', 'erase'],
  ['Shift drag', 'select with a frame'],
  ['drag selected hits', 'move them; with Alt, copy them'],
  ['Ctrl press', 'select a hit too, or no longer'],
  ['Ctrl drag', 'a straight line of hits, or over what is selected in the row'],
  ['Ctrl wheel, pinch', 'zoom time; Alt wheel: the rows'],
  ['drag in a lane', 'draw its values'],
  ['drag on the bar numbers', 'loop those bars'],
];

/** All keys, as the commands have them. */
export function KeysDialog() {
  const open = useWorkbench((state) => state.dialog === 'keys');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="lg"
      fullWidth
      aria-labelledby="keys-title"
    >
      <DialogTitle id="keys-title">Keys and strokes</DialogTitle>
      <DialogContent sx={{ columns: { xs: 2, md: 3 }, columnGap: 4 }} tabIndex={0}>
        {(Object.keys(ACT_GROUPS) as ActGroup[]).map((group) => (
          <KeyGroup key={group} title={ACT_GROUPS[group]} rows={keyRows(group)} />
        ))}
        <KeyGroup title="Shape, with the mouse" rows={STROKES} />
      </DialogContent>
      <DialogActions>
        <Button onClick={() => openDialog('guide')}>guide ({keyOf('guide')})</Button>
        <Box sx={{ flex: 1 }} />
        <Button variant="contained" onClick={closeDialog} autoFocus>
          close
        </Button>
      </DialogActions>
    </WhileOpen>
  );
}

function KeyGroup({
  title,
  rows,
}: {
  title: string;
  rows: readonly (readonly [string, string])[];
}) {
  return (
    <Box component="section" sx={{ mb: 2 }}>
      <Box component="h3" sx={{ fontSize: 14, m: 0, mb: 0.5, breakAfter: 'avoid' }}>
        {title}
      </Box>
      {rows.map(([key, name]) => (
        <Box
          key={`${key} ${name}`}
          sx={{ display: 'flex', gap: 1, fontSize: 12, lineHeight: '20px', breakInside: 'avoid' }}
        >
          <Box className="figures" sx={{ width: 116, flex: 'none', fontWeight: 600 }}>
            {key}
          </Box>
          <Box sx={{ color: 'text.secondary' }}>{name}</Box>
        </Box>
      ))}
    </Box>
  );
}
