'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import CircularProgress from '@mui/material/CircularProgress';
import { keyOf } from '@/state/acts';
import { useWorkbench } from '@/state/store';
import { isDrafted, proposeEnergy, rollAgain, toggleDraft } from '@/state/weave/drafting';
import { compareBefore, isBefore, isOpen, keepDraft, takeBackDraft } from '@/state/weave/draftKept';
import { useDrafting } from '@/state/weave/draftState';
import { PanelHead } from './FindingList';

/** What can be done with a draft as a whole. */
export function DraftBar() {
  const song = useWorkbench((state) => state.history!.song);
  const drafting = useDrafting();
  const open = useWorkbench((state) => isOpen(drafting, state));
  const before = useWorkbench((state) => isBefore(drafting, state));
  const drafted = isDrafted(song);
  return (
    <Box
      component="section"
      aria-label="draft"
      sx={{ px: 2, py: 0.75, borderBottom: '1px solid var(--line)', bgcolor: 'var(--paper)' }}
    >
      <PanelHead
        title="Draft"
        says={
          drafted
            ? 'draw the energy of the song; hear it at once; keep what you like'
            : 'draw the energy of the song, or have a line proposed: its sections fill with patterns'
        }
      >
        {drafting.working && <CircularProgress size={16} aria-label="drafting" />}
        <Button onClick={proposeEnergy} title={keyOf('propose-energy')}>
          propose a line
        </Button>
        <Button onClick={rollAgain} title={keyOf('roll-draft')}>
          {drafted ? 'roll again' : 'draft it'}
        </Button>
        <Button
          onClick={compareBefore}
          disabled={!open}
          aria-pressed={before}
          title={keyOf('draft-before')}
        >
          {before ? 'hear after' : 'hear before'}
        </Button>
        <Button
          variant="contained"
          onClick={keepDraft}
          disabled={!open}
          title={keyOf('keep-draft')}
        >
          keep all
        </Button>
        <Button onClick={takeBackDraft} disabled={!open} title={keyOf('take-back-draft')}>
          take back
        </Button>
        <Button variant="text" onClick={toggleDraft} title={keyOf('draft')}>
          done
        </Button>
      </PanelHead>
    </Box>
  );
}
