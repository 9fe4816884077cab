'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useState } from 'react';
import { findPattern } from '@/core';
import { PPQ } from '@/core/time';
import { OTHERS, shelfOf, type Others, type Whose } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { useWorkbench } from '@/state/store';
import { chosenPlaces, saidPlaces, spotNow } from '@/state/weave/choosing';
import { joinPlaces, layFill } from '@/state/weave/laying';
import { saidChosen } from '@/state/weave/weave';

const SAID_OTHERS: Readonly<Record<Others, string>> = {
  silent: 'fall silent',
  'time goes on': 'fall silent, but time goes on',
  'all go on': 'go on',
};

/** How a fill is laid: which one, how much of it, over what, and what it leads to. */
export function FillDialog() {
  const open = useWorkbench((state) => state.dialog === 'fill');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="sm"
      fullWidth
      aria-labelledby="fill-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const song = useWorkbench((state) => state.history!.song);
  const bars = useWorkbench((state) => state.bars);
  const count = useWorkbench((state) => chosenPlaces(state).length);
  // Fills first: they are what is looked for.
  const patterns = [...shelfOf(song)].sort(
    (a, b) => Number(b.kind === 'fill') - Number(a.kind === 'fill'),
  );
  const [pattern, setPattern] = useState(patterns[0]?.id ?? '');
  const chosen = findPattern(song, pattern);
  const whole = (chosen?.length ?? PPQ) / PPQ;
  const [beats, setBeats] = useState<number>();
  const [others, setOthers] = useState<Others>('silent');
  const [whose, setWhose] = useState<Whose>('place');
  const [crash, setCrash] = useState(false);
  const [anywhere, setAnywhere] = useState(false);
  /** Other fills, in turn with it. */
  const [inTurn, setInTurn] = useState<readonly string[]>([]);
  const [joins, setJoins] = useState(false);
  const all = joinPlaces(song);
  const rest = patterns.filter(({ id, kind }) => kind === 'fill' && id !== pattern);
  const lay = () => {
    const length = Math.min(beats ?? whole, whole) * PPQ;
    const spot = spotNow();
    const several = inTurn.length > 0;
    const from = anywhere && spot && !joins ? { from: Math.max(0, spot.to - length) } : {};
    const done = layFill([pattern, ...inTurn], {
      others,
      crash,
      whose,
      ...(!several && { length }),
      ...from,
      ...(joins && { places: all }),
    });
    if (done) closeDialog();
  };
  return (
    <>
      <DialogTitle id="fill-title">Lay a fill over {saidChosen()}</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2, pt: '8px !important' }}>
        <Box sx={{ display: 'flex', gap: 1.5 }}>
          <ChoiceField
            label="fill"
            value={pattern}
            options={patterns.map(({ id, name }) => [id, name] as const)}
            width={260}
            onChange={(id) => {
              setPattern(id);
              setBeats(undefined);
              setInTurn((list) => list.filter((one) => one !== id));
            }}
          />
          <NumberField
            label="beats"
            name="last beats of it that are played"
            value={Math.min(beats ?? whole, whole)}
            min={0.5}
            max={whole}
            live
            onChange={setBeats}
          />
        </Box>
        {rest.length > 0 && (
          <Box>
            <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>in turn with</Box>
            <ToggleButtonGroup
              value={[...inTurn]}
              aria-label="in turn with"
              onChange={(_, next: string[]) => setInTurn(next)}
              sx={{ flexWrap: 'wrap' }}
            >
              {rest.map(({ id, name }) => (
                <ToggleButton key={id} value={id} sx={{ py: 0.25 }}>
                  {name}
                </ToggleButton>
              ))}
            </ToggleButtonGroup>
          </Box>
        )}
        <Box sx={{ display: 'flex', gap: 1.5 }}>
          <ChoiceField
            label="it ends with"
            value={anywhere ? 'bars' : 'section'}
            options={[
              ['section', 'the section'],
              ...(bars ? [['bars', 'the chosen bars'] as const] : []),
            ]}
            width={160}
            onChange={(where) => setAnywhere(where === 'bars')}
          />
          <ChoiceField
            label="in"
            value={joins ? 'joins' : whose}
            options={[
              ['place', count > 1 ? `these ${count} places` : 'here only'],
              ['section', 'all places of the section'],
              ...(all.length > 1
                ? [['joins', `all ${all.length} joins of the song`] as const]
                : []),
            ]}
            width={220}
            onChange={(next) => {
              setJoins(next === 'joins');
              setWhose(next === 'section' ? 'section' : 'place');
            }}
          />
        </Box>
        <ChoiceField
          label="pieces it does not play"
          value={others}
          options={OTHERS.map((one) => [one, SAID_OTHERS[one]] as const)}
          width={260}
          onChange={(next) => setOthers(next as Others)}
        />
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={crash}
              onChange={(event) => setCrash(event.target.checked)}
            />
          }
          label="a crash on the downbeat that follows"
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={closeDialog}>cancel</Button>
        <Button
          variant="contained"
          autoFocus
          disabled={!chosen || (count === 0 && !joins)}
          onClick={lay}
        >
          lay {inTurn.length > 0 ? 'them' : 'it'} over {saidPlaces(joins ? all.length : count)}
        </Button>
      </DialogActions>
    </>
  );
}
