'use client';

import PlayArrowIcon from '@mui/icons-material/PlayArrow';
import StopIcon from '@mui/icons-material/Stop';
import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import IconButton from '@mui/material/IconButton';
import InputBase from '@mui/material/InputBase';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Tooltip from '@mui/material/Tooltip';
import { useRef, useState } from 'react';
import { positionAt } from '@/core/weave';
import { useDraft } from '@/look/useDraft';
import { useEveryFrame } from '@/look/useEveryFrame';
import { keyOf } from '@/state/acts';
import { notify } from '@/state/notices/notices';
import { shownPattern, useWorkbench, type Workbench } from '@/state/store';
import { goalsOf } from '@/state/transport/goingTo';
import {
  heardLoop,
  heardSong,
  peakNow,
  playhead,
  playOrStop,
  setHear,
  toggleClick,
  toggleCountIn,
} from '@/state/transport/transport';

/** Dropouts, where there were any: what to do against them is outside of the page. */
const saidDropouts = (count: number) =>
  count === 0
    ? ''
    : `. ${count === 1 ? 'One dropout' : `${count} dropouts`} since this page was opened: close other programs and tabs`;

/** Play and stop, where the music is, how loud it is, and how playing goes. */
export function Transport() {
  const playing = useWorkbench((state) => state.playing);
  const audio = useWorkbench((state) => state.audio);
  const dropouts = useWorkbench((state) => state.dropouts);
  const hear = useWorkbench((state) => state.hear);
  const click = useWorkbench((state) => state.click);
  const countIn = useWorkbench((state) => state.countIn);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, flex: 'none' }}>
      <Tooltip title={`${playing ? 'stop' : 'play'} (${keyOf('play')})${saidDropouts(dropouts)}`}>
        <IconButton
          onClick={playOrStop}
          aria-label={playing ? 'stop' : 'play'}
          sx={{
            width: 44,
            height: 44,
            bgcolor: 'var(--ink)',
            color: 'var(--paper)',
            '&:hover': { bgcolor: 'var(--ink)', opacity: 0.88 },
          }}
        >
          {playing ? <StopIcon /> : <PlayArrowIcon sx={{ fontSize: 28 }} />}
        </IconButton>
      </Tooltip>
      <Box sx={{ width: 104 }}>
        <Position />
        <LoopText />
        <Meter />
      </Box>
      <Box sx={{ display: 'grid', gap: 0.25, justifyItems: 'start' }}>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={hear}
          aria-label="what is heard"
          onChange={(_, value: Workbench['hear'] | null) => value && setHear(value)}
          sx={{ '& button': { py: 0, px: 0.75, fontSize: 12 } }}
        >
          <ToggleButton value="pattern">pattern</ToggleButton>
          <ToggleButton value="song">song</ToggleButton>
        </ToggleButtonGroup>
        <Box sx={{ display: 'flex', gap: 1 }}>
          <Switch on={click} label="click" action="click" onPress={toggleClick} />
          <Switch on={countIn} label="count-in" action="count-in" onPress={toggleCountIn} />
        </Box>
        {audio === 'starting' && <Box sx={{ fontSize: 12, color: 'text.secondary' }}>tuning …</Box>}
      </Box>
    </Box>
  );
}

function Switch(props: { on: boolean; label: string; action: string; onPress: () => void }) {
  const { on, label, action, onPress } = props;
  return (
    <Tooltip title={`${label} ${on ? 'is on' : 'is off'} (${keyOf(action)})`}>
      <ButtonBase
        aria-pressed={on}
        onClick={onPress}
        sx={{
          fontSize: 12,
          lineHeight: '20px',
          color: on ? 'text.primary' : 'text.secondary',
          fontWeight: on ? 650 : 450,
          borderBottom: '2px solid',
          borderColor: on ? 'var(--accent)' : 'transparent',
          fontFamily: 'var(--sans)',
        }}
      >
        {label}
      </ButtonBase>
    </Tooltip>
  );
}

