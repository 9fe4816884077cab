'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { WhileOpen } from '@/look/WhileOpen';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useState, type KeyboardEvent } from 'react';
import { findPattern } from '@/core';
import { pieceOf, type PieceId } from '@/core/model';
import { FITS, type Fit, type TakeMode } from '@/core/pattern';
import { REACH_NAMES, REACHES, shelfOf } from '@/core/weave';
import { DyeSwatch } from '@/look/DyeSwatch';
import { ChoiceField } from '@/look/ChoiceField';
import { closeDialog } from '@/state/dialogs/dialogs';
import { setReach } from '@/state/weave/choosing';
import { useWorkbench } from '@/state/store';

import {
  barsThatLoop,
  chosenPieces,
  isOtherMeterThere,
  misfitsOf,
  piecesThere,
  placeHere,
  saysOver,
  takeIntoPatterns,
  takeOver,
  takeSource,
  type Over,
} from '@/state/gather/taking';

/** Takes strands of the chosen groove onto the song, or into patterns; what changes is said first. */
export function TakeDialog() {
  const open = useWorkbench((state) => state.dialog === 'take');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="sm"
      fullWidth
      aria-labelledby="take-title"
    >
      <Body />
    </WhileOpen>
  );
}

type Goal = 'bars' | 'song' | 'patterns';

