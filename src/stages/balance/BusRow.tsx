'use client';

import Box from '@mui/material/Box';
import ButtonBase from '@mui/material/ButtonBase';
import { useRef } from 'react';
import { decibelsOf, mixOf } from '@/core/tracks';
import { ChoiceField } from '@/look/ChoiceField';
import { IN_PERCENT } from '@/look/TypedValue';
import { Dial } from './Dial';
import { useEveryFrame } from '@/look/useEveryFrame';
import { keyOf } from '@/state/acts';
import * as balance from '@/state/balance/balance';
import { mixShown } from '@/state/balance/compared';
import { ALL_DRUMS } from '@/state/balance/slice';
import { useWorkbench } from '@/state/store';
import { masterReading } from '@/state/transport/transport';

/** Times of an echo, in beats. */
const TIMES = [
  ['0.25', 'sixteenths'],
  ['0.3333333333333333', 'eighth triplets'],
  ['0.5', 'eighths'],
  ['0.75', 'dotted eighths'],
  ['1', 'quarters'],
  ['1.5', 'dotted quarters'],
] as const;

/** What all tracks share: the room, the echo, and how loud it is in all. */
export function BusRow() {
  const song = useWorkbench(mixShown);
  const chosen = useWorkbench(({ trackId }) => trackId === ALL_DRUMS);
  const { buses } = mixOf(song);
  const room = buses.find(({ kind }) => kind === 'room');
  const echo = buses.find(({ kind }) => kind === 'echo');
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        columnGap: { xs: 1.75, lg: 3 },
        px: 1,
        pt: 1,
        borderTop: '1px solid var(--line)',
      }}
    >
      <ButtonBase
        aria-current={chosen}
        title={`drum bus (${keyOf('all-drums')})`}
        onClick={balance.chooseDrums}
        sx={{
          display: 'block',
          textAlign: 'left',
          font: 'inherit',
          px: 1,
          py: 0.5,
          bgcolor: chosen ? 'var(--paper)' : 'var(--panel)',
          outline: chosen ? '2px solid var(--accent)' : 'none',
          outlineOffset: '-2px',
        }}
      >
        <Box sx={{ fontWeight: 600, whiteSpace: 'nowrap' }}>Drum bus</Box>
        <Loudness />
      </ButtonBase>
      {room && (
        <>
          <Dial
            label="reverb time"
            value={room.ring ?? 0.42}
            usual={0.42}
            min={0.1}
            max={3}
            step={0.02}
            says={(ring) => `${ring.toFixed(2)} s`}
            onSlide={(ring) => balance.slideBus(room.id, { ring })}
          />
          <Dial
            label="room level"
            value={room.level}
            usual={1}
            typed={IN_PERCENT}
            min={0}
            max={2}
            step={0.05}
            says={(level) => `${Math.round(level * 100)} %`}
            onSlide={(level) => balance.slideBus(room.id, { level })}
          />
        </>
      )}
      {echo && (
        <ChoiceField
          label="echo in"
          value={String(echo.beats ?? 0.75)}
          options={TIMES}
          width={138}
          onChange={(beats) => {
            balance.slideBus(echo.id, { beats: Number(beats) });
            balance.slideDone();
          }}
        />
      )}
    </Box>
  );
}

const said = (value: number) => value.toFixed(1).replace('-', '−');

/** How loud all drums are: now, over all that was played since play was pressed, and at their loudest. */
function Loudness() {
  const text = useRef<HTMLSpanElement>(null);
  useEveryFrame(() => {
    const reading = masterReading();
    const { integrated = -Infinity, shortTerm = -Infinity, peak = 0 } = reading ?? {};
    const words =
      peak < 0.001
        ? 'press play to measure'
        : `${said(Math.max(-99, shortTerm))} now, ${said(Math.max(-99, integrated))} LUFS in all, peak ${said(decibelsOf(peak))} dB`;
    if (text.current && text.current.textContent !== words) text.current.textContent = words;
  });
  return (
    <Box
      ref={text}
      component="span"
      data-loudness-of-all
      className="figures"
      sx={{
        fontSize: 12,
        color: 'text.secondary',
        display: 'inline-block',
        width: { xs: 150, lg: 270 },
      }}
    />
  );
}
