'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useState } from 'react';
import { placesOf, whyNotLinked } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { useWorkbench } from '@/state/store';
import { chosenPlace, saidPlaces } from '@/state/weave/choosing';
import { linkPlace, saidChosen, saidDifferences } from '@/state/weave/weave';

/** Lets a place play another section: what differs is shown first. */
export function LinkDialog() {
  const open = useWorkbench((state) => state.dialog === 'link');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="sm"
      fullWidth
      aria-labelledby="link-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const song = useWorkbench((state) => state.history!.song);
  const here = useWorkbench(chosenPlace);
  const others = song.sections.filter(({ id }) => id !== here?.section.id);
  const alike = others.find(({ name }) => name === here?.section.name) ?? others[0];
  const [section, setSection] = useState(alike?.id ?? '');
  if (!here || others.length === 0) {
    return (
      <>
        <DialogTitle id="link-title">Link this place</DialogTitle>
        <DialogContent>There is no other section to link it to.</DialogContent>
        <DialogActions>
          <Button onClick={closeDialog}>close</Button>
        </DialogActions>
      </>
    );
  }
  const why = whyNotLinked(song, here.place.id, section);
  const differences = why ? [] : saidDifferences(section);
  const link = (keep: boolean) => {
    if (linkPlace(section, keep)) closeDialog();
  };
  return (
    <>
      <DialogTitle id="link-title">Link {saidChosen()}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5, pt: '8px !important' }}>
        <ChoiceField
          label="to the section"
          value={section}
          options={others.map(({ id, name, bars }) => [
            id,
            `${name}, ${bars} bars, ${saidPlaces(placesOf(song, id))}`,
          ])}
          width={300}
          onChange={setSection}
        />
        {why ? (
          <Box role="alert" sx={{ color: 'var(--accent)', fontSize: 13 }}>
            {why}
          </Box>
        ) : differences.length === 0 ? (
          <Box>They play the same: linked, nothing sounds otherwise.</Box>
        ) : (
          <Box>
            <Box sx={{ fontSize: 13, color: 'text.secondary' }}>This is played otherwise here:</Box>
            <Box
              component="ul"
              className="figures"
              sx={{ m: 0, pl: 2.5, maxHeight: 180, overflowY: 'auto' }}
            >
              {differences.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </Box>
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={closeDialog}>cancel</Button>
        {differences.length > 0 && (
          <Button disabled={!!why} onClick={() => link(false)}>
            link, and drop local changes
          </Button>
        )}
        <Button variant="contained" disabled={!!why} onClick={() => link(true)}>
          {differences.length > 0 ? 'link, and keep what differs' : 'link'}
        </Button>
      </DialogActions>
    </>
  );
}
