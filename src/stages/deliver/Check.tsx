'use client';

import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';

interface CheckProps {
  label: string;
  checked: boolean;
  onChange: (checked: boolean) => void;
}

/** Something that is wished for, or not. */
export function Check({ label, checked, onChange }: CheckProps) {
  return (
    <FormControlLabel
      sx={{ display: 'flex' }}
      control={
        <Checkbox
          checked={checked}
          onChange={(_, now) => onChange(now)}
          size="small"
          sx={{ py: 0.5 }}
        />
      }
      label={label}
    />
  );
}
