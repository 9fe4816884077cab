'use client';

import { useDroppable } from '@dnd-kit/core';
import Box from '@mui/material/Box';
import Tab from '@mui/material/Tab';
import Tabs from '@mui/material/Tabs';
import { useEffect } from 'react';
import { meaningOf } from '@/core/words';
import { keyOf } from '@/state/acts';
import { ontoShelf, useCarried } from '@/state/gather/carrying';
import { openLibrary, setTab, useGather } from '@/state/gather/gather';
import type { Gathering } from '@/state/gather/gathering';
import { useWorkbench } from '@/state/store';
import { Filters } from './Filters';
import { GatherBar } from './GatherBar';
import { GrooveList } from './GrooveList';
import { GroovePane } from './GroovePane';
import { NoteMapDialog } from './NoteMapDialog';
import { OffcutsPane } from './OffcutsPane';
import { ShelfPane } from './ShelfPane';

/** Find material, hear it in its place, keep what fits. */
export function Gather() {
  const problem = useGather((state) => state.problem);
  useEffect(() => void openLibrary(), []);
  return (
    <Box sx={{ height: '100%', display: 'grid', gridTemplateRows: 'auto auto minmax(0, 1fr)' }}>
      <GatherBar />
      <Box
        role="status"
        sx={problem ? { px: 2, py: 0.75, borderBottom: '1px solid var(--line)' } : {}}
      >
        {problem}
      </Box>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: {
            xs: '188px minmax(0, 1fr) 272px',
            lg: '208px minmax(0, 1fr) 312px',
          },
          minHeight: 0,
        }}
      >
        <Filters />
        <GrooveList />
        <Side />
      </Box>
      <NoteMapDialog />
    </Box>
  );
}

/** While strands are carried: where they become a pattern of their own on the shelf. */
function ShelfStrip() {
  const carried = useCarried(({ pattern, shelf }) => pattern !== undefined && !shelf);
  const { setNodeRef, isOver } = useDroppable({ id: 'shelf', data: { target: ontoShelf } });
  return (
    <Box
      ref={setNodeRef}
      aria-label="onto the shelf"
      sx={{
        height: carried ? 56 : 0,
        overflow: 'hidden',
        display: 'grid',
        placeItems: 'center',
        borderTop: carried ? '2px dashed var(--accent)' : 0,
        bgcolor: isOver ? 'var(--paper)' : undefined,
        fontWeight: 600,
      }}
    >
      onto the shelf
    </Box>
  );
}

function Side() {
  const tab = useGather((state) => state.tab);
  const kept = useWorkbench((state) => state.history!.song.patterns.length);
  const offcuts = useWorkbench((state) => state.history!.song.offcuts?.length ?? 0);
  const names: Readonly<Record<Gathering['tab'], string>> = {
    groove: 'groove',
    shelf: `shelf ${kept}`,
    offcuts: `offcuts ${offcuts}`,
  };
  return (
    <Box
      sx={{
        bgcolor: 'var(--panel)',
        borderLeft: '1px solid var(--line)',
        display: 'grid',
        gridTemplateRows: 'auto minmax(0, 1fr) auto',
        minHeight: 0,
      }}
    >
      <Tabs
        value={tab}
        onChange={(_, next: Gathering['tab']) => setTab(next)}
        variant="fullWidth"
        sx={{ minHeight: 36, borderBottom: '1px solid var(--line)' }}
      >
        {(Object.keys(names) as Gathering['tab'][]).map((id) => (
          <Tab
            key={id}
            value={id}
            id={`tab-${id}`}
            aria-controls="gather-side"
            label={names[id]}
            title={`${id === 'groove' ? '' : `${meaningOf(id)} `}(${keyOf(`tab-${id}`)})`.trim()}
            sx={{ minHeight: 36, p: 0.5 }}
          />
        ))}
      </Tabs>
      <Box
        role="tabpanel"
        id="gather-side"
        aria-labelledby={`tab-${tab}`}
        tabIndex={0}
        sx={{ overflowY: 'auto', minHeight: 0 }}
      >
        {tab === 'groove' ? <GroovePane /> : tab === 'shelf' ? <ShelfPane /> : <OffcutsPane />}
      </Box>
      <ShelfStrip />
    </Box>
  );
}
