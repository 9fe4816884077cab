'use client';

import { SortableContext, useSortable, verticalListSortingStrategy } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import AddIcon from '@mui/icons-material/Add';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { Pattern } from '@/core';
import { SECTION_KINDS } from '@/core/model';
import { barsOf } from '@/core/pattern';
import { shelfOf, usesOf } from '@/core/weave';
import { saidBars } from '@/core/time';
import { DyeSwatch } from '@/look/DyeSwatch';
import { spotSx } from '@/look/spot';
import { findAct, keyOf } from '@/state/acts';
import { goToStage } from '@/state/routes';
import { showPattern } from '@/state/shape/shape';
import { useWorkbench } from '@/state/store';
import { carrySection, shelfTarget, type ShelfSpot } from '@/state/gather/carrying';
import { addKind, addSection, openForm } from '@/state/weave/weave';

/** The patterns kept for this song. Drag one onto the cloth, or press its plus. */
export function Shelf() {
  const song = useWorkbench((state) => state.history!.song);
  const patterns = shelfOf(song);
  return (
    <Box
      component="aside"
      aria-label="shelf"
      sx={{
        bgcolor: 'var(--panel)',
        borderRight: '1px solid var(--line)',
        display: 'grid',
        gridTemplateRows: 'auto minmax(0, 1fr) auto',
        minHeight: 0,
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'baseline', px: 2, pt: 2, pb: 1 }}>
        <Typography variant="h3" sx={{ flex: 1 }}>
          Shelf
        </Typography>
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>{patterns.length} kept</Box>
      </Box>
      <Box
        component="ul"
        aria-label="patterns"
        sx={{ listStyle: 'none', m: 0, p: 0, px: 1, overflowY: 'auto' }}
      >
        <SortableContext
          items={patterns.map(({ id }) => `shelf-${id}`)}
          strategy={verticalListSortingStrategy}
        >
          {patterns.map((pattern) => (
            <Kept key={pattern.id} pattern={pattern} uses={usesOf(song, pattern.id)} />
          ))}
        </SortableContext>
      </Box>
      <Box sx={{ p: 1.5, borderTop: '1px solid var(--line)', display: 'grid', gap: 0.75 }}>
        <AddMenu />
        <Tooltip title={keyOf('new-pattern')}>
          <Button fullWidth onClick={() => findAct('new-pattern')!.run()}>
            new pattern
          </Button>
        </Tooltip>
      </Box>
    </Box>
  );
}

/** Sections to add, by kind; or the whole form. */
function AddMenu() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const then = (run: () => void) => () => {
    setAnchor(null);
    run();
  };
  return (
    <>
      <Button fullWidth onClick={(event) => setAnchor(event.currentTarget)}>
        add a section
      </Button>
      <Menu open={!!anchor} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {SECTION_KINDS.map((kind) => (
          <MenuItem key={kind} onClick={then(() => addKind(kind))}>
            {kind}
          </MenuItem>
        ))}
        <MenuItem divider sx={{ p: 0, minHeight: 0 }} disabled />
        <MenuItem onClick={then(openForm)} sx={{ gap: 3 }}>
          <Box sx={{ flex: 1 }}>type the form …</Box>
          <Box className="figures" sx={{ color: 'text.secondary', fontSize: 12 }}>
            {keyOf('form')}
          </Box>
        </MenuItem>
      </Menu>
    </>
  );
}

function Kept({ pattern, uses }: { pattern: Pattern; uses: number }) {
  const { id, name, dye } = pattern;
  const [spot, setSpot] = useState<ShelfSpot>();
  const { setNodeRef, listeners, transform, isDragging } = useSortable({
    id: `shelf-${id}`,
    data: { carry: () => carrySection(id), target: shelfTarget(id, setSpot) },
  });
  const bars = barsOf(pattern);
  return (
    <Box
      component="li"
      ref={setNodeRef}
      {...listeners}
      style={{ transform: CSS.Translate.toString(transform) }}
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1,
        p: 0.75,
        borderRadius: 1,
        cursor: 'grab',
        opacity: isDragging ? 0.5 : 1,
        touchAction: 'none',
        '&:hover': { bgcolor: 'var(--paper)' },
        ...spotSx(spot),
      }}
    >
      <DyeSwatch dye={dye} size={32} />
      <Box
        component="button"
        type="button"
        title={`open “${name}” in Shape`}
        onClick={() => {
          showPattern(id);
          goToStage('shape');
        }}
        sx={{
          flex: 1,
          minWidth: 0,
          p: 0,
          border: 0,
          background: 'none',
          color: 'inherit',
          textAlign: 'left',
          font: 'inherit',
          cursor: 'pointer',
        }}
      >
        <Box sx={{ fontSize: 14, lineHeight: '17px', fontWeight: 600 }}>{name}</Box>
        <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
          {saidBars(bars)} · {uses === 0 ? 'unused' : `used ${uses}×`}
        </Box>
      </Box>
      <Tooltip title={`add a section that plays “${name}”`}>
        <IconButton
          size="small"
          aria-label={`add a section that plays ${name}`}
          onClick={() => addSection(id)}
        >
          <AddIcon fontSize="small" />
        </IconButton>
      </Tooltip>
    </Box>
  );
}
