'use client';

import AddIcon from '@mui/icons-material/Add';
import RemoveIcon from '@mui/icons-material/Remove';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { memo, type ReactNode } from 'react';
import type { Pattern } from '@/core';
import { mixOf } from '@/core/tracks';
import { spokenSelection, type Selected } from '@/core/pattern';
import { keyOf } from '@/state/acts';
import { togglePads } from '@/state/shape/pads';
import { togglePasteMode } from '@/state/shape/clips';
import { changePaintEvery } from '@/state/shape/shape';
import { kitOf, onlyTrackOf, useWorkbench, viewOf } from '@/state/store';
import { hearAllRows, showAllRows, toggleFollow, zoomTime, zoomToFit } from '@/state/shape/view';
import { AddStrand } from './AddStrand';

interface FootProps {
  pattern: Pattern;
  selected?: Selected;
}

/** What the pointer does; the third is left out where there is little room. */
const HINTS = [
  'press to place',
  'drag to paint',
  'Ctrl drag draws a line',
  'Shift drag selects',
  'right drag erases',
];

/** What is selected, what the pointer does, and how the sheet is shown. */
export const Foot = memo(function Foot({ pattern, selected }: FootProps) {
  const every = useWorkbench((state) => state.paintEvery);
  const follow = useWorkbench((state) => state.follow);
  const pads = useWorkbench((state) => state.pads.open);
  const pasteMode = useWorkbench((state) => state.pasteMode);
  const kit = useWorkbench(kitOf);
  const clip = useWorkbench((state) => state.clip !== undefined);
  const quiet = useWorkbench(
    (state) =>
      state.muted.length + state.soloed.length > 0 ||
      mixOf(state.history!.song).strips.some(({ mute, solo }) => mute || solo),
  );
  const only = useWorkbench((state) => onlyTrackOf(state)?.name);
  const hidden = useWorkbench((state) => viewOf(state, pattern).hidden?.length ?? 0);
  const empty = pattern.strands.every((strand) => strand.hits.length === 0);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, height: 40, px: 1.5, minWidth: 0 }}>
      <AddStrand pattern={pattern} />
      <Box
        role="status"
        sx={{
          flex: 1,
          fontSize: 12,
          color: 'text.secondary',
          overflow: 'hidden',
          textOverflow: 'ellipsis',
          whiteSpace: 'nowrap',
        }}
      >
        {selected
          ? spokenSelection(pattern, selected, kit)
          : empty
            ? 'Press in a row to place a hit: the higher you press, the louder it is. Drag on to paint a run.'
            : HINTS.map((hint, i) => (
                <Box
                  key={hint}
                  component="span"
                  sx={{ display: { xs: i === 2 ? 'none' : 'inline', lg: 'inline' } }}
                >
                  {i > 0 && ' · '}
                  {hint}
                </Box>
              ))}
        {hidden > 0 && ` · ${hidden} ${hidden === 1 ? 'row' : 'rows'} hidden`}
      </Box>
      {quiet && (
        <Word on name="some rows are silent" action="hear-everything" onPress={hearAllRows}>
          hear all
        </Word>
      )}
      {only !== undefined && (
        <Word on name="show all tracks again" action="only-track" onPress={showAllRows}>
          only {only}
        </Word>
      )}
      {every > 1 && (
        <Word
          on
          name={`paints every ${every}. step`}
          action="paint-less"
          onPress={() => changePaintEvery(-1)}
        >
          every {every}. step
        </Word>
      )}
      {clip && (
        <Word
          on={pasteMode === 'replace'}
          name={
            pasteMode === 'replace'
              ? 'pasting replaces what lies in its time'
              : 'pasting adds to what is there'
          }
          action="paste-mode"
          onPress={togglePasteMode}
        >
          paste {pasteMode === 'replace' ? 'replaces' : 'adds'}
        </Word>
      )}
      <Word on={pads} name="pads to play on" action="pads" onPress={togglePads}>
        pads
      </Word>
      <Word on={follow} name="follow the playhead" action="follow" onPress={toggleFollow}>
        follow
      </Word>
      <Icon name="zoom time out" action="zoom-out" onPress={() => zoomTime(0.8)}>
        <RemoveIcon fontSize="small" />
      </Icon>
      <Word on={false} name="fit the pattern" action="zoom-fit" onPress={zoomToFit}>
        fit
      </Word>
      <Icon name="zoom time in" action="zoom-in" onPress={() => zoomTime(1.25)}>
        <AddIcon fontSize="small" />
      </Icon>
    </Box>
  );
});

interface Press {
  name: string;
  action: string;
  onPress: () => void;
  children: ReactNode;
}

function Word({ on, name, action, onPress, children }: Press & { on: boolean }) {
  return (
    <Tooltip title={`${name} (${keyOf(action)})`}>
      <ButtonBase
        aria-pressed={on}
        onClick={onPress}
        sx={{
          px: 0.5,
          fontSize: 12,
          lineHeight: '20px',
          whiteSpace: 'nowrap',
          fontFamily: 'var(--sans)',
          color: on ? 'text.primary' : 'text.secondary',
          fontWeight: on ? 650 : 450,
          borderBottom: '2px solid',
          borderColor: on ? 'var(--accent)' : 'transparent',
        }}
      >
        {children}
      </ButtonBase>
    </Tooltip>
  );
}

function Icon({ name, action, onPress, children }: Press) {
  return (
    <Tooltip title={`${name} (${keyOf(action)})`}>
      <IconButton size="small" aria-label={name} onClick={onPress}>
        {children}
      </IconButton>
    </Tooltip>
  );
}