function Body() {
  const [pattern, setPattern] = useState(takeSource);
  const { stage } = useWorkbench.getState();
  const song = useWorkbench((state) => state.history!.song);
  const [pieces, setPieces] = useState<readonly PieceId[]>(chosenPieces);
  const [bars] = useState(barsThatLoop);
  const [goal, setGoal] = useState<Goal>(() =>
    song.places.length > 0 && stage !== 'shape' ? (bars ? 'bars' : 'song') : 'patterns',
  );
  const [instead, setInstead] = useState<readonly PieceId[]>([]);
  const reach = useWorkbench((state) => state.reach);
  const [mode, setMode] = useState<TakeMode>('replace');
  const [fit, setFit] = useState<Fit>('repeat');
  const [targets, setTargets] = useState<readonly string[]>([]);
  const [place] = useState(placeHere);
  if (!pattern) {
    return (
      <>
        <DialogTitle id="take-title">Copy parts</DialogTitle>
        <DialogContent>Choose a groove first: arrow keys go through the list.</DialogContent>
        <DialogActions>
          <Button onClick={closeDialog}>close</Button>
        </DialogActions>
      </>
    );
  }
  const there = pattern.strands.filter(({ hits }) => hits.length > 0);
  const misfits = misfitsOf(pattern, targets);
  const over: Over | undefined =
    goal === 'patterns' || place === undefined
      ? undefined
      : { place, reach, mode, instead, fit, ...(goal === 'bars' && { bars }) };
  const others = over ? piecesThere(over, pieces) : [];
  const otherMeter = over !== undefined && isOtherMeterThere(pattern, over);
  const ready = pieces.length > 0 && (goal === 'patterns' ? targets.length > 0 : !!over);
  const take = () => {
    const done = over
      ? takeOver(pattern, pieces, over)
      : takeIntoPatterns(pattern, pieces, targets, { mode, fit });
    if (done) closeDialog();
  };
  const toggle = <T,>(list: readonly T[], one: T) =>
    list.includes(one) ? list.filter((other) => other !== one) : [...list, one];
  const onKeyDown = (event: KeyboardEvent) => {
    const target = event.target as Element;
    if (event.key !== 'Enter' || target.closest('[role=combobox], [role=listbox], [data-cancel]')) {
      return;
    }
    // Enter takes, whichever toggle was pressed last.
    event.preventDefault();
    event.stopPropagation();
    if (ready) take();
  };
  return (
    <Box sx={{ display: 'contents' }} onKeyDownCapture={onKeyDown}>
      <DialogTitle id="take-title" sx={{ overflowWrap: 'anywhere' }}>
        Copy from “{pattern.name}”
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        {stage === 'weave' && (
          <Choice title="from">
            <ChoiceField
              label="pattern"
              value={pattern.id}
              options={shelfOf(song).map(({ id, name }) => [id, name] as const)}
              onChange={(id) => {
                const next = findPattern(song, id);
                setPattern(next);
                setPieces(
                  next?.strands.flatMap(({ piece, hits }) => (hits[0] ? [piece] : [])) ?? [],
                );
              }}
            />
          </Choice>
        )}
        <Choice title="strands">
          <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
            {there.map(({ piece }) => (
              <ToggleButton
                key={piece}
                value={piece}
                selected={pieces.includes(piece)}
                onChange={() => setPieces(toggle(pieces, piece))}
                sx={{ py: 0.25 }}
              >
                {pieceOf(piece, song.kit).name}
              </ToggleButton>
            ))}
          </Box>
        </Choice>
        <Choice title="onto">
          <Toggles
            label="onto"
            value={goal}
            options={[
              ...(bars && place
                ? [['bars', stage === 'weave' ? 'the chosen bars' : 'the bars that loop'] as const]
                : []),
              ['song', stage === 'weave' ? 'the chosen section' : 'the section that is heard'],
              ['patterns', 'patterns of the shelf'],
            ]}
            onChange={setGoal}
          />
        </Choice>
        {goal !== 'patterns' ? (
          <Choice title="reach">
            <Toggles
              label="reach"
              value={reach}
              options={REACHES.map((one) => [one, REACH_NAMES[one]] as const)}
              onChange={setReach}
            />
          </Choice>
        ) : (
          <Box sx={{ maxHeight: 200, overflowY: 'auto', border: '1px solid var(--line)', px: 1 }}>
            {shelfOf(song)
              .filter(({ id }) => id !== pattern.id)
              .map(({ id, name, dye }) => (
                <FormControlLabel
                  key={id}
                  sx={{ display: 'flex', m: 0 }}
                  control={
                    <Checkbox
                      size="small"
                      checked={targets.includes(id)}
                      onChange={() => setTargets(toggle(targets, id))}
                    />
                  }
                  label={
                    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
                      <DyeSwatch dye={dye} size={18} />
                      {name}
                    </Box>
                  }
                />
              ))}
          </Box>
        )}
        <Choice title="what is there">
          <Toggles
            label="what is there"
            value={mode}
            options={[
              ['replace', 'is replaced'],
              ['add', 'stays: add to it'],
            ]}
            onChange={setMode}
          />
        </Choice>
        {others.length > 0 && mode === 'replace' && (
          <Choice title="falls silent for it as well">
            <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
              {others.map((piece) => (
                <ToggleButton
                  key={piece}
                  value={piece}
                  selected={instead.includes(piece)}
                  aria-label={`in place of ${pieceOf(piece, song.kit).name.toLowerCase()}`}
                  onChange={() => setInstead(toggle(instead, piece))}
                  sx={{ py: 0.25 }}
                >
                  {pieceOf(piece, song.kit).name}
                </ToggleButton>
              ))}
            </Box>
          </Choice>
        )}
        {(goal === 'patterns' || otherMeter) && (
          <Choice title={otherMeter ? 'bars of another meter' : 'another length'}>
            <Toggles
              label={otherMeter ? 'bars of another meter' : 'another length'}
              value={fit}
              options={FITS.map((one) => [one, one] as const)}
              onChange={setFit}
            />
          </Choice>
        )}
        <Typography role="status" sx={{ minHeight: 40 }}>
          {pieces.length === 0
            ? 'Choose at least one part.'
            : goal !== 'patterns'
              ? over
                ? `${capital(saysOver(pattern, pieces, over) ?? '')}.`
                : 'The song has no section yet: put a pattern into it in Weave first.'
              : targets.length === 0
                ? 'Choose the patterns that get them.'
                : misfits.length > 0
                  ? `${misfits.join(' ')} What is copied is ${SAID[fit]}.`
                  : `${targets.length === 1 ? '1 pattern changes' : `${targets.length} patterns change`}; all other parts stay as they are.`}
        </Typography>
      </DialogContent>
      <DialogActions>
        <Button data-cancel onClick={closeDialog}>
          cancel
        </Button>
        <Button variant="contained" disabled={!ready} onClick={take}>
          copy
        </Button>
      </DialogActions>
    </Box>
  );
}

const SAID: Readonly<Record<Fit, string>> = {
  repeat: 'repeated until the pattern is full, or cut at its end',
  cut: 'laid once, and cut at the end of the pattern',
  stretch: 'stretched or squeezed to the length of the pattern',
};

const capital = (text: string) => text.charAt(0).toUpperCase() + text.slice(1);

function Choice({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <Box>
      <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>{title}</Box>
      {children}
    </Box>
  );
}

function Toggles<T extends string>(props: {
  label: string;
  value: T;
  options: readonly (readonly [T, string])[];
  onChange: (value: T) => void;
}) {
  const { label, value, options, onChange } = props;
  return (
    <ToggleButtonGroup
      exclusive
      value={value}
      aria-label={label}
      onChange={(_, next: T | null) => next && onChange(next)}
    >
      {options.map(([id, name]) => (
        <ToggleButton key={id} value={id} sx={{ py: 0.25 }}>
          {name}
        </ToggleButton>
      ))}
    </ToggleButtonGroup>
  );
}
