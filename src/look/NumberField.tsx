'use client';

import TextField from '@mui/material/TextField';
import { useRef } from 'react';
import * as yup from 'yup';
import { useDraft } from './useDraft';

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
  /** What is typed counts as soon as it is a number in range. */
  live?: boolean;
  autoFocus?: boolean;
  /** Called after Enter or Escape. */
  leave?: (by: 'Enter' | 'Escape') => void;
  onChange: (value: number) => void;
}

/**
 * A number that is typed, or stepped with the up and down keys. A value out of range is refused
 * beside the field, with the range, and stays to be mended; Escape has what was there before.
 */
export function NumberField(props: NumberFieldProps) {
  const {
    value,
    label,
    name,
    min,
    max,
    integer,
    unit,
    width = 64,
    live,
    autoFocus,
    leave,
    onChange,
  } = props;
  const range = `${min} to ${max}${unit ? ` ${unit}` : ''}`;
  const base = yup.number().typeError(range).min(min, range).max(max, range).required(range);
  const schema = integer ? base.integer(`whole, ${range}`) : base;
  const problemOf = (text: string): string | undefined => {
    try {
      schema.validateSync(text.replace(',', '.').trim() || undefined);
      return undefined;
    } catch (error) {
      return (error as yup.ValidationError).message;
    }
  };
  const { draft, setDraft, field } = useDraft(
    String(Math.round(value * 100) / 100),
    (text) => onChange(Number(text.replace(',', '.'))),
    leave,
    (text) => problemOf(text) !== undefined,
  );
  const problem = draft === undefined ? undefined : problemOf(draft);
  /** What was there before something was typed: what is no number of the range leaves it. */
  const before = useRef(value);
  const typed = (text: string) => {
    if (draft === undefined) before.current = value;
    if (live) onChange(problemOf(text) ? before.current : Number(text.replace(',', '.')));
  };
  const stepBy = (by: number) => {
    const next = Math.max(min, Math.min(max, Math.round(value * 100) / 100 + by));
    setDraft(undefined);
    onChange(next);
  };
  return (
    <TextField
      label={label}
      {...field}
      onChange={(event) => {
        typed(event.target.value);
        field.onChange(event);
      }}
      error={!!problem}
      helperText={problem}
      onKeyDown={(event) => {
        if (event.key === 'ArrowUp') stepBy(1);
        else if (event.key === 'ArrowDown') stepBy(-1);
        else {
          if (event.key === 'Escape' && live && draft !== undefined) onChange(before.current);
          return field.onKeyDown(event);
        }
        event.preventDefault();
        event.stopPropagation();
      }}
      slotProps={{
        htmlInput: {
          inputMode: 'decimal',
          className: 'figures',
          autoComplete: 'off',
          autoFocus,
          ...(name && { 'aria-label': `${name}, ${label || 'number'}` }),
        },
        formHelperText: { sx: { mx: 0.5, whiteSpace: 'nowrap' } },
      }}
      sx={{ width }}
    />
  );
}
