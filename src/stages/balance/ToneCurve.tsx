'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useState } from 'react';
import { TONE_BANDS, TONE_LIMITS, type Tone, type ToneBand } from '@/core/model';
import { gainThrough } from '@/core/sound';
import { filtersOf, USUAL_TONE } from '@/core/tracks';
import { CurveHandle } from '@/look/CurveHandle';
import { TypedValue } from '@/look/TypedValue';
import { keyOf } from '@/state/acts';
import * as balance from '@/state/balance/balance';
import * as chain from '@/state/balance/chain';
import { cancelGesture } from '@/state/session/edit';

const WIDTH = 240;
const HEIGHT = 118;
const [LOWEST, HIGHEST] = TONE_LIMITS.frequency;
const [, MOST] = TONE_LIMITS.gain;
/** What the curve is computed at: every other pixel. */
const POINTS = Array.from({ length: WIDTH / 2 + 1 }, (_, i) => i * 2);
const RATE = 48_000;

const octaves = Math.log(HIGHEST / LOWEST);
const xOf = (frequency: number) => (Math.log(frequency / LOWEST) / octaves) * WIDTH;
const frequencyAt = (x: number) => LOWEST * Math.exp((x / WIDTH) * octaves);
const yOf = (gain: number) => HEIGHT / 2 - (gain / MOST) * (HEIGHT / 2 - 6);
const gainAtY = (y: number) => ((HEIGHT / 2 - y) / (HEIGHT / 2 - 6)) * MOST;

/** Frequencies that are written under the curve. */
const MARKS = [
  [60, '60'],
  [250, '250'],
  [1000, '1k'],
  [4000, '4k'],
  [16_000, '16k'],
] as const;

const said = (frequency: number) =>
  frequency < 1000 ? `${Math.round(frequency)} Hz` : `${(frequency / 1000).toFixed(1)} kHz`;

/** A tone as the curve that it is: its bands are dragged, moved with keys, or typed. */
export function ToneCurve({
  track,
  name,
  tone,
}: {
  track: chain.ChainOwner;
  name: string;
  tone?: Tone;
}) {
  /** The band whose values are below the curve. */
  const [shown, setShown] = useState<ToneBand>('low');
  const filters = filtersOf(tone);
  const curve = POINTS.map((x) => {
    const gain = gainThrough(filters, frequencyAt(x), RATE);
    return `${x},${Math.max(-4, Math.min(HEIGHT + 4, yOf(gain))).toFixed(1)}`;
  });
  const settingOf = (band: ToneBand) => tone?.[band] ?? USUAL_TONE[band];
  const place = (band: ToneBand, x: number, y: number, fine: boolean) => {
    const frequency = frequencyAt(Math.max(0, Math.min(WIDTH, x)));
    const by = fine ? 10 : 2;
    chain.slideTone(track, band, { frequency, gain: Math.round(gainAtY(y) * by) / by });
  };
  const step = (band: ToneBand, across: number, up: number) => {
    const { frequency, gain } = settingOf(band);
    chain.slideTone(track, band, {
      ...(across !== 0 && { frequency: frequency * 2 ** (across / 12) }),
      ...(up !== 0 && { gain: Math.round((gain + up * 0.5) * 100) / 100 }),
    });
  };
  const type = (band: ToneBand, change: { frequency?: number; gain?: number }) => {
    chain.slideTone(track, band, change);
    balance.slideDone();
  };
  return (
    <Box sx={{ borderTop: '1px solid var(--line)', pt: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', minHeight: 30 }}>
        <Box sx={{ flex: 1, fontWeight: 500 }}>tone</Box>
        <Button
          title={`take the tone out (${keyOf('flat-tone')})`}
          disabled={!tone}
          onClick={chain.flatTone}
        >
          flat
        </Button>
      </Box>
      <svg
        width={WIDTH}
        height={HEIGHT}
        style={{ background: 'var(--paper)', overflow: 'hidden', display: 'block' }}
      >
        {MARKS.map(([frequency]) => (
          <line
            key={frequency}
            x1={xOf(frequency)}
            x2={xOf(frequency)}
            y2={HEIGHT}
            stroke="var(--line)"
          />
        ))}
        {[-12, 0, 12].map((gain) => (
          <line key={gain} x2={WIDTH} y1={yOf(gain)} y2={yOf(gain)} stroke="var(--line)" />
        ))}
        <polyline
          data-tone-curve
          points={curve.join(' ')}
          fill="none"
          stroke="var(--accent)"
          strokeWidth={2}
        />
        {TONE_BANDS.map((band) => {
          const { frequency, gain } = settingOf(band);
          const y = yOf(gain);
          return (
            <text
              key={band}
              x={Math.max(12, Math.min(WIDTH - 14, xOf(frequency)))}
              y={y < 26 ? y + 20 : y - 11}
              textAnchor="middle"
              fontSize={12}
              fill="var(--soft-ink)"
              pointerEvents="none"
              aria-hidden
            >
              {band}
            </text>
          );
        })}
        {TONE_BANDS.map((band) => {
          const { frequency, gain } = settingOf(band);
          return (
            <CurveHandle
              key={band}
              name={`${band} of ${name}`}
              min={band === 'cut' ? LOWEST : -MOST}
              max={band === 'cut' ? HIGHEST : MOST}
              value={band === 'cut' ? Math.round(frequency) : gain}
              says={band === 'cut' ? said(frequency) : `${gain} dB at ${said(frequency)}`}
              x={Math.max(6, Math.min(WIDTH - 6, xOf(frequency)))}
              y={yOf(gain)}
              cursor={band === 'cut' ? 'ew-resize' : 'move'}
              onPlace={(x, y, fine) => place(band, x, y, fine)}
              onStep={(across, up) => step(band, across, up)}
              onReset={() => chain.slideTone(track, band, USUAL_TONE[band])}
              onDone={balance.slideDone}
              onCancel={cancelGesture}
              onFocus={() => setShown(band)}
            />
          );
        })}
      </svg>
      <Box
        className="figures"
        sx={{ position: 'relative', height: 16, fontSize: 12, color: 'text.secondary' }}
      >
        {MARKS.map(([frequency, name]) => (
          <Box
            key={frequency}
            component="span"
            sx={{ position: 'absolute', transform: 'translateX(-50%)' }}
            style={{ left: xOf(frequency) }}
          >
            {name}
          </Box>
        ))}
      </Box>
      <Box sx={{ display: 'flex', gap: 1.5, fontSize: 13, pt: 0.5 }}>
        {shown}
        <TypedValue
          name={`frequency of ${shown} of ${name}`}
          value={settingOf(shown).frequency}
          min={LOWEST}
          max={HIGHEST}
          says={said}
          onType={(frequency) => type(shown, { frequency })}
        />
        {shown !== 'cut' && (
          <TypedValue
            name={`gain of ${shown} of ${name}`}
            value={settingOf(shown).gain}
            min={-MOST}
            max={MOST}
            says={(gain) => `${String(gain).replace('-', '−')} dB`}
            onType={(gain) => type(shown, { gain })}
          />
        )}
      </Box>
    </Box>
  );
}
