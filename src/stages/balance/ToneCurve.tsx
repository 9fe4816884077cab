'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useRef, type KeyboardEvent, type PointerEvent } from 'react';
import { TONE_BANDS, TONE_LIMITS, type Tone, type ToneBand } from '@/core/model';
import { gainThrough } from '@/core/sound';
import { filtersOf, USUAL_TONE } from '@/core/tracks';
import { keyOf } from '@/state/acts';
import * as balance from '@/state/balance/balance';
import * as chain from '@/state/balance/chain';

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

/** A tone as the curve that it is: its bands are dragged, or moved with arrow keys. */
export function ToneCurve({
  track,
  name,
  tone,
}: {
  track: chain.ChainOwner;
  name: string;
  tone?: Tone;
}) {
  const box = useRef<SVGSVGElement>(null);
  const filters = filtersOf(tone);
  const curve = POINTS.map((x) => {
    const gain = gainThrough(filters, frequencyAt(x), RATE);
    return `${x},${Math.max(-4, Math.min(HEIGHT + 4, yOf(gain))).toFixed(1)}`;
  });
  const settingOf = (band: ToneBand) => tone?.[band] ?? USUAL_TONE[band];
  const drag = (band: ToneBand) => (event: PointerEvent<SVGElement>) => {
    if (!event.currentTarget.hasPointerCapture(event.pointerId)) return;
    const { left, top } = box.current!.getBoundingClientRect();
    const frequency = frequencyAt(Math.max(0, Math.min(WIDTH, event.clientX - left)));
    const gain = Math.round(gainAtY(event.clientY - top) * 2) / 2;
    chain.slideTone(track, band, { frequency, gain });
  };
  const press = (band: ToneBand) => (event: KeyboardEvent) => {
    const { frequency, gain } = settingOf(band);
    const step = 2 ** (event.shiftKey ? 1 / 48 : 1 / 12);
    const moves: Record<string, { frequency?: number; gain?: number }> = {
      ArrowLeft: { frequency: frequency / step },
      ArrowRight: { frequency: frequency * step },
      ArrowUp: { gain: gain + 0.5 },
      ArrowDown: { gain: gain - 0.5 },
    };
    const move = moves[event.key];
    if (!move) return;
    event.preventDefault();
    event.stopPropagation();
    chain.slideTone(track, band, move);
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
        ref={box}
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
            <circle
              key={band}
              role="slider"
              tabIndex={0}
              aria-label={`${band} of ${name}`}
              aria-valuemin={band === 'cut' ? LOWEST : -MOST}
              aria-valuemax={band === 'cut' ? HIGHEST : MOST}
              aria-valuenow={band === 'cut' ? Math.round(frequency) : gain}
              aria-valuetext={band === 'cut' ? said(frequency) : `${gain} dB at ${said(frequency)}`}
              cx={Math.max(6, Math.min(WIDTH - 6, xOf(frequency)))}
              cy={yOf(gain)}
              r={6}
              fill="var(--paper)"
              stroke="var(--accent)"
              strokeWidth={2}
              style={{ cursor: band === 'cut' ? 'ew-resize' : 'move', touchAction: 'none' }}
              onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
              onPointerMove={drag(band)}
              onPointerUp={balance.slideDone}
              onPointerCancel={balance.slideDone}
              onKeyDown={press(band)}
            >
              <title>
                {band}: {band === 'cut' ? '' : `${gain} dB at `}
                {said(frequency)}
              </title>
            </circle>
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
    </Box>
  );
}
