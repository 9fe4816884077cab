'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { findPattern } from '@/core';
import { barAt } from '@/core/time';
import { laidPlaces, placeName, REACH_NAMES, REACHES, type Reach } from '@/core/weave';
import { keyOf } from '@/state/acts';
import { goToStage } from '@/state/routes';
import { useWorkbench } from '@/state/store';
import { placesToChange, saidPlaces, setReach } from '@/state/weave/choosing';
import { closeInPlace } from '@/state/weave/weave';

/** Where a pattern was opened in the song, and how far edits of it go. */
export function OpenedBar() {
  const opened = useWorkbench((state) => state.opened);
  const song = useWorkbench((state) => state.history!.song);
  const reach = useWorkbench((state) => state.reach);
  const count = useWorkbench((state) => placesToChange(state).length);
  const laid = opened && laidPlaces(song).find(({ place }) => place.id === opened.place);
  if (!opened || !laid) return null;
  const [first, last] = [opened.from, opened.to - 1].map(
    (at) => laid.firstBar + barAt(laid.section.meters, at).bar + 1,
  );
  const where = first === last ? `bar ${first}` : `bars ${first} to ${last}`;
  return (
    <Box
      role="group"
      aria-label="opened in its place"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1.25,
        px: 2,
        height: 38,
        fontSize: 13,
        bgcolor: 'var(--paper)',
        borderBottom: '1px solid var(--line)',
        whiteSpace: 'nowrap',
        overflow: 'hidden',
      }}
    >
      <span>
        <b>{placeName(song, laid)}</b>, {where}
      </span>
      <Box component="span" sx={{ color: 'text.secondary' }}>
        “{findPattern(song, opened.pattern)?.name}”
      </Box>
      <Box sx={{ flex: 1 }} />
      <Box component="span" sx={{ color: 'text.secondary' }}>
        reach
      </Box>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={reach}
        aria-label={`reach of edits (${keyOf('reach-in-shape')})`}
        onChange={(_, next: Reach | null) => next && setReach(next)}
      >
        {REACHES.map((one) => (
          <ToggleButton key={one} value={one} sx={{ py: 0, fontSize: 13 }}>
            {REACH_NAMES[one]}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      <Box
        component="span"
        aria-live="polite"
        sx={{ color: 'var(--accent)', fontWeight: 600, minWidth: 190 }}
      >
        an edit here changes {saidPlaces(count)}
      </Box>
      <Button onClick={() => goToStage('weave')}>back to Weave</Button>
      <Button variant="text" onClick={closeInPlace}>
        only the pattern
      </Button>
    </Box>
  );
}
