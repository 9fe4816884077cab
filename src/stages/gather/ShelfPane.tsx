'use client';

import ArrowDownwardIcon from '@mui/icons-material/ArrowDownward';
import ArrowUpwardIcon from '@mui/icons-material/ArrowUpward';
import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import { useDraggable, useDroppable } from '@dnd-kit/core';
import { useState } from 'react';
import type { Pattern } from '@/core';
import { barsOf } from '@/core/pattern';
import { shelfOf, usesOf } from '@/core/weave';
import { saidBars } from '@/core/time';
import { gripOf } from '@/look/grip';
import { spotSx } from '@/look/spot';
import { useDraft } from '@/look/useDraft';
import { DyeSwatch } from '@/look/DyeSwatch';
import { edit } from '@/state/session/edit';
import { goToStage } from '@/state/routes';
import { showPattern } from '@/state/shape/shape';
import { useWorkbench } from '@/state/store';
import { carryPattern, shelfTarget, type ShelfSpot } from '@/state/gather/carrying';
import { askToPut } from '@/state/gather/ownLibrary';
import { askToSetAside, joinChosen, layTogether, takeApart } from '@/state/gather/shelf';

/** The patterns kept for this song, with their notes, in an order made by hand. */
export function ShelfPane() {
  const song = useWorkbench((state) => state.history!.song);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const there = chosen.filter((id) => song.patterns.some((pattern) => pattern.id === id));
  const toggle = (id: string) =>
    setChosen(there.includes(id) ? there.filter((one) => one !== id) : [...there, id]);
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateRows: 'minmax(0, 1fr) auto',
        minHeight: 0,
        height: '100%',
      }}
    >
      <Box
        component="ul"
        aria-label="shelf"
        sx={{ listStyle: 'none', m: 0, p: 1, overflowY: 'auto' }}
      >
        {shelfOf(song).map((pattern, index) => (
          <Kept
            key={pattern.id}
            pattern={pattern}
            uses={usesOf(song, pattern.id)}
            chosen={there.includes(pattern.id)}
            onChoose={() => toggle(pattern.id)}
            onMove={(by) => {
              const other = shelfOf(song)[index + by];
              const to = other ? song.patterns.indexOf(other) : index + by;
              edit({ type: 'move pattern', id: pattern.id, to });
            }}
          />
        ))}
      </Box>
      <Box
        sx={{
          p: 1.25,
          borderTop: '1px solid var(--line)',
          display: 'grid',
          gridTemplateColumns: 'auto auto auto',
          gap: 0.75,
        }}
      >
        <Tooltip title="one after another, in the order they were chosen, as a new pattern">
          <span>
            <Button fullWidth disabled={there.length < 2} onClick={() => joinChosen(there)}>
              chain {there.length > 1 ? there.length : ''}
            </Button>
          </span>
        </Tooltip>
        <Tooltip title="one over the other, as the tracks of one kit: patterns of one length, or files that hold a track each">
          <span>
            <Button fullWidth disabled={there.length < 2} onClick={() => layTogether(there)}>
              merge
            </Button>
          </span>
        </Tooltip>
        <Tooltip title="puts back what a chained pattern was made of">
          <span>
            <Button
              fullWidth
              disabled={!song.patterns.some(({ id, joined }) => joined && there.includes(id))}
              onClick={() => there.forEach(takeApart)}
            >
              take apart
            </Button>
          </span>
        </Tooltip>
      </Box>
    </Box>
  );
}

