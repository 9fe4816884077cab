'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useEffect, useState } from 'react';
import { MAX_SECTION_BARS } from '@/core/model';
import { LENGTHENINGS, placesOf, type Lengthening } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { cancelGesture, preview } from '@/state/session/edit';
import { useWorkbench } from '@/state/store';
import { saidPlaces } from '@/state/weave/choosing';
import { saidChosen, setSectionBars } from '@/state/weave/weave';

const SAID: Readonly<Record<Lengthening, string>> = {
  'go on': 'the patterns go on',
  repeat: 'the last bars once more',
  empty: 'nothing: they are left empty',
};

/** How many bars a section has, and what comes into those that are added: seen at once. */
export function LongerDialog() {
  const open = useWorkbench((state) => state.dialog === 'longer');
  const close = () => {
    cancelGesture();
    closeDialog();
  };
  return (
    <WhileOpen open={open} onClose={close} maxWidth="xs" fullWidth aria-labelledby="longer-title">
      <Body close={close} />
    </WhileOpen>
  );
}

function Body({ close }: { close: () => void }) {
  const song = useWorkbench((state) => (state.gesture?.before ?? state.history!).song);
  const placeId = useWorkbench((state) => state.placeId);
  const place = song.places.find(({ id }) => id === placeId);
  const section = song.sections.find(({ id }) => id === place?.section);
  const [bars, setBars] = useState(section?.bars ?? 1);
  const [how, setHow] = useState<Lengthening>('go on');
  const id = section?.id;
  useEffect(() => {
    if (id)
      preview([{ type: 'set section bars', section: id, bars, how }], 'set section bars', {
        trying: true,
      });
  }, [id, bars, how]);
  useEffect(() => cancelGesture, []);
  if (!section) return <DialogContent>Choose a section first: press its header.</DialogContent>;
  const count = placesOf(song, section.id);
  const set = () => {
    cancelGesture();
    setSectionBars(bars, how);
    closeDialog();
  };
  return (
    <>
      <DialogTitle id="longer-title">Bars of {saidChosen()}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2, pt: '8px !important' }}>
        <Box sx={{ display: 'flex', gap: 1.5 }}>
          <NumberField
            label="bars"
            value={bars}
            min={1}
            max={MAX_SECTION_BARS}
            integer
            live
            autoFocus
            onChange={setBars}
          />
          <ChoiceField
            label="into the added bars"
            value={how}
            options={LENGTHENINGS.map((one) => [one, SAID[one]] as const)}
            width={230}
            onChange={(next) => setHow(next as Lengthening)}
          />
        </Box>
        <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
          {bars < section.bars
            ? `The last ${section.bars - bars} are cut; fills keep to the end.`
            : bars === section.bars
              ? 'As long as it is.'
              : `${bars - section.bars} more; fills keep to the end.`}{' '}
          Changes {saidPlaces(count)}.
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>cancel</Button>
        <Button variant="contained" disabled={bars === section.bars} onClick={set}>
          set
        </Button>
      </DialogActions>
    </>
  );
}
