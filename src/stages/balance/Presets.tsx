'use client';

import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useState } from 'react';
import * as presets from '@/state/balance/presets';

/** How tracks were mixed before, by name: kept, used and forgotten. */
export function Presets({ track }: { track?: string }) {
  const kept = presets.usePresets();
  const [name, setName] = useState('');
  const found = kept.find((one) => one.name === name.trim());
  return (
    <Box sx={{ display: 'grid', gap: 0.75 }}>
      <Autocomplete
        freeSolo
        size="small"
        options={kept.map((one) => one.name)}
        inputValue={name}
        onInputChange={(_, value) => setName(value)}
        renderInput={(params) => <TextField {...params} label="preset" />}
      />
      <Box sx={{ display: 'flex', gap: 0.75 }}>
        <Button disabled={!found} onClick={() => found && presets.applyPreset(found, track)}>
          use
        </Button>
        <Button disabled={!name.trim()} onClick={() => void presets.keepAsPreset(name, track)}>
          {found ? 'overwrite' : 'keep'}
        </Button>
        <Button disabled={!found} onClick={() => found && void presets.forgetKeptPreset(found)}>
          forget
        </Button>
      </Box>
    </Box>
  );
}
