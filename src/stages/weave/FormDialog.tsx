'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import { meterName, saidBars } from '@/core/time';
import { formOf, layForm as laid, readForm, writeForm } from '@/core/weave';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { formFromFile } from '@/state/session/files';
import { useWorkbench } from '@/state/store';
import { layForm } from '@/state/weave/weave';

/** The form of the song as text: what is changed in it is changed in the song. */
export function FormDialog() {
  const open = useWorkbench((state) => state.dialog === 'form');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="sm"
      fullWidth
      aria-labelledby="form-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const song = useWorkbench((state) => state.history!.song);
  const [text, setText] = useState(() => writeForm(formOf(song)));
  const { parts, problems } = readForm(text);
  const after = problems.length === 0 ? laid(song, parts) : undefined;
  const gone = after
    ? song.places.filter(({ id }) => !after.song.places.some((place) => place.id === id)).length
    : 0;
  const lay = () => {
    if (layForm(text)) closeDialog();
  };
  const fromFile = async () => {
    const form = await formFromFile();
    if (form) setText(form);
  };
  return (
    <>
      <DialogTitle id="form-title">The form of the song</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
          Sections between commas: a name, a meter, bars, how often. The same section again is
          linked. “intro 4, verse 8, bridge 7/8 x 6, chorus 8 x 2, outro 4 @ 92”
        </Box>
        <TextField
          label="form"
          value={text}
          autoFocus
          onFocus={({ target }) => target.setSelectionRange(text.length, text.length)}
          multiline
          minRows={3}
          maxRows={8}
          error={problems.length > 0}
          onChange={(event) => setText(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' || event.shiftKey) return;
            event.preventDefault();
            if (problems.length === 0 && parts.length > 0) lay();
          }}
          slotProps={{ htmlInput: { className: 'figures', spellCheck: false } }}
        />
        {problems.length > 0 ? (
          <Box
            component="ul"
            role="alert"
            sx={{ m: 0, pl: 2.5, fontSize: 13, color: 'var(--accent)' }}
          >
            {problems.slice(0, 5).map(({ from, to, what }) => (
              <li key={`${from}-${what}`}>
                <b>{text.slice(from, to)}</b>: {what}
              </li>
            ))}
          </Box>
        ) : (
          <Box
            aria-live="polite"
            className="figures"
            sx={{ fontSize: 13, color: 'text.secondary' }}
          >
            {parts
              .map(
                ({ name, bars, meter, times }) =>
                  `${name} ${bars === undefined ? '' : saidBars(bars)}${meter ? ` of ${meterName(meter)}` : ''}${times > 1 ? `, ${times} times` : ''}`,
              )
              .join(' · ')}
            {after && after.silent.length > 0 && (
              <Box>
                No pattern of the shelf fits {[...new Set(after.silent)].join(', ')}: silent for
                now.
              </Box>
            )}
            {gone > 0 && (
              <Box>
                {gone === 1 ? '1 place goes' : `${gone} places go`} with what is laid over it.
              </Box>
            )}
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={() => void fromFile()} sx={{ mr: 'auto' }}>
          from the markers of a file …
        </Button>
        <Button onClick={closeDialog}>cancel</Button>
        <Button
          variant="contained"
          disabled={problems.length > 0 || parts.length === 0}
          onClick={lay}
        >
          lay it out
        </Button>
      </DialogActions>
    </>
  );
}
