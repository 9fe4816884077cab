'use client';

import Box from '@mui/material/Box';
import InputBase from '@mui/material/InputBase';
import type { SxProps } from '@mui/material/styles';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import { useDraft } from './useDraft';

/** A name that is changed where it stands: press it, type, Enter keeps and Escape leaves it. */
export function EditableText(props: {
  value: string;
  label: string;
  onChange: (value: string) => void;
  sx?: SxProps;
}) {
  const { value, label, onChange, sx } = props;
  const [open, setOpen] = useState(false);
  const { field } = useDraft(
    value,
    (text) => {
      const next = text.trim().slice(0, 120);
      if (next && next !== value) onChange(next);
    },
    () => setOpen(false),
  );
  const text = { fontFamily: 'inherit', lineHeight: '24px', color: 'inherit', ...sx } as SxProps;
  if (open) {
    return (
      <InputBase
        autoFocus
        {...field}
        onBlur={() => {
          field.onBlur();
          setOpen(false);
        }}
        inputProps={{ 'aria-label': label }}
        sx={{ ...text, '& input': { p: 0 }, borderBottom: '1px solid var(--accent)' } as SxProps}
      />
    );
  }
  return (
    <Tooltip title={`${value} (press to rename)`}>
      <Box
        component="button"
        type="button"
        aria-label={`${label}: ${value}. Press to rename.`}
        onClick={() => setOpen(true)}
        sx={
          {
            maxWidth: '100%',
            ...text,
            p: 0,
            border: 0,
            borderBottom: '1px solid transparent',
            background: 'none',
            cursor: 'text',
            textAlign: 'left',
            whiteSpace: 'nowrap',
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            '&:hover': { borderBottomColor: 'var(--line)' },
          } as SxProps
        }
      >
        {value}
      </Box>
    </Tooltip>
  );
}