/** Bar, beat and hundredths of a beat. Pressed, it takes where to go: a bar, a beat of it, or a section. */
function Position() {
  const [open, setOpen] = useState(false);
  const go = (words: string) => {
    const [goal] = goalsOf(words);
    if (goal) goal.go();
    else notify(`There is no “${words}” to go to. Type a bar, as 25 or 25.3, or a section.`);
  };
  const { field } = useDraft('', go, () => setOpen(false));
  if (open) {
    return (
      <InputBase
        autoFocus
        {...field}
        placeholder="bar or section"
        onBlur={() => {
          field.onBlur();
          setOpen(false);
        }}
        inputProps={{ 'aria-label': 'where to go' }}
        sx={{
          fontSize: 14,
          height: 24,
          '& input': { p: 0 },
          borderBottom: '1px solid var(--accent)',
        }}
      />
    );
  }
  return (
    <Box sx={{ position: 'relative' }}>
      <Running />
      <Tooltip title={`go to a bar or a section (${keyOf('position')})`}>
        <ButtonBase
          aria-label="go to a bar or a section"
          onClick={() => setOpen(true)}
          sx={{ position: 'absolute', inset: 0 }}
        />
      </Tooltip>
    </Box>
  );
}

/** Where it is now, written straight to the page every frame. */
function Running() {
  const text = useRef<HTMLDivElement>(null);
  useEveryFrame(() => {
    const state = useWorkbench.getState();
    const song = heardSong(state);
    if (!song || !text.current) return;
    // Passes of a pattern are not bars of their own.
    const length = state.hear === 'pattern' ? shownPattern(state)?.length : undefined;
    const tick = playhead();
    const { bar, beat, ticks } = positionAt(song, length && tick > 0 ? tick % length : tick);
    const part = String(Math.floor((ticks / 960) * 100)).padStart(2, '0');
    const next = `${bar} · ${beat} · ${part}`;
    if (text.current.textContent !== next) text.current.textContent = next;
  });
  return (
    <Box
      ref={text}
      className="figures"
      role="timer"
      aria-label="bar, beat, hundredths"
      sx={{ fontSize: 20, fontWeight: 600, lineHeight: '24px', whiteSpace: 'nowrap' }}
    />
  );
}

function LoopText() {
  const text = useWorkbench((state) => {
    const song = heardSong(state);
    const loop = heardLoop(state);
    const pattern = state.hear === 'pattern' ? shownPattern(state) : undefined;
    if (!song || !loop) return pattern ? 'pattern, no loop' : 'song, no loop';
    const passes = pattern ? Math.round(loop.to / pattern.length) : 1;
    if (passes > 1) return `pattern, ${passes} times`;
    const first = positionAt(song, loop.from).bar;
    const last = positionAt(song, loop.to - 1).bar;
    const bars = first === last ? `bar ${first}` : `${first} to ${last}`;
    return `${pattern ? 'pattern' : 'song'}, loop ${bars}`;
  });
  return (
    <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary', lineHeight: '16px' }}>
      {text}
    </Box>
  );
}

/** How loud the engine is: 60 dB from left to right. */
function Meter() {
  const bar = useRef<HTMLDivElement>(null);
  const shown = useRef(0);
  useEveryFrame(() => {
    const peak = peakNow();
    const share = peak > 0.001 ? 1 + Math.log10(peak) / 3 : 0;
    shown.current = Math.max(share, shown.current - 0.03);
    if (!bar.current) return;
    bar.current.style.transform = `scaleX(${Math.max(0, Math.min(1, shown.current)).toFixed(3)})`;
    bar.current.dataset.peak = peak.toFixed(3);
  });
  return (
    <Box aria-hidden sx={{ height: 3, mt: 0.5, bgcolor: 'var(--fine-line)', overflow: 'hidden' }}>
      <Box
        ref={bar}
        data-meter
        sx={{ height: 1, bgcolor: 'var(--ink)', transformOrigin: 'left', transform: 'scaleX(0)' }}
      />
    </Box>
  );
}
