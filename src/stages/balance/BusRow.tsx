'use client';

import Box from '@mui/material/Box';
import { useRef } from 'react';
import { decibelsOf, mixOf } from '@/core/tracks';
import { ChoiceField } from '@/look/ChoiceField';
import { Dial } from './Dial';
import { useEveryFrame } from '@/look/useEveryFrame';
import * as balance from '@/state/balance/balance';
import { useWorkbench } from '@/state/store';
import { peakNow } from '@/state/transport/transport';

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
  const song = useWorkbench((state) => state.history!.song);
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
      <Box>
        <Box sx={{ fontWeight: 600, whiteSpace: 'nowrap' }}>All drums</Box>
        <Peak />
      </Box>
      {room && (
        <>
          <Dial
            label="room rings"
            value={room.ring ?? 0.42}
            min={0.1}
            max={3}
            step={0.02}
            says={(ring) => `${ring.toFixed(2)} s`}
            onSlide={(ring) => balance.slideBus(room.id, { ring })}
          />
          <Dial
            label="room level"
            value={room.level}
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

/** The loudest moment of the last two seconds. */
function Peak() {
  const text = useRef<HTMLSpanElement>(null);
  const state = useRef({ top: 0, since: 0 });
  useEveryFrame(() => {
    const now = performance.now();
    const one = state.current;
    const peak = peakNow();
    if (peak >= one.top || now - one.since > 2000) {
      one.top = peak;
      one.since = now;
    }
    const said = one.top > 0.002 ? `peak ${decibelsOf(one.top).toFixed(1)} dB` : 'silent';
    if (text.current && text.current.textContent !== said)
      text.current.textContent = said.replace('-', '−');
  });
  return (
    <Box
      ref={text}
      component="span"
      className="figures"
      sx={{ fontSize: 12, color: 'text.secondary', display: 'inline-block', width: 88 }}
    />
  );
}
