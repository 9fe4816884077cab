'use client';

import DeleteOutlineIcon from '@mui/icons-material/DeleteOutlined';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import IconButton from '@mui/material/IconButton';
import { useMemo } from 'react';
import type { Song } from '@/core';
import { clothByFamily, laidPlaces, songBars } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { ClothCanvas } from '@/look/ClothCanvas';
import { EditableText } from '@/look/EditableText';
import { WhileOpen } from '@/look/WhileOpen';
import { keyOf } from '@/state/acts';
import { closeDialog } from '@/state/dialogs/dialogs';
import {
  compareWith,
  compareWithStored,
  makePoint,
  remark,
  remove,
  usePoints,
} from '@/state/session/savePoints';
import { useOtherSongs } from '@/state/session/songsList';
import { compareWithFile } from '@/state/session/files';
import { useWorkbench } from '@/state/store';
import { sayWhen } from './sayWhen';

/** Whole copies of the song, the newest first. */
export function SavePointsDialog() {
  const open = useWorkbench((state) => state.dialog === 'save points');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="md"
      fullWidth
      aria-labelledby="points-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const { points } = usePoints();
  const others = useOtherSongs();
  return (
    <>
      <DialogTitle id="points-title">Save points</DialogTitle>
      <DialogContent>
        {points.length === 0 && (
          <Box sx={{ color: 'text.secondary' }}>
            None yet. A save point is a whole copy of the song: made with one key (
            {keyOf('make-point')}), by itself once an hour of work, and before anything large.
          </Box>
        )}
        <Box
          component="ul"
          aria-label="save points"
          sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 1 }}
        >
          {points.map(({ id, name, note, made, why, body }) => (
            <Box
              component="li"
              key={id}
              sx={{
                display: 'grid',
                gridTemplateColumns: '200px minmax(0, 1fr) auto auto',
                gap: 1.5,
                alignItems: 'center',
                borderBottom: '1px solid var(--fine-line)',
                pb: 1,
              }}
            >
              <Picture song={body} />
              <Box sx={{ minWidth: 0 }}>
                <EditableText
                  value={name}
                  label={`name of save point ${name}`}
                  onChange={(next) => void remark(id, { name: next, note })}
                  sx={{ fontWeight: 600 }}
                />
                <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
                  {sayWhen(made)} · {songBars(body)} bars
                  {why !== 'by hand' && ` · made by itself: ${why}`}
                </Box>
                <EditableText
                  value={note || 'add a note'}
                  label={`note of save point ${name}`}
                  onChange={(next) => void remark(id, { name, note: next })}
                  sx={{ fontSize: 12, color: 'text.secondary' }}
                />
              </Box>
              <Button onClick={() => compareWith(name, body, 'then')}>compare …</Button>
              <IconButton
                size="small"
                aria-label={`remove ${name}`}
                onClick={() => void remove(id)}
              >
                <DeleteOutlineIcon fontSize="small" />
              </IconButton>
            </Box>
          ))}
        </Box>
      </DialogContent>
      <DialogActions sx={{ gap: 1 }}>
        <ChoiceField
          label="compare with another song"
          value=""
          options={others.map(({ id, name }) => [id, name] as const)}
          width={220}
          onChange={(id) => void compareWithStored(id)}
        />
        <Button sx={{ mr: 'auto' }} onClick={() => void compareWithFile()}>
          compare with a file …
        </Button>
        <Button onClick={closeDialog}>close</Button>
        <Button variant="contained" onClick={() => void makePoint()}>
          make one now ({keyOf('make-point')})
        </Button>
      </DialogActions>
    </>
  );
}

/** A song as a small cloth. */
export function Picture({ song, height = 40 }: { song: Song; height?: number }) {
  const woven = clothByFamily(song);
  const joins = useMemo(() => laidPlaces(song).map(({ start }) => start), [song]);
  const heights = useMemo(
    () => woven.rows.map(() => Math.max(2, Math.floor((height + 1) / woven.rows.length) - 1)),
    [woven, height],
  );
  if (woven.length === 0) return <Box sx={{ fontSize: 12 }}>an empty song</Box>;
  return (
    <ClothCanvas
      cloth={woven}
      rowHeights={heights}
      gap={1}
      joins={joins}
      label={`${song.name} as cloth`}
    />
  );
}
