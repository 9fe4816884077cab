'use client';

import Box from '@mui/material/Box';
import { REACH_NAMES, shelfOf } from '@/core/weave';
import { WhileOpen } from '@/look/WhileOpen';
import InputBase from '@mui/material/InputBase';
import List from '@mui/material/List';
import ListItemButton from '@mui/material/ListItemButton';
import { useMemo, useState, type KeyboardEvent } from 'react';
import { keysOf, type Act } from '@/state/acts';
import { actsByName, actsLike, type FoundAct } from '@/state/acts/finding';
import { closeDialog } from '@/state/dialogs/dialogs';
import { platform } from '@/state/platform';
import { addStrand } from '@/state/shape/frame';
import { showPattern } from '@/state/shape/shape';
import { goalsOf } from '@/state/transport/goingTo';
import { goToStage } from '@/state/routes';
import { shownPattern, useWorkbench, type Workbench } from '@/state/store';

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

/** Where the words lead to in the song or the pattern: a bar's number, or a section's name. */
function goalActs(query: string): Act[] {
  return goalsOf(query).map(({ name, go }, i) => ({
    id: `goal-${i}`,
    name: `go to ${name}`,
    group: 'go',
    run: go,
  }));
}

/** In Shape, the kit pieces that have no row yet. */
function rowsToAdd(state: Workbench): Act[] {
  const shown = state.stage === 'shape' ? shownPattern(state) : undefined;
  if (!shown) return [];
  const there = new Set(shown.strands.map(({ piece }) => piece));
  return state
    .history!.song.kit.pieces.filter(({ id }) => !there.has(id))
    .map(({ id, name }) => ({
      id: `row-${id}`,
      name: `add a row: ${name.toLowerCase()}`,
      also: 'kit piece strand drum',
      group: 'shape',
      run: () => addStrand(id),
    }));
}

function PaletteBody() {
  const [query, setQuery] = useState('');
  const [at, setAt] = useState(0);
  const reach = useWorkbench((state) => state.reach);
  const rows = useMemo((): FoundAct[] => {
    const state = useWorkbench.getState();
    const patterns: Act[] = (state.history ? shelfOf(state.history.song) : []).map((pattern) => ({
      id: `pattern-${pattern.id}`,
      name: `open “${pattern.name}” in Shape`,
      group: 'go',
      run: () => {
        showPattern(pattern.id);
        goToStage('shape');
      },
    }));
    const acts = actsByName(state);
    const here = acts.filter(({ where }) => !where);
    return [...here, ...patterns, ...rowsToAdd(state), ...acts.filter(({ where }) => where)];
  }, []);
  const found = useMemo<FoundAct[]>(
    () => [...goalActs(query), ...actsLike(rows, query)],
    [rows, query],
  );
  const chosen = Math.min(at, found.length - 1);

  const run = (act: Act | undefined) => {
    if (!act) return;
    closeDialog();
    // The dialog gives the focus back first: what is run may put it elsewhere.
    platform.afterFrame(act.run);
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
        {found.map((act, i) => (
          <ListItemButton
            key={act.id}
            id={`palette-${act.id}`}
            role="option"
            tabIndex={-1}
            aria-selected={i === chosen}
            selected={i === chosen}
            ref={
              i === chosen
                ? (element: HTMLElement | null) => element?.scrollIntoView({ block: 'nearest' })
                : undefined
            }
            onClick={() => run(act)}
            sx={{ gap: 2 }}
          >
            <Box sx={{ flex: 1 }}>
              {act.name}
              {(act.where || act.reaches) && (
                <Box component="span" sx={{ ml: 1, fontSize: 13, color: 'text.secondary' }}>
                  {[act.where && `in ${act.where}`, act.reaches && `reach: ${REACH_NAMES[reach]}`]
                    .filter(Boolean)
                    .join(', ')}
                </Box>
              )}
            </Box>
            <Box className="figures" sx={{ color: 'text.secondary', fontSize: 12 }}>
              {keysOf(act)}
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
