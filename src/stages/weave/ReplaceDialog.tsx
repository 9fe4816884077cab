'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import ToggleButton from '@mui/material/ToggleButton';
import { useState } from 'react';
import { findPattern } from '@/core';
import { pieceOf, type PieceId } from '@/core/model';
import {
  placesChanged,
  replacePattern as replaced,
  SCOPES,
  shelfOf,
  stackOf,
  type Scope,
} from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { keepBefore } from '@/state/session/savePoints';
import { useWorkbench } from '@/state/store';
import { chosenPlace, chosenPlaces, saidPlaces } from '@/state/weave/choosing';
import { replacePattern } from '@/state/weave/laying';

/** One pattern in place of another, in some of the song or all of it; fills stay. */
export function ReplaceDialog() {
  const open = useWorkbench((state) => state.dialog === 'replace');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="sm"
      fullWidth
      aria-labelledby="replace-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const song = useWorkbench((state) => state.history!.song);
  const here = useWorkbench(chosenPlace);
  const patterns = shelfOf(song);
  const [pattern, setPattern] = useState(
    () =>
      (here && stackOf(here).find(({ span }) => span.pieces === 'all')?.span.pattern) ??
      patterns[0]?.id ??
      '',
  );
  const [by, setBy] = useState('');
  const [scope, setScope] = useState<Scope>('chosen sections');
  const [pieces, setPieces] = useState<readonly PieceId[]>([]);
  const names = patterns.map(({ id, name }) => [id, name] as const);
  const other = findPattern(song, by);
  const places = chosenPlaces();
  const after = other
    ? replaced(song, {
        pattern,
        by,
        scope,
        places,
        ...(pieces.length > 0 && { pieces }),
      })
    : song;
  const changed = placesChanged(song, after);
  const put = async () => {
    if (scope === 'everywhere') await keepBefore('replace everywhere');
    if (replacePattern(pattern, by, scope, pieces)) closeDialog();
  };
  return (
    <>
      <DialogTitle id="replace-title">Replace a pattern</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2, pt: '8px !important' }}>
        <Box sx={{ display: 'flex', gap: 1.5 }}>
          <ChoiceField
            label="replace"
            value={pattern}
            options={names}
            width={230}
            onChange={setPattern}
          />
          <ChoiceField
            label="by"
            value={by}
            options={names.filter(([id]) => id !== pattern)}
            width={230}
            onChange={(id) => {
              setBy(id);
              setPieces([]);
            }}
          />
        </Box>
        <ChoiceField
          label="where"
          value={scope}
          options={SCOPES.map((one) => [one, one] as const)}
          width={230}
          onChange={(next) => setScope(next as Scope)}
        />
        {other && (
          <Box>
            <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>
              all of it, or only these pieces
            </Box>
            <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
              {other.strands
                .filter(({ hits }) => hits.length > 0)
                .map(({ piece }) => (
                  <ToggleButton
                    key={piece}
                    value={piece}
                    selected={pieces.includes(piece)}
                    onChange={() =>
                      setPieces((list) =>
                        list.includes(piece)
                          ? list.filter((one) => one !== piece)
                          : [...list, piece],
                      )
                    }
                    sx={{ py: 0.25 }}
                  >
                    {pieceOf(piece, song.kit).name}
                  </ToggleButton>
                ))}
            </Box>
          </Box>
        )}
        <Box aria-live="polite" sx={{ fontSize: 13, color: 'text.secondary' }}>
          {!other
            ? 'Choose what is to be played instead.'
            : changed === 0
              ? 'It is not played there: nothing would change.'
              : `Changes ${saidPlaces(changed)}; fills and what else is laid over it stay.`}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={closeDialog}>cancel</Button>
        <Button variant="contained" disabled={changed === 0} onClick={() => void put()}>
          replace
        </Button>
      </DialogActions>
    </>
  );
}
