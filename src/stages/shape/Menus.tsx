'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import MenuList from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { memo, useState, type KeyboardEvent, type ReactNode } from 'react';
import { MENUS, type Menu } from '@/core/commands';
import { keysOf, linesOf, type Act } from '@/state/acts';
import { MENU_KEYS } from '@/state/acts/act';
import { keyName } from '@/state/acts/keyNames';
import { isPadKey } from '@/state/shape/pads';
import { openMenu } from '@/state/shape/view';
import { useWorkbench } from '@/state/store';

/** The lines of each menu that are used most, by their letters: they stand beside it. */
const MOST_USED: Readonly<Record<Menu, string>> = {
  select: 'bdi',
  velocity: 'rth',
  timing: 'hqwl',
  voice: 'pa',
  time: 'dhb',
  ornaments: 'frb',
  row: 'lrh',
  pattern: '',
};

/**
 * What can be done, menu by menu: the key that opens it, what it is called, and the lines that are used
 * most with their letters. Pressing any of it does it.
 * @param spelled the menus whose lines are shown; the others are there by name
 */
export const MenuRows = memo(function MenuRows({ spelled }: { spelled: readonly Menu[] }) {
  const named = OF_HITS.filter((menu) => !spelled.includes(menu));
  return (
    <Box component="nav" aria-label="what can be done" sx={{ display: 'grid', gap: 0.75 }}>
      {spelled.map((menu) => (
        <Row key={menu}>
          <MenuButton menu={menu} inline />
          {[...MOST_USED[menu]].map((letter) => (
            <LineButton key={letter} menu={menu} letter={letter} />
          ))}
        </Row>
      ))}
      {named.length > 0 && (
        <Row>
          {named.map((menu) => (
            <MenuButton key={menu} menu={menu} inline />
          ))}
        </Row>
      )}
    </Box>
  );
});

const OF_HITS: readonly Menu[] = [
  'velocity',
  'timing',
  'voice',
  'ornaments',
  'time',
  'row',
  'select',
];

function Row({ children }: { children: ReactNode }) {
  return (
    <Box sx={{ display: 'flex', flexWrap: 'wrap', columnGap: 1.25, alignItems: 'baseline' }}>
      {children}
    </Box>
  );
}

/** A key as it is printed, small, before or behind what it does. */
function KeyCap({ name }: { name: string }) {
  return (
    <Box
      component="span"
      className="figures"
      aria-hidden
      sx={{
        fontSize: 11,
        lineHeight: '14px',
        minWidth: 14,
        px: '3px',
        textAlign: 'center',
        border: '1px solid var(--line)',
        borderRadius: '3px',
        color: 'text.secondary',
      }}
    >
      {name}
    </Box>
  );
}

const inline = {
  gap: 0.5,
  fontSize: 13,
  lineHeight: '22px',
  fontFamily: 'var(--sans)',
  '&:hover': { textDecoration: 'underline' },
} as const;

/** A line of a menu that is run at once, or asks for its values. */
function LineButton({ menu, letter }: { menu: Menu; letter: string }) {
  const act = linesOf(menu).find((line) => line.menu!.letter === letter);
  if (!act) return null;
  return (
    <Tooltip title={keysOf(act)}>
      <ButtonBase onClick={act.run} sx={{ ...inline, color: 'text.secondary' }}>
        {act.menu!.words.replace(/ …$/, '')}
        <KeyCap name={keyName(letter)} />
      </ButtonBase>
    </Tooltip>
  );
}

export function MenuButton({ menu, inline: isInline }: { menu: Menu; inline?: boolean }) {
  const open = useWorkbench((state) => state.menu === menu);
  // While pads are shown, their keys play: they open no menu.
  const plays = useWorkbench((state) => state.pads.open) && isPadKey(MENU_KEYS[menu]);
  const key = plays ? '' : keyName(MENU_KEYS[menu]);
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Tooltip title={`all of ${MENUS[menu]}${key && ` (${key})`}`}>
        {isInline ? (
          <ButtonBase
            ref={setAnchor}
            aria-haspopup="menu"
            aria-expanded={open}
            onClick={() => openMenu(menu)}
            sx={{ ...inline, fontWeight: 600 }}
          >
            {key && <KeyCap name={key} />}
            {MENUS[menu]}
          </ButtonBase>
        ) : (
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
        )}
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
