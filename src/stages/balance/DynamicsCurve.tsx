'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useRef } from 'react';
import { DYNAMICS_LIMITS, type Dynamics } from '@/core/model';
import { levelAfter, ratioReaching } from '@/core/sound';
import { FIRST_DYNAMICS } from '@/core/tracks';
import { CurveHandle } from '@/look/CurveHandle';
import { LOG_MS, TypedValue } from '@/look/TypedValue';
import { useEveryFrame } from '@/look/useEveryFrame';
import { keyOf } from '@/state/acts';
import * as balance from '@/state/balance/balance';
import * as chain from '@/state/balance/chain';
import { cancelGesture } from '@/state/session/edit';
import { Dial } from './Dial';

const WIDTH = 240;
const HEIGHT = 120;
/** What the curve shows, in decibels. */
const SOFTEST = -60;
const xOf = (level: number) => (1 - level / SOFTEST) * WIDTH;
const yOf = (level: number) => (level / SOFTEST) * HEIGHT;
const levelAtX = (x: number) => SOFTEST * (1 - x / WIDTH);
const levelAtY = (y: number) => (SOFTEST * y) / HEIGHT;
const POINTS = Array.from({ length: WIDTH / 2 + 1 }, (_, i) => i * 2);

const HANDLES = ['threshold', 'ratio'] as const;

const ms = (seconds: number) =>
  `${seconds < 0.01 ? (seconds * 1000).toFixed(1) : Math.round(seconds * 1000)} ms`;

interface DynamicsProps {
  track: chain.ChainOwner;
  name: string;
  dynamics?: Dynamics;
  /** What is held back now, in decibels. */
  reduction(): number;
}

