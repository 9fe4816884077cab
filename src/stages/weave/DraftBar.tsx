'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import CircularProgress from '@mui/material/CircularProgress';
import { keyOf } from '@/state/acts';
import { useWorkbench } from '@/state/store';
import {
  compareBefore,
  isDrafted,
  isOpen,
  keepDraft,
  proposeEnergy,
  rollAgain,
  takeBackDraft,
  toggleDraft,
  useDrafting,
} from '@/state/weave/drafting';
import { PanelHead } from './FindingList';

/** What can be done with a draft as a whole. */
export function DraftBar() {
  const song = useWorkbench((state) => state.history!.song);
  const drafting = useDrafting();
  const open = useWorkbench((state) => isOpen(drafting, state));
  const drafted = isDrafted(song);
  const { working, after } = drafting;
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
        {working && <CircularProgress size={16} aria-label="drafting" />}
        <Button onClick={proposeEnergy} title={keyOf('propose-energy')}>
          propose a line
        </Button>
        <Button onClick={rollAgain} title={keyOf('roll-draft')}>
          {drafted ? 'roll again' : 'draft it'}
        </Button>
        <Button
          onClick={compareBefore}
          disabled={!open}
          aria-pressed={after !== undefined}
          title={keyOf('draft-before')}
        >
          {after === undefined ? 'hear before' : 'hear after'}
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
