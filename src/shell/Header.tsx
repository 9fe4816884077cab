'use client';

import MoreHorizIcon from '@mui/icons-material/MoreHoriz';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { meterName } from '@/core/time';
import { barOfSong } from '@/core/weave';
import { nextSteps } from '@/core/commands';
import { EditableText } from '@/look/EditableText';
import { findAct, keyOf, keysOf } from '@/state/acts';
import { openDialog } from '@/state/dialogs/dialogs';
import { edit, redo, undo } from '@/state/session/edit';
import { songPath } from '@/state/addresses';
import { STAGES, useWorkbench, type Stage } from '@/state/store';
import { Logo } from './Logo';
import { PageLink } from './PageLink';
import { SchemeButton } from './SchemeButton';
import { TempoField } from './TempoField';

/** Name of the song, the five stages, undo, and the way to every command. */
export function Header() {
  return (
    <Box
      component="header"
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) auto minmax(0, 1fr)',
        alignItems: 'center',
        gap: 2,
        height: 52,
        px: 2.5,
        bgcolor: 'var(--paper)',
        borderBottom: '1px solid var(--line)',
      }}
    >
      <SongTitle />
      <Stages />
      <Tools />
      <Settled />
    </Box>
  );
}

/** How many changes were made to the song since it was opened, and up to which it is stored. */
function Settled() {
  const edits = useWorkbench((state) => state.edits);
  const kept = useWorkbench((state) => state.kept);
  return <span hidden data-edits={edits} data-kept={kept} />;
}

function SongTitle() {
  const name = useWorkbench((state) => state.history!.song.name);
  const meter = useWorkbench(({ history }) => {
    const { song } = history!;
    return song.places.length > 0 ? meterName(barOfSong(song, 0).meter) : '';
  });
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.25, minWidth: 0 }}>
      <Tooltip title={`songs (${keyOf('go-songs')})`}>
        <PageLink href="/" aria-label="go to the songs" style={{ display: 'flex' }}>
          <Logo />
        </PageLink>
      </Tooltip>
      <EditableText
        value={name}
        label="name of the song"
        onChange={(name) => edit({ type: 'rename song', name })}
        sx={{ fontSize: 16, fontWeight: 600, minWidth: 60 }}
      />
      <Box
        sx={{
          display: 'flex',
          alignItems: 'center',
          color: 'text.secondary',
          fontSize: 12,
          flex: 'none',
        }}
      >
        <TempoField />
        {meter && <span className="figures">&nbsp;· {meter}</span>}
        <span>&nbsp;·&nbsp;</span>
        <SavingState />
      </Box>
    </Box>
  );
}

function SavingState() {
  const saving = useWorkbench((state) => state.saving);
  const readOnly = useWorkbench((state) => state.readOnly);
  const words = { saved: 'saved', waiting: 'saving', failed: 'not saved' };
  const text = readOnly ? 'read only' : words[saving.state];
  return (
    <Box
      component="span"
      data-saving={saving.state}
      sx={saving.state === 'failed' ? { color: 'var(--accent)', fontWeight: 600 } : {}}
    >
      {text}
    </Box>
  );
}

function Stages() {
  const current = useWorkbench((state) => state.stage);
  const songId = useWorkbench((state) => state.songId)!;
  return (
    <Box component="nav" aria-label="stages" sx={{ display: 'flex', height: 52 }}>
      {STAGES.map((stage) => (
        <StageLink key={stage} stage={stage} songId={songId} current={stage === current} />
      ))}
    </Box>
  );
}

function StageLink({ stage, songId, current }: { stage: Stage; songId: string; current: boolean }) {
  return (
    <Tooltip title={keyOf(`go-${stage}`)}>
      <Box
        component={PageLink}
        href={songPath(songId, stage)}
        aria-current={current ? 'page' : undefined}
        sx={{
          display: 'flex',
          alignItems: 'center',
          px: 2,
          textDecoration: 'none',
          textTransform: 'capitalize',
          color: current ? 'text.primary' : 'text.secondary',
          fontWeight: current ? 650 : 450,
          borderBottom: '3px solid',
          borderColor: current ? 'var(--accent)' : 'transparent',
          pt: '3px',
          '&:hover': { color: 'text.primary' },
        }}
      >
        {stage}
      </Box>
    </Tooltip>
  );
}

function Tools() {
  const next = useWorkbench(useShallow((state) => nextSteps(state.history!)));
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', justifyContent: 'flex-end', gap: 0.5 }}>
      <Tooltip title={next.undo ? `undo: ${next.undo} (${keyOf('undo')})` : 'nothing to undo'}>
        <span>
          <Button variant="text" disabled={!next.undo} onClick={undo} sx={{ px: 1 }}>
            undo
          </Button>
        </span>
      </Tooltip>
      <Tooltip title={next.redo ? `redo: ${next.redo} (${keyOf('redo')})` : 'nothing to redo'}>
        <span>
          <Button variant="text" disabled={!next.redo} onClick={redo} sx={{ px: 1 }}>
            redo
          </Button>
        </span>
      </Tooltip>
      <Button onClick={() => openDialog('palette')} sx={{ ml: 0.5, gap: 1 }}>
        commands
        <Box component="span" className="figures" sx={{ color: 'text.secondary', fontSize: 12 }}>
          {keyOf('palette')}
        </Box>
      </Button>
      <SchemeButton />
      <MoreMenu />
    </Box>
  );
}

const MENU = [
  ...['go-songs', 'new-song', 'import', 'save-file', 'export', 'guides'],
  ...['make-point', 'save-points', 'history', 'keys', 'demo'],
];

function MoreMenu() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Tooltip title="songs, files, keys">
        <IconButton
          size="small"
          aria-label="songs, files, keys"
          onClick={(e) => setAnchor(e.currentTarget)}
        >
          <MoreHorizIcon fontSize="small" />
        </IconButton>
      </Tooltip>
      <Menu open={!!anchor} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {MENU.flatMap((id) => {
          const act = findAct(id)!;
          const item = (
            <MenuItem
              key={id}
              onClick={() => {
                setAnchor(null);
                act.run();
              }}
              sx={{ gap: 3 }}
            >
              <Box sx={{ flex: 1 }}>{act.name}</Box>
              <Box className="figures" sx={{ color: 'text.secondary', fontSize: 12 }}>
                {keysOf(act)}
              </Box>
            </MenuItem>
          );
          return id === 'keys' ? [<Divider key="line" />, item] : [item];
        })}
      </Menu>
    </>
  );
}
