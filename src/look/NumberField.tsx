'use client';

import TextField from '@mui/material/TextField';
import { useState } from 'react';
import * as yup from 'yup';

export interface NumberFieldProps {
  value: number;
  label: string;
  /** What the field is called for those who do not see it; absent is its label. */
  name?: string;
  min: number;
  max: number;
  integer?: boolean;
  unit?: string;
  width?: number;
  onChange: (value: number) => void;
}

/**
 * A number that is typed, or stepped with the up and down keys. A value out of range is refused
 * beside the field, with the range; what was there stays.
 */
export function NumberField(props: NumberFieldProps) {
  const { value, label, name, min, max, integer, unit, width = 64, onChange } = props;
  const [draft, setDraft] = useState<string>();
  const range = `${min} to ${max}${unit ? ` ${unit}` : ''}`;
  const base = yup.number().typeError(range).min(min, range).max(max, range).required(range);
  const schema = integer ? base.integer(`whole, ${range}`) : base;
  let problem: string | undefined;
  if (draft !== undefined) {
    try {
      schema.validateSync(draft.replace(',', '.').trim() || undefined);
    } catch (error) {
      problem = (error as yup.ValidationError).message;
    }
  }
  const keep = () => {
    if (draft !== undefined && !problem) onChange(Number(draft.replace(',', '.')));
    setDraft(undefined);
  };
  const stepBy = (by: number) => {
    const next = Math.max(min, Math.min(max, Math.round(value * 100) / 100 + by));
    setDraft(undefined);
    onChange(next);
  };
  return (
    <TextField
      label={label}
      value={draft ?? String(Math.round(value * 100) / 100)}
      error={!!problem}
      helperText={problem}
      onChange={(event) => setDraft(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={keep}
      onKeyDown={(event) => {
        // Without anything typed, Enter and Escape belong to what the field is in.
        if (event.key === 'Enter' && draft !== undefined) keep();
        else if (event.key === 'Escape' && draft !== undefined) setDraft(undefined);
        else if (event.key === 'ArrowUp') stepBy(1);
        else if (event.key === 'ArrowDown') stepBy(-1);
        else return;
        event.preventDefault();
        event.stopPropagation();
      }}
      slotProps={{
        htmlInput: {
          inputMode: 'decimal',
          className: 'figures',
          autoComplete: 'off',
          ...(name && { 'aria-label': `${name}, ${label || 'number'}` }),
        },
        formHelperText: { sx: { mx: 0.5, whiteSpace: 'nowrap' } },
      }}
      sx={{ width }}
    />
  );
}
