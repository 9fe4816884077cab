'use client';

import ContrastIcon from '@mui/icons-material/Contrast';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useColorScheme } from '@mui/material/styles';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';

const MODES = [
  ['system', 'as the system has it'],
  ['light', 'linen (light)'],
  ['dark', 'indigo (dark)'],
] as const;

/** Light, dark, or as the system has it. */
export function SchemeButton() {
  const { mode, setMode } = useColorScheme();
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Tooltip title="light or dark">
        <IconButton
          size="small"
          aria-label="light or dark"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <ContrastIcon fontSize="small" />
        </IconButton>
      </Tooltip>
      <Menu open={!!anchor} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {MODES.map(([value, name]) => (
          <MenuItem
            key={value}
            selected={mode === value}
            onClick={() => {
              setMode(value);
              setAnchor(null);
            }}
          >
            {name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
