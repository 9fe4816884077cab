'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { WhileOpen } from '@/look/WhileOpen';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import { NOTE_MAPS, readingOf, type NoteMapChoice, type NoteMapId } from '@/core/midi';
import { DEFAULT_KIT, pieceOfNote } from '@/core/model';
import { ChoiceField } from '@/look/ChoiceField';
import { closeDialog } from '@/state/dialogs/dialogs';
import { grooveById, useGather } from '@/state/gather/gather';
import { readFamilyThrough, useNoteMap } from '@/state/gather/noteMaps';
import { useWorkbench } from '@/state/store';

/** Which note is which drum in the files of one folder. */
export function NoteMapDialog() {
  const open = useWorkbench((state) => state.dialog === 'note map');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="sm"
      fullWidth
      aria-labelledby="map-title"
    >
      <Body />
    </WhileOpen>
  );
}

/** Every stroke that General MIDI has a note for, in staff order. */
const STROKES = DEFAULT_KIT.pieces.flatMap(({ name, articulations }) =>
  articulations
    .filter(({ sound }) => sound === undefined)
    .map(
      ({ note, name: how }) =>
        [String(note), articulations.length > 1 ? `${name}, ${how}` : name] as const,
    ),
);

function nameOf(note: number): string {
  return STROKES.find(([value]) => value === String(note))?.[1] ?? pieceOfNote(note).piece.name;
}

function Body() {
  const { family, files, counts, guess, busy } = useNoteMap();
  const [through] = useState(() => grooveById(useGather.getState().chosen)?.through);
  const [map, setMap] = useState<NoteMapId>(through?.map ?? 'gm');
  const [changes, setChanges] = useState<NonNullable<NoteMapChoice['changes']>>(
    through?.changes ?? {},
  );
  const plain = useMemo(() => readingOf({ map }), [map]);
  const notes = counts ? [...counts.keys()].filter((note) => counts[note] > 0) : [];
  const choose = (note: number, as: number) => {
    const { [note]: _, ...others } = changes;
    setChanges(as === plain[note] ? others : { ...others, [note]: as });
  };
  const choice = { map, ...(Object.keys(changes).length > 0 && { changes }) };
  return (
    <>
      <DialogTitle id="map-title" sx={{ overflowWrap: 'anywhere' }}>
        Which note is which drum in “{family}”
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          Programs and drum modules number their drums in different ways. What you choose holds for
          all {files.toLocaleString('en')} of your files of this folder, and for those that come
          later.
        </Typography>
        <Box sx={{ pt: 0.5 }}>
          <ChoiceField
            label="notes are read as"
            value={map}
            width={380}
            options={NOTE_MAPS.map(({ id, name }) => [
              id,
              counts && id === guess ? `${name} (seems to fit)` : name,
            ])}
            onChange={(next) => setMap(next as NoteMapId)}
          />
        </Box>
        {!counts && <Typography variant="body2">Counting the notes …</Typography>}
        <Box
          role="group"
          aria-label="notes of these files"
          sx={{
            display: 'grid',
            gridTemplateColumns: 'auto auto minmax(0, 1fr)',
            columnGap: 2,
            rowGap: 1,
            alignItems: 'center',
          }}
        >
          {notes.map((note) => {
            const as = changes[note] ?? plain[note];
            const known = STROKES.some(([value]) => value === String(as));
            return (
              <Box key={note} sx={{ display: 'contents' }}>
                <span className="figures">note {note}</span>
                <Box className="figures" sx={{ color: 'text.secondary', textAlign: 'right' }}>
                  {counts![note] === 1 ? '1 hit' : `${counts![note].toLocaleString('en')} hits`}
                </Box>
                <ChoiceField
                  label={`note ${note} is`}
                  value={String(as)}
                  options={known ? STROKES : [[String(as), `${nameOf(as)}: not known`], ...STROKES]}
                  onChange={(value) => choose(note, Number(value))}
                />
              </Box>
            );
          })}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button disabled={busy} onClick={() => void readFamilyThrough(undefined)}>
          guess for each file
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button onClick={closeDialog}>cancel</Button>
        <Button
          variant="contained"
          disabled={busy || !counts}
          onClick={() => void readFamilyThrough(choice)}
        >
          {busy ? 'reading …' : 'read them like this'}
        </Button>
      </DialogActions>
    </>
  );
}
