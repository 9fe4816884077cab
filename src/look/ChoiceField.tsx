'use client';

import MenuItem from '@mui/material/MenuItem';
import TextField from '@mui/material/TextField';

export interface ChoiceFieldProps {
  label: string;
  /** What the field is called for those who do not see it; absent is its label. */
  name?: string;
  /** What is chosen; empty when it is none of the options. */
  value: string;
  options: readonly (readonly [value: string, name: string])[];
  width?: number;
  onChange: (value: string) => void;
}

/** One of a few, chosen from a menu. */
export function ChoiceField({ label, name, value, options, width, onChange }: ChoiceFieldProps) {
  return (
    <TextField
      select
      label={label || undefined}
      value={options.some(([option]) => option === value) ? value : ''}
      onChange={(event) => onChange(event.target.value)}
      sx={{ width }}
      {...(name !== undefined && {
        hiddenLabel: true,
        slotProps: { select: { SelectDisplayProps: { 'aria-label': name }, displayEmpty: true } },
      })}
    >
      {options.map(([option, name]) => (
        <MenuItem key={option} value={option}>
          {name}
        </MenuItem>
      ))}
    </TextField>
  );
}

/** Options whose names are their values. */
export function plainOptions<T extends string>(values: readonly T[]): (readonly [T, T])[] {
  return values.map((value) => [value, value] as const);
}