function Kept(props: {
  pattern: Pattern;
  uses: number;
  chosen: boolean;
  onChoose: () => void;
  onMove: (by: number) => void;
}) {
  const { pattern, uses, chosen, onChoose, onMove } = props;
  const { id, name, dye, notes = '', stars, tags = [] } = pattern;
  const [spot, setSpot] = useState<ShelfSpot>();
  const { setNodeRef } = useDroppable({ id, data: { target: shelfTarget(id, setSpot) } });
  const { setNodeRef: setDragRef, listeners } = useDraggable({
    id,
    data: { carry: () => carryPattern(pattern) },
  });
  const bars = barsOf(pattern);
  return (
    <Box
      component="li"
      data-pattern={id}
      ref={(element: HTMLElement | null) => {
        setNodeRef(element);
        setDragRef(element);
      }}
      {...gripOf(listeners)}
      sx={{
        display: 'grid',
        gridTemplateColumns: '28px 28px minmax(0, 1fr) auto',
        alignItems: 'center',
        gap: 0.75,
        p: 0.5,
        borderBottom: '1px solid var(--fine-line)',
        ...spotSx(spot),
      }}
    >
      <Checkbox
        size="small"
        checked={chosen}
        onChange={onChoose}
        sx={{ p: 0.25 }}
        slotProps={{ input: { 'aria-label': `choose ${name}` } }}
      />
      <DyeSwatch dye={dye} size={26} />
      <Box sx={{ minWidth: 0 }}>
        <Box
          component="button"
          type="button"
          title={`open “${name}” in Shape`}
          onClick={() => {
            showPattern(id);
            goToStage('shape');
          }}
          sx={{
            p: 0,
            border: 0,
            background: 'none',
            color: 'inherit',
            font: 'inherit',
            fontWeight: 600,
            textAlign: 'left',
            cursor: 'pointer',
            overflowWrap: 'anywhere',
          }}
        >
          {name}
        </Box>
        <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
          {saidBars(bars)} · {uses === 0 ? 'unused' : `used ${uses}×`}
          {stars ? ` · ${'★'.repeat(stars)}` : ''}
          {pattern.joined ? ` · chained of ${pattern.joined.length}` : ''}
        </Box>
        {chosen && (
          <Box sx={{ display: 'grid', gap: 0.75, my: 0.75, justifyItems: 'stretch' }}>
            <Button size="small" onClick={() => askToPut(id)}>
              put it into the library …
            </Button>
            <Words
              label="note"
              value={notes}
              onKeep={(text) => edit({ type: 'remark pattern', id, notes: text })}
            />
            <Words
              label="tags, with commas"
              value={tags.join(', ')}
              onKeep={(text) =>
                edit({
                  type: 'remark pattern',
                  id,
                  tags: text
                    .split(',')
                    .map((tag) => tag.trim())
                    .filter(Boolean),
                })
              }
            />
          </Box>
        )}
        {!chosen && (notes || tags.length > 0) && (
          <Box sx={{ fontSize: 12, overflowWrap: 'anywhere' }}>
            {[notes, ...tags.map((tag) => `#${tag}`)].filter(Boolean).join(' ')}
          </Box>
        )}
      </Box>
      <Box sx={{ display: 'flex', flexDirection: 'column' }}>
        <Small name={`move ${name} up`} run={() => onMove(-1)}>
          <ArrowUpwardIcon sx={{ fontSize: 15 }} />
        </Small>
        <Small name={`move ${name} down`} run={() => onMove(1)}>
          <ArrowDownwardIcon sx={{ fontSize: 15 }} />
        </Small>
        <Small name={`put ${name} among the offcuts`} run={() => askToSetAside(id)}>
          <CloseIcon sx={{ fontSize: 15 }} />
        </Small>
      </Box>
    </Box>
  );
}

function Small({
  name,
  run,
  children,
}: {
  name: string;
  run: () => void;
  children: React.ReactNode;
}) {
  return (
    <Tooltip title={name} placement="left">
      <IconButton size="small" aria-label={name} onClick={run} sx={{ p: 0.25 }}>
        {children}
      </IconButton>
    </Tooltip>
  );
}

function Words(props: { label: string; value: string; onKeep: (text: string) => void }) {
  const { label, value, onKeep } = props;
  const { field } = useDraft(value, onKeep);
  return <TextField label={label} {...field} slotProps={{ htmlInput: { autoComplete: 'off' } }} />;
}
