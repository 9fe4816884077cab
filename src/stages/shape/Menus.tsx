'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { memo, useState, type KeyboardEvent } from 'react';
import { keyOf } from '@/state/acts';
import { keyName } from '@/state/acts/keyNames';
import { MENU, openMenu, type MenuEntry } from '@/state/acts/menus';
import { useWorkbench } from '@/state/store';
import { MENUS, type Menu } from '@/core/commands';

/** What the groups are called on their buttons. */
const NAMES: Readonly<Record<ToolGroup, string>> = {
  select: 'select',
  velocity: 'velocity',
  timing: 'timing',
  voice: 'voice',
  time: 'shape of time',
  ornaments: 'ornaments',
  row: 'row',
  pattern: 'bars',
};

/** Buttons that open the menus of tools: a key opens one, a letter in it does the rest. */
export const MenuButtons = memo(function MenuButtons({ groups }: { groups: readonly ToolGroup[] }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '1fr 1fr',
        gap: 0.75,
        '& > :last-child:nth-of-type(odd)': { gridColumn: '1 / -1' },
      }}
    >
      {groups.map((group) => (
        <MenuButton key={group} group={group} />
      ))}
    </Box>
  );
});

export function MenuButton({ group }: { group: ToolGroup }) {
  const open = useWorkbench((state) => state.menu === group);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const entries = MENU.filter((entry) => entry.group === group);
  const choose = (entry: MenuEntry) => {
    openMenu(undefined);
    // The menu gives the focus back first; what the tool opens may take it after that.
    setTimeout(entry.run);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const entry = entries.find(({ letter }) => letter === event.key.toLowerCase());
    if (!entry) return;
    event.preventDefault();
    event.stopPropagation();
    choose(entry);
  };
  return (
    <>
      <Tooltip title={keyOf(`menu-${group}`)}>
        <Button
          ref={setAnchor}
          size="small"
          aria-haspopup="menu"
          aria-expanded={open}
          onClick={() => openMenu(group)}
          sx={{ px: 0.5, whiteSpace: 'nowrap' }}
        >
          {NAMES[group]}
        </Button>
      </Tooltip>
      {open && anchor !== null && (
        <Menu
          open
          anchorEl={anchor}
          onClose={() => openMenu(undefined)}
          onKeyDown={onKeyDown}
          slotProps={{ paper: { sx: { maxHeight: 560 } }, list: { dense: true } }}
        >
          {entries.map((entry) => (
            <MenuItem key={entry.id} onClick={() => choose(entry)} sx={{ gap: 3 }}>
              <Box sx={{ flex: 1 }}>{entry.name}</Box>
              <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
                {keyName(entry.letter)}
              </Box>
            </MenuItem>
          ))}
        </Menu>
      )}
    </>
  );
}
