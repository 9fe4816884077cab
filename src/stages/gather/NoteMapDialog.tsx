'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { WhileOpen } from '@/look/WhileOpen';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import Typography from '@mui/material/Typography';
import { useMemo, useState } from 'react';
import type { NotesOfFile } from '@/core/library';
import {
  count,
  guessNoteMap,
  NOTE_MAPS,
  readingOf,
  type NoteMapChoice,
  type NoteMapId,
} from '@/core/midi';
import { DEFAULT_KIT, pieceOfNote } from '@/core/model';
import { CHANNEL_CHOICES } from '@/look/channelChoices';
import { ChoiceField } from '@/look/ChoiceField';
import { closeDialog } from '@/state/dialogs/dialogs';
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

/** The drums of each file are where they are usually found. */
const FOUND = '';

/** The channels that have notes, as options that say how many. */
const channelsWithNotes = (counted: NotesOfFile | undefined) =>
  CHANNEL_CHOICES.flatMap(([value, name]) => {
    const hits = counted?.channels[Number(value)].reduce((sum, n) => sum + n, 0) ?? 0;
    return hits === 0 ? [] : [[value, `${name}: ${count(hits, 'note')}`] as const];
  });

function Body() {
  const { family, files, through, counts: counted, busy } = useNoteMap();
  const [channel, setChannel] = useState(through?.channel);
  const counts = channel === undefined ? counted?.drums : counted?.channels[channel];
  const guess = counts && guessNoteMap(counts);
  const [map, setMap] = useState<NoteMapId>(through?.map ?? 'gm');
  const [changes, setChanges] = useState<NonNullable<NoteMapChoice['changes']>>(
    through?.changes ?? {},
  );
  const plain = useMemo(() => readingOf({ map }), [map]);
  const isEmpty = !counts || counts.every((n) => n === 0);
  const choose = (note: number, as: number) => {
    const { [note]: _, ...others } = changes;
    setChanges(as === plain[note] ? others : { ...others, [note]: as });
  };
  const choice = {
    map,
    ...(Object.keys(changes).length > 0 && { changes }),
    ...(channel !== undefined && { channel }),
  };
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
        <Box sx={{ pt: 0.5, display: 'flex', gap: 1.5, flexWrap: 'wrap' }}>
          <ChoiceField
            label="drums are on channel"
            value={channel === undefined ? FOUND : String(channel)}
            width={200}
            options={[[FOUND, '10, or named like drums'], ...channelsWithNotes(counted)]}
            onChange={(next) => setChannel(next === FOUND ? undefined : Number(next))}
          />
          <ChoiceField
            label="notes are read as"
            value={map}
            width={320}
            options={NOTE_MAPS.map(({ id, name }) => [
              id,
              id === guess ? `${name} (seems to fit)` : name,
            ])}
            onChange={(next) => setMap(next as NoteMapId)}
          />
        </Box>
        {!counted && <Typography variant="body2">Counting the notes …</Typography>}
        {counted && isEmpty && (
          <Typography variant="body2" role="status">
            None of their notes are on channel 10 or on a track that is named like drums: choose the
            channel that the drums are on.
          </Typography>
        )}
        {counts && (
          <Notes counts={counts} readAs={(note) => changes[note] ?? plain[note]} choose={choose} />
        )}
      </DialogContent>
      <DialogActions>
        <Button disabled={busy} onClick={() => void readFamilyThrough(undefined)}>
          guess for each file
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button onClick={closeDialog}>cancel</Button>
        <Button
          variant="contained"
          disabled={busy || isEmpty}
          onClick={() => void readFamilyThrough(choice)}
        >
          {busy ? 'reading …' : 'read them like this'}
        </Button>
      </DialogActions>
    </>
  );
}

interface NotesProps {
  /** How often each of the 128 notes is struck. */
  counts: Uint32Array;
  /** The General MIDI note that a note of the files is read as. */
  readAs: (note: number) => number;
  choose: (note: number, as: number) => void;
}

/** The notes that are struck, each with the drum that it is read as. */
function Notes({ counts, readAs, choose }: NotesProps) {
  return (
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
      {[...counts.keys()]
        .filter((note) => counts[note] > 0)
        .map((note) => {
          const as = readAs(note);
          const known = STROKES.some(([value]) => value === String(as));
          return (
            <Box key={note} sx={{ display: 'contents' }}>
              <span className="figures">note {note}</span>
              <Box className="figures" sx={{ color: 'text.secondary', textAlign: 'right' }}>
                {count(counts[note], 'hit')}
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
  );
}