/** What holds back what is loud: the level that comes out for each that goes in, and how fast. */
export function DynamicsCurve({ track, name, dynamics, reduction }: DynamicsProps) {
  return (
    <Box sx={{ borderTop: '1px solid var(--line)', pt: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', minHeight: 30 }}>
        <Box sx={{ flex: 1, fontWeight: 500 }}>dynamics</Box>
        <Button title={`compress (${keyOf('toggle-dynamics')})`} onClick={chain.toggleDynamics}>
          {dynamics ? 'take out' : 'compress'}
        </Button>
      </Box>
      {dynamics && (
        <>
          <Curve track={track} name={name} dynamics={dynamics} />
          <HeldBack reduction={reduction} />
          <Times track={track} name={name} dynamics={dynamics} />
        </>
      )}
    </Box>
  );
}

function Curve({
  track,
  name,
  dynamics,
}: {
  track: chain.ChainOwner;
  name: string;
  dynamics: Dynamics;
}) {
  const { threshold, ratio, gain } = dynamics;
  const top = levelAfter(dynamics, 0);
  const at = {
    threshold: { x: xOf(threshold), y: yOf(Math.min(0, threshold + gain)) },
    ratio: { x: WIDTH - 6, y: Math.max(6, yOf(Math.min(0, top))) },
  };
  const says = {
    threshold: `${threshold.toFixed(1).replace('-', '−')} dB`,
    ratio: `${ratio.toFixed(1)} to 1`,
  };
  const place = (handle: (typeof HANDLES)[number], x: number, y: number, fine: boolean) => {
    const by = fine ? 10 : 2;
    chain.slideDynamics(
      track,
      handle === 'threshold'
        ? { threshold: Math.round(levelAtX(x) * by) / by }
        : { ratio: Math.round(ratioReaching(levelAtY(y), dynamics) * 10) / 10 },
    );
  };
  const step = (handle: (typeof HANDLES)[number], by: number) =>
    chain.slideDynamics(
      track,
      handle === 'threshold'
        ? { threshold: Math.round((threshold + by * 0.5) * 100) / 100 }
        : { ratio: Math.round((ratio + by * 0.1) * 100) / 100 },
    );
  const type = (change: Partial<Dynamics>) => {
    chain.slideDynamics(track, change);
    balance.slideDone();
  };
  return (
    <>
      <svg
        width={WIDTH}
        height={HEIGHT}
        style={{ background: 'var(--paper)', overflow: 'hidden', display: 'block' }}
      >
        {[-48, -36, -24, -12].map((level) => (
          <g key={level} stroke="var(--line)">
            <line x1={xOf(level)} x2={xOf(level)} y2={HEIGHT} />
            <line x2={WIDTH} y1={yOf(level)} y2={yOf(level)} />
          </g>
        ))}
        <line x1={0} y1={HEIGHT} x2={WIDTH} y2={0} stroke="var(--line)" strokeDasharray="3 3" />
        <polyline
          data-dynamics-curve
          points={POINTS.map(
            (x) => `${x},${yOf(levelAfter(dynamics, levelAtX(x))).toFixed(1)}`,
          ).join(' ')}
          fill="none"
          stroke="var(--accent)"
          strokeWidth={2}
        />
        {HANDLES.map((handle) => (
          <CurveHandle
            key={handle}
            name={`${handle} of ${name}`}
            min={DYNAMICS_LIMITS[handle][0]}
            max={DYNAMICS_LIMITS[handle][1]}
            value={dynamics[handle]}
            says={says[handle]}
            x={Math.max(6, at[handle].x)}
            y={at[handle].y}
            cursor={handle === 'ratio' ? 'ns-resize' : 'ew-resize'}
            onPlace={(x, y, fine) => place(handle, x, y, fine)}
            onStep={(across, up) => step(handle, across + up)}
            onReset={() => chain.slideDynamics(track, { [handle]: FIRST_DYNAMICS[handle] })}
            onDone={balance.slideDone}
            onCancel={cancelGesture}
          />
        ))}
      </svg>
      <Box sx={{ display: 'flex', gap: 0.75, fontSize: 13, pt: 0.5 }}>
        from
        <TypedValue
          name={`threshold of ${name}`}
          value={threshold}
          min={DYNAMICS_LIMITS.threshold[0]}
          max={DYNAMICS_LIMITS.threshold[1]}
          says={() => says.threshold}
          onType={(to) => type({ threshold: to })}
        />
        on,
        <TypedValue
          name={`ratio of ${name}`}
          value={ratio}
          min={DYNAMICS_LIMITS.ratio[0]}
          max={DYNAMICS_LIMITS.ratio[1]}
          says={() => says.ratio}
          onType={(to) => type({ ratio: to })}
        />
      </Box>
    </>
  );
}

/** The most that is shown as held back, in decibels. */
const MOST_HELD = 18;
/** How fast the bar comes back, in decibels a second. */
const RETURN = 30;

function HeldBack({ reduction }: { reduction(): number }) {
  const bar = useRef<HTMLDivElement>(null);
  const said = useRef<HTMLSpanElement>(null);
  const state = useRef({ shown: 0, at: 0 });
  useEveryFrame(() => {
    const one = state.current;
    const now = performance.now();
    const back = one.shown - RETURN * Math.min(0.1, (now - one.at) / 1000);
    one.at = now;
    one.shown = Math.max(0, reduction(), back);
    const share = Math.min(1, one.shown / MOST_HELD);
    if (bar.current) bar.current.style.transform = `scaleX(${share.toFixed(3)})`;
    const text = one.shown < 0.05 ? '0 dB' : `−${one.shown.toFixed(1)} dB`;
    if (said.current && said.current.textContent !== text) said.current.textContent = text;
  });
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '72px minmax(0, 1fr) 54px',
        alignItems: 'center',
        columnGap: 1.25,
        fontSize: 13,
        minHeight: 28,
      }}
    >
      gain reduction
      <Box sx={{ height: 6, bgcolor: 'var(--paper)' }}>
        <Box
          ref={bar}
          data-held-back
          sx={{
            height: '100%',
            bgcolor: 'var(--accent)',
            transformOrigin: 'right',
            transform: 'scaleX(0)',
          }}
        />
      </Box>
      <Box ref={said} component="span" className="figures" sx={{ textAlign: 'right' }} />
    </Box>
  );
}

/** Times are set on a scale on which each step is the same share. */
const TIMES = ['attack', 'release'] as const;

function Times({
  track,
  name,
  dynamics,
}: {
  track: chain.ChainOwner;
  name: string;
  dynamics: Dynamics;
}) {
  return (
    <>
      {TIMES.map((time) => (
        <Dial
          key={time}
          label={time}
          name={`${time} of ${name}`}
          value={Math.log(dynamics[time])}
          usual={Math.log(FIRST_DYNAMICS[time])}
          typed={LOG_MS}
          min={Math.log(DYNAMICS_LIMITS[time][0])}
          max={Math.log(DYNAMICS_LIMITS[time][1])}
          step={0.05}
          says={(value) => ms(Math.exp(value))}
          onSlide={(value) => chain.slideDynamics(track, { [time]: Math.exp(value) })}
        />
      ))}
      <Dial
        label="make-up"
        name={`${name} raised by`}
        value={dynamics.gain}
        usual={FIRST_DYNAMICS.gain}
        min={0}
        max={DYNAMICS_LIMITS.gain[1]}
        step={0.5}
        says={(gain) => `${gain} dB`}
        onSlide={(gain) => chain.slideDynamics(track, { gain })}
      />
    </>
  );
}
