'use client';

import Autocomplete from '@mui/material/Autocomplete';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import * as yup from 'yup';
import { findPattern } from '@/core';
import { PATTERN_KINDS, type PatternKind } from '@/core/model';
import { ChoiceField, plainOptions } from '@/look/ChoiceField';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { grooveById, useGather } from '@/state/gather/gather';
import { changeInLibrary, OWN_FAMILY, putIntoLibrary } from '@/state/gather/ownLibrary';
import { useWorkbench } from '@/state/store';

/** What a pattern is found by in the library, from every song. */
export function LibraryDialog() {
  const open = useWorkbench((state) => state.dialog === 'library');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="xs"
      fullWidth
      aria-labelledby="library-title"
    >
      <Body />
    </WhileOpen>
  );
}

const placing = yup.object({
  name: yup.string().trim().max(300, 'at most 300 letters').required('a groove needs a name'),
  family: yup.string().trim().max(100, 'at most 100 letters').required('a groove needs a family'),
});

function Body() {
  const { putting, history } = useWorkbench.getState();
  const [pattern] = useState(() =>
    putting && 'pattern' in putting ? findPattern(history!.song, putting.pattern) : undefined,
  );
  const [groove] = useState(() =>
    putting && 'groove' in putting ? grooveById(putting.groove) : undefined,
  );
  const grooves = useGather((state) => state.grooves);
  const [name, setName] = useState(pattern?.name ?? groove?.name ?? '');
  const [family, setFamily] = useState(groove?.family ?? OWN_FAMILY);
  const [kind, setKind] = useState<PatternKind>(pattern?.kind ?? groove?.kind ?? 'groove');
  const [tags, setTags] = useState((pattern?.tags ?? groove?.tags ?? []).join(', '));
  const problems = problemsOf({ name, family });
  const keep = async () => {
    if (Object.keys(problems).length > 0) return;
    const said = {
      name: name.trim(),
      family: family.trim(),
      kind,
      tags: tags
        .split(',')
        .map((tag) => tag.trim())
        .filter(Boolean),
    };
    const done = pattern
      ? await putIntoLibrary(pattern, said)
      : groove !== undefined && (await changeInLibrary(groove.id, said));
    if (done) closeDialog();
  };
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void keep();
      }}
    >
      <DialogTitle id="library-title" sx={{ overflowWrap: 'anywhere' }}>
        {pattern ? 'Put it into the library' : 'In the library'}
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2, pt: '8px !important' }}>
        <TextField
          label="name"
          autoFocus
          value={name}
          onChange={(event) => setName(event.target.value)}
          error={!!problems.name}
          helperText={problems.name}
          slotProps={{ htmlInput: { autoComplete: 'off' } }}
        />
        <Autocomplete
          freeSolo
          size="small"
          options={[...new Set([OWN_FAMILY, ...grooves.map((groove) => groove.family)])].sort()}
          inputValue={family}
          onInputChange={(_, value) => setFamily(value)}
          renderInput={(params) => (
            <TextField
              {...params}
              label="family"
              error={!!problems.family}
              helperText={problems.family ?? 'grooves of one feel stand together'}
            />
          )}
        />
        <ChoiceField
          label="kind"
          value={kind}
          options={plainOptions(PATTERN_KINDS)}
          onChange={(value) => setKind(value as PatternKind)}
        />
        <TextField
          label="tags, with commas"
          value={tags}
          onChange={(event) => setTags(event.target.value)}
          slotProps={{ htmlInput: { autoComplete: 'off' }, inputLabel: { shrink: true } }}
        />
      </DialogContent>
      <DialogActions>
        <Button onClick={closeDialog}>cancel</Button>
        <Button type="submit" variant="contained" disabled={Object.keys(problems).length > 0}>
          {pattern ? 'put it there' : 'change it'}
        </Button>
      </DialogActions>
    </form>
  );
}

function problemsOf(said: { name: string; family: string }): { name?: string; family?: string } {
  try {
    placing.validateSync(said, { abortEarly: false });
    return {};
  } catch (error) {
    const { inner } = error as yup.ValidationError;
    return Object.fromEntries(inner.map(({ path, message }) => [path, message]));
  }
}
