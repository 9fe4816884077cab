'use client';

import Button from '@mui/material/Button';
import { NotBuilt } from '@/look/NotBuilt';
import { ACTIONS } from '@/state/actions';

/** Find material: to come. */
export function Gather() {
  return (
    <NotBuilt
      title="Gather"
      sentence="Here you will search groove libraries, hear a candidate in place of the song’s own drums, and keep what fits."
    >
      <Button variant="contained" onClick={() => ACTIONS.find((a) => a.id === 'import')!.run()}>
        import a MIDI file instead
      </Button>
    </NotBuilt>
  );
}
