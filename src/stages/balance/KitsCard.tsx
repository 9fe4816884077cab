'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { idOfKit } from '@/core/tracks';
import { EditableText } from '@/look/EditableText';
import { keyOf } from '@/state/acts';
import * as kits from '@/state/balance/kits';
import { cancelGesture, songBefore } from '@/state/session/edit';
import { useWorkbench } from '@/state/store';
import { Card } from './Card';

/** The kits: each is heard with the song before it is taken. */
export function KitsCard() {
  const offered = kits.useKits();
  const now = useWorkbench((state) => idOfKit(songBefore(state)!.kit));
  const heard = useWorkbench((state) => idOfKit(state.history!.song.kit));
  const [name, setName] = useState('');
  const list = useRef<HTMLUListElement>(null);
  useEffect(() => list.current?.focus(), []);
  const at = offered.findIndex((one) => one.id === heard);
  const chosen = offered[at];
  const onKey = (event: KeyboardEvent) => {
    const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    if (by !== undefined) {
      const next = offered[Math.max(0, Math.min(offered.length - 1, at + by))];
      if (next) kits.hearKit(next);
    } else if (event.key === 'Enter' && chosen) kits.takeKit(chosen);
    else if (event.key === 'Escape') kits.toggleKits();
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <Card label="kits">
      <Box sx={{ display: 'flex', alignItems: 'center' }}>
        <Box sx={{ fontSize: 16, fontWeight: 600, flex: 1 }}>Kits</Box>
        <Button onClick={kits.toggleKits} title={`back to the track (${keyOf('kits')})`}>
          close
        </Button>
      </Box>
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
        Press one, or go through them with the arrow keys, while the song plays. It is heard at once
        and taken with Enter.
      </Box>
      <Box
        ref={list}
        component="ul"
        role="listbox"
        aria-label="kits"
        aria-activedescendant={chosen && `kit-${chosen.id}`}
        tabIndex={0}
        onKeyDown={onKey}
        sx={{ m: 0, p: 0, listStyle: 'none', bgcolor: 'var(--paper)' }}
      >
        {offered.map((one) => (
          <Box
            key={one.id}
            id={`kit-${one.id}`}
            component="li"
            role="option"
            aria-selected={one === chosen}
            onClick={() => kits.hearKit(one)}
            onDoubleClick={() => kits.takeKit(one)}
            sx={{
              display: 'flex',
              gap: 1,
              px: 1.25,
              py: 0.75,
              cursor: 'pointer',
              borderBottom: '1px solid var(--line)',
              borderLeft: '3px solid',
              borderLeftColor: one === chosen ? 'var(--accent)' : 'transparent',
              fontWeight: one.id === now ? 650 : 450,
            }}
          >
            <Box sx={{ flex: 1, minWidth: 0, overflow: 'hidden', textOverflow: 'ellipsis' }}>
              {one.name}
            </Box>
            <Box sx={{ fontSize: 12, color: 'text.secondary', whiteSpace: 'nowrap' }}>
              {one.id === now ? 'the song’s' : one.kept ? 'kept' : ''}
            </Box>
          </Box>
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 0.75 }}>
        <Button
          variant="contained"
          disabled={!chosen || heard === now}
          onClick={() => chosen && kits.takeKit(chosen)}
        >
          take it
        </Button>
        <Button disabled={heard === now} onClick={cancelGesture}>
          as it was
        </Button>
      </Box>
      {chosen?.kept && (
        <Box sx={{ display: 'grid', gap: 0.75, borderTop: '1px solid var(--line)', pt: 1 }}>
          <EditableText
            value={chosen.name}
            label="name of the kept kit"
            onChange={(to) => void kits.renameKit(chosen.kept, to)}
          />
          <Box sx={{ display: 'flex', gap: 0.75 }}>
            <Button onClick={() => void kits.saveKitFile(chosen.kept.kit)}>save as a file</Button>
            <Button onClick={() => void kits.forgetKept(chosen.kept)}>forget</Button>
          </Box>
        </Box>
      )}
      <Box sx={{ display: 'grid', gap: 0.75, borderTop: '1px solid var(--line)', pt: 1.5 }}>
        <TextField
          size="small"
          label="keep this kit as"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => {
            event.stopPropagation();
            if (event.key === 'Enter') void kits.keepThisKit(name);
          }}
        />
        <Box sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap' }}>
          <Button disabled={!name.trim()} onClick={() => void kits.keepThisKit(name)}>
            keep
          </Button>
          <Button title={keyOf('save-kit')} onClick={() => void kits.saveKitFile()}>
            save as a file
          </Button>
          <Button title={keyOf('open-kit')} onClick={() => void kits.openKitFile()}>
            open a file
          </Button>
        </Box>
      </Box>
    </Card>
  );
}
