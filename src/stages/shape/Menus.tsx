'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import MenuList from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { memo, useState, type KeyboardEvent } from 'react';
import { MENUS, type Menu } from '@/core/commands';
import { keyOf, linesOf, type Act } from '@/state/acts';
import { keyName } from '@/state/acts/keyNames';
import { openMenu } from '@/state/shape/view';
import { useWorkbench } from '@/state/store';

/** Buttons that open the menus: a key opens one, a letter in it does the rest. */
export const MenuButtons = memo(function MenuButtons({ menus }: { menus: readonly Menu[] }) {
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '1fr 1fr',
        gap: 0.75,
        '& > :last-child:nth-of-type(odd)': { gridColumn: '1 / -1' },
      }}
    >
      {menus.map((menu) => (
        <MenuButton key={menu} menu={menu} />
      ))}
    </Box>
  );
});

export function MenuButton({ menu }: { menu: Menu }) {
  const open = useWorkbench((state) => state.menu === menu);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Tooltip title={keyOf(`menu-${menu}`)}>
        <Button
          ref={setAnchor}
          size="small"
          aria-haspopup="menu"
          aria-expanded={open}
          onClick={() => openMenu(menu)}
          sx={{ px: 0.5, whiteSpace: 'nowrap' }}
        >
          {MENUS[menu]}
        </Button>
      </Tooltip>
      {open && anchor !== null && <Lines menu={menu} anchor={anchor} />}
    </>
  );
}

function Lines({ menu, anchor }: { menu: Menu; anchor: HTMLElement }) {
  const lines = linesOf(menu);
  const choose = ({ run }: Act) => {
    openMenu(undefined);
    // The menu gives the focus back first; what is opened may take it after that.
    setTimeout(run);
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.ctrlKey || event.metaKey || event.altKey) return;
    const act = lines.find((line) => line.menu!.letter === event.key.toLowerCase());
    if (!act) return;
    event.preventDefault();
    event.stopPropagation();
    choose(act);
  };
  return (
    <MenuList
      open
      anchorEl={anchor}
      onClose={() => openMenu(undefined)}
      onKeyDown={onKeyDown}
      slotProps={{ paper: { sx: { maxHeight: 560 } }, list: { dense: true } }}
    >
      {lines.map((act) => (
        <MenuItem key={act.id} onClick={() => choose(act)} sx={{ gap: 3 }}>
          <Box sx={{ flex: 1 }}>{act.menu!.words}</Box>
          <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
            {keyName(act.menu!.letter)}
          </Box>
        </MenuItem>
      ))}
    </MenuList>
  );
}
