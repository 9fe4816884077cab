'use client';

import Box from '@mui/material/Box';
import { useRef } from 'react';
import { decibelsOf, LOUDEST, OFF, saidLevel } from '@/core/tracks';
import { Fader } from '@/look/Fader';
import { TypedValue } from '@/look/TypedValue';
import { useEveryFrame } from '@/look/useEveryFrame';
import { readingOfTrack } from '@/state/transport/transport';

/** Levels that are written over the tracks, in decibels. */
const MARKS = [-48, -36, -24, -12, -6, 0, 6];

/** The line on which levels are set, in decibels. */
export const LEVEL_LINE = { min: OFF, max: LOUDEST, step: 0.5 } as const;

/** Where a level stands on the scale, as a share of its width. */
const along = (decibels: number) =>
  (Math.max(OFF, Math.min(LOUDEST, decibels)) - OFF) / (LOUDEST - OFF);
const percent = (decibels: number) => `${(along(decibels) * 100).toFixed(2)}%`;

/** The scale of levels that all tracks share. */
export function Scale() {
  return (
    <Box sx={{ position: 'relative', height: 34 }}>
      level, dB
      {MARKS.map((mark) => (
        <Box
          key={mark}
          component="span"
          className="figures"
          sx={{ position: 'absolute', bottom: 0, transform: 'translateX(-50%)' }}
          style={{ left: percent(mark) }}
        >
          {mark === OFF ? 'off' : mark > 0 ? `+${mark}` : String(mark).replace('-', '−')}
        </Box>
      ))}
    </Box>
  );
}

interface LevelProps {
  label: string;
  /** A factor. */
  level: number;
  /** Which track of the desk its meter shows. */
  meter: number;
  /** It is not heard now. */
  silent: boolean;
  onSlide(decibels: number): void;
  onDone(): void;
  onCancel(): void;
}

/** A level that is set where its meter is read. */
export function Level({ label, level, meter, silent, onSlide, onDone, onCancel }: LevelProps) {
  const name = `level of ${label}`;
  const decibels = decibelsOf(level);
  return (
    <Box sx={{ position: 'relative', height: 40 }}>
      {MARKS.map((mark) => (
        <Box
          key={mark}
          sx={{
            position: 'absolute',
            top: 2,
            bottom: 2,
            width: '1px',
            bgcolor: mark === 0 ? 'var(--ink)' : 'var(--line)',
          }}
          style={{ left: percent(mark) }}
        />
      ))}
      <Box sx={{ position: 'absolute', top: -2, left: 0, right: 0 }}>
        <Fader
          name={name}
          value={decibels}
          {...LEVEL_LINE}
          usual={0}
          says={() => saidLevel(level)}
          onSlide={onSlide}
          onDone={onDone}
          onCancel={onCancel}
          shiftIsListed
          look={{
            sx: {
              color: silent ? 'var(--soft-ink)' : 'var(--ink)',
              '& .MuiSlider-rail': { opacity: 0 },
              '& .MuiSlider-track': { height: '2px', border: 0 },
              '& .MuiSlider-thumb': { width: 16, height: 12, borderRadius: '50%' },
            },
          }}
        />
      </Box>
      <Meter track={meter} silent={silent} />
      <Box
        component="span"
        className="figures"
        sx={{ position: 'absolute', top: 2, ml: 1.5, fontSize: 13 }}
        style={
          decibels > 0
            ? // Left of the thumb there is the line: the value stands under it.
              {
                right: `calc(${((1 - along(decibels)) * 100).toFixed(2)}% + 12px)`,
                marginLeft: 0,
                top: 15,
              }
            : { left: percent(decibels) }
        }
      >
        <TypedValue
          name={name}
          value={decibels}
          min={OFF}
          max={LOUDEST}
          says={() => saidLevel(level)}
          onType={(to) => {
            onSlide(to);
            onDone();
          }}
        />
      </Box>
    </Box>
  );
}

/** The loudest moment stays for this long, in ms. */
const HOLD = 1200;
/** How fast a bar falls, in decibels a second. */
const FALL = 36;

/** How loud a track is now: its peak, the loudest of the last second, and its loudness over three seconds. */
function Meter({ track, silent }: { track: number; silent: boolean }) {
  const bar = useRef<HTMLDivElement>(null);
  const mark = useRef<HTMLDivElement>(null);
  const loudness = useRef<HTMLDivElement>(null);
  const state = useRef({ shown: OFF, top: OFF, since: 0, at: 0 });
  useEveryFrame(() => {
    const now = performance.now();
    const one = state.current;
    const reading = readingOfTrack(track);
    const peak = decibelsOf(reading?.peak ?? 0);
    const loud = Math.max(OFF, reading?.loudness ?? OFF);
    const passed = Math.min(0.1, (now - one.at) / 1000);
    one.at = now;
    const shown = Math.max(peak, one.shown - FALL * passed);
    if (peak >= one.top || now - one.since > HOLD) {
      one.top = peak;
      one.since = now;
    }
    if (shown === one.shown && shown <= OFF && one.top <= OFF) return;
    one.shown = Math.max(OFF, shown);
    if (bar.current) bar.current.style.transform = `scaleX(${along(one.shown).toFixed(4)})`;
    if (loudness.current) {
      loudness.current.style.left = percent(loud);
      loudness.current.style.opacity = loud > OFF ? '1' : '0';
    }
    if (!mark.current) return;
    mark.current.style.left = percent(one.top);
    mark.current.style.opacity = one.top > OFF ? '1' : '0';
    mark.current.style.backgroundColor = one.top > -0.2 ? 'var(--accent)' : 'var(--ink)';
  });
  return (
    <>
      <Box
        ref={bar}
        data-meter
        sx={{
          position: 'absolute',
          left: 0,
          right: 0,
          bottom: 5,
          height: 6,
          transformOrigin: 'left',
          transform: 'scaleX(0)',
          bgcolor: 'var(--dye-0)',
          opacity: silent ? 0.35 : 0.8,
        }}
      />
      <Box
        ref={loudness}
        data-loudness
        sx={{
          position: 'absolute',
          bottom: 1,
          width: 8,
          height: 4,
          ml: '-4px',
          opacity: 0,
          borderTop: '2px solid var(--ink)',
        }}
      />
      <Box
        ref={mark}
        sx={{ position: 'absolute', bottom: 4, height: 8, width: 2, opacity: 0 }}
        style={{ left: 0 }}
      />
    </>
  );
}
