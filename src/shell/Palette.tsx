'use client';

import Box from '@mui/material/Box';
import { WhileOpen } from '@/look/WhileOpen';
import InputBase from '@mui/material/InputBase';
import List from '@mui/material/List';
import ListItemButton from '@mui/material/ListItemButton';
import { useMemo, useState, type KeyboardEvent } from 'react';
import { ACTIONS, closeDialog, isAvailable, keysOf, type Action } from '@/state/acts';
import { showPattern } from '@/state/shape/shape';
import { goToStage } from '@/state/routes';
import { useWorkbench } from '@/state/store';

/** Finds any command by its name, and any pattern of the song. */
export function Palette() {
  const open = useWorkbench((state) => state.dialog === 'palette');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      fullWidth
      maxWidth="sm"
      aria-label="find a command"
      sx={{ '& .MuiDialog-container': { alignItems: 'flex-start', pt: 6 } }}
    >
      <PaletteBody />
    </WhileOpen>
  );
}

/** Every word of the query is somewhere in the name. */
function matches(name: string, query: string): boolean {
  const lower = name.toLowerCase();
  return query
    .toLowerCase()
    .split(/\s+/)
    .every((word) => lower.includes(word));
}

function PaletteBody() {
  const [query, setQuery] = useState('');
  const [at, setAt] = useState(0);
  const rows = useMemo(() => {
    const state = useWorkbench.getState();
    const patterns: Action[] = (state.history?.song.patterns ?? []).map((pattern) => ({
      id: `pattern-${pattern.id}`,
      name: `open “${pattern.name}” in Shape`,
      group: 'go',
      run: () => {
        showPattern(pattern.id);
        goToStage('shape');
      },
    }));
    return [...ACTIONS.filter((a) => a.id !== 'palette' && isAvailable(a, state)), ...patterns];
  }, []);
  const found = rows.filter((action) => matches(action.name, query));
  const chosen = Math.min(at, found.length - 1);

  const run = (action: Action | undefined) => {
    if (!action) return;
    closeDialog();
    action.run();
  };
  const onKeyDown = (event: KeyboardEvent) => {
    if (event.key === 'ArrowDown') setAt(Math.min(found.length - 1, chosen + 1));
    else if (event.key === 'ArrowUp') setAt(Math.max(0, chosen - 1));
    else if (event.key === 'Enter') run(found[chosen]);
    else return;
    event.preventDefault();
  };

  return (
    <>
      <InputBase
        autoFocus
        fullWidth
        placeholder="what do you want to do?"
        value={query}
        onChange={(event) => {
          setQuery(event.target.value);
          setAt(0);
        }}
        onKeyDown={onKeyDown}
        inputProps={{
          'aria-label': 'find a command',
          role: 'combobox',
          'aria-expanded': true,
          'aria-controls': 'palette-list',
          'aria-activedescendant': found[chosen] ? `palette-${found[chosen].id}` : undefined,
        }}
        sx={{ px: 2, py: 1, fontSize: 16, borderBottom: '1px solid var(--line)' }}
      />
      <List
        id="palette-list"
        role="listbox"
        aria-label="commands"
        dense
        sx={{ maxHeight: 420, overflowY: 'auto' }}
      >
        {found.map((action, i) => (
          <ListItemButton
            key={action.id}
            id={`palette-${action.id}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === chosen}
            selected={i === chosen}
            ref={
              i === chosen
                ? (element: HTMLElement | null) => element?.scrollIntoView({ block: 'nearest' })
                : undefined
            }
            onClick={() => run(action)}
            sx={{ gap: 2 }}
          >
            <Box sx={{ flex: 1 }}>{action.name}</Box>
            <Box className="figures" sx={{ color: 'text.secondary', fontSize: 12 }}>
              {keysOf(action)}
            </Box>
          </ListItemButton>
        ))}
        {found.length === 0 && (
          <Box sx={{ px: 2, py: 1, color: 'text.secondary' }}>
            No command has these words in its name.
          </Box>
        )}
      </List>
    </>
  );
}
