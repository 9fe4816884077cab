'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Tooltip from '@mui/material/Tooltip';
import { useEffect, useMemo, useRef, useState } from 'react';
import { laidPlaces, placeName, positionAt } from '@/core/weave';
import { cutName } from '@/look/cutName';
import { keyOf } from '@/state/acts';
import { openDialog } from '@/state/dialogs/dialogs';
import { toggleInPlace, nextWait, useGather } from '@/state/gather/gather';
import * as reading from '@/state/gather/reading';
import { useReading } from '@/state/gather/reading';
import { useWorkbench } from '@/state/store';
import { auditionRegion } from '@/state/transport/transport';

/** How candidates are heard, and the way for files of one's own. */
export function GatherBar() {
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 1.5,
        height: 54,
        px: 2,
        bgcolor: 'var(--panel)',
        borderBottom: '1px solid var(--line)',
      }}
    >
      <Hearing />
      <Box sx={{ flex: 1 }} />
      <OwnFiles />
      <Tooltip title={keyOf('guides')}>
        <Button onClick={() => openDialog('guides')}>reference parts</Button>
      </Tooltip>
    </Box>
  );
}

const WAITS = { bar: 'the next bar', beat: 'the next beat', none: 'nothing' } as const;

function Hearing() {
  const hear = useWorkbench((state) => state.hear);
  const song = useWorkbench((state) => state.history!.song);
  const loop = useWorkbench((state) => state.songLoop);
  const placeId = useWorkbench((state) => state.placeId);
  const wait = useGather((state) => state.wait);
  const where = useMemo(() => {
    const region = auditionRegion(useWorkbench.getState());
    if (!region) return undefined;
    const laid = laidPlaces(song).findLast(({ start }) => start <= region.from);
    const [first, last] = [region.from, region.to - 1].map((tick) => positionAt(song, tick).bar);
    return `${laid ? placeName(song, laid) : 'the song'}, bars ${first} to ${last}`;
    // What the region is computed from.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [song, loop, placeId]);
  return (
    <>
      <Tooltip title={keyOf('in-place')}>
        <ToggleButtonGroup
          exclusive
          value={hear}
          aria-label="how a groove is heard"
          onChange={(_, next) => next && toggleInPlace()}
        >
          <ToggleButton value="song" disabled={!where}>
            in place
          </ToggleButton>
          <ToggleButton value="pattern">alone</ToggleButton>
        </ToggleButtonGroup>
      </Tooltip>
      <Box sx={{ fontSize: 12, color: 'text.secondary', ...cutName('34vw') }}>
        {hear === 'song' && where
          ? `in place of the drums of ${where}`
          : 'by itself, at the tempo of the song'}
        <br />
        {hear === 'song' && where && 'drag on the ribbon below to try it elsewhere'}
      </Box>
      <Tooltip title={keyOf('wait')}>
        <Button variant="text" onClick={nextWait} sx={{ whiteSpace: 'nowrap' }}>
          the next one waits for {WAITS[wait]}
        </Button>
      </Tooltip>
    </>
  );
}

function OwnFiles() {
  const unfinished = useReading((state) => state.unfinished);
  const own = useGather((state) => state.grooves.some(({ id }) => id.startsWith('own/')));
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const loose = useRef<HTMLInputElement>(null);
  useEffect(() => void reading.findUnfinished(), []);
  const then = (run: () => void) => () => {
    setAnchor(null);
    run();
  };
  const chooseLoose = () => {
    setAnchor(null);
    loose.current?.click();
  };
  return (
    <>
      {unfinished && (
        <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center', fontSize: 12 }}>
          “{unfinished.name}” was not read to its end.
          <Button size="small" onClick={() => void reading.goOnReading()}>
            go on
          </Button>
          <Button size="small" variant="text" onClick={() => void reading.dismissUnfinished()}>
            cancel
          </Button>
        </Box>
      )}
      <Button aria-haspopup="menu" onClick={(event) => setAnchor(event.currentTarget)}>
        add your files
      </Button>
      <Menu open={!!anchor} anchorEl={anchor} onClose={() => setAnchor(null)}>
        <MenuItem onClick={then(() => void reading.chooseFolder())}>a folder …</MenuItem>
        <MenuItem onClick={chooseLoose}>files or a zip …</MenuItem>
        {own && (
          <MenuItem onClick={then(() => void reading.forgetOwn())}>
            take your files out of the library
          </MenuItem>
        )}
      </Menu>
      <input
        ref={loose}
        type="file"
        hidden
        multiple
        accept=".mid,.midi,.smf,.rmi,.kar,.tab,.txt,.zip"
        aria-label="add files or a zip"
        onChange={(event) => takeFiles(event.target)}
      />
    </>
  );
}

function takeFiles(field: HTMLInputElement): void {
  const files = [...(field.files ?? [])];
  field.value = '';
  void reading.readLoose(files);
}
