'use client';

import Box from '@mui/material/Box';
import Slider, { type SliderProps } from '@mui/material/Slider';
import type { CSSObject } from '@mui/material/styles';
import { useRef, type KeyboardEvent } from 'react';
import { useDrag } from './useDrag';
import { useWheel } from './useWheel';

/** Steps of one press: of an arrow with Shift, of an arrow, and of the page keys. */
const FINE = 0.1;
const COARSE = 10;
/** So near to the middle of the thumb the thumb is taken, and not moved to the pointer, in pixels. */
const THUMB = 10;

const STEPS: Readonly<Record<string, number>> = {
  ArrowLeft: -1,
  ArrowDown: -1,
  ArrowRight: 1,
  ArrowUp: 1,
  PageDown: -COARSE,
  PageUp: COARSE,
};

export interface FaderProps {
  /** Its accessible name. */
  name: string;
  value: number;
  min: number;
  max: number;
  step: number;
  /** The value that a double press sets. */
  usual: number;
  says(value: number): string;
  onSlide(value: number): void;
  /** The value is kept. */
  onDone(): void;
  /** The value is as it was before the drag. */
  onCancel(): void;
  /** Arrows with Shift do what the list of keys says, and are no small steps. */
  shiftIsListed?: boolean;
  look?: Pick<SliderProps, 'track' | 'marks'> & { sx?: CSSObject };
}

/**
 * A value on a line: dragged, with Shift in small steps and with Escape taken back; moved by arrows, page keys and the wheel
 * over its thumb; set to its usual value by a double press.
 */
export function Fader(props: FaderProps) {
  const { name, value, min, max, step, usual, says, onSlide, onDone, onCancel } = props;
  const root = useRef<HTMLDivElement>(null);
  const within = (to: number) => Math.max(min, Math.min(max, Number(to.toFixed(6))));
  const stepped = (to: number, fine = false) => {
    const by = fine ? step * FINE : step;
    return within(Math.round((to - min) / by) * by + min);
  };
  const set = (to: number) => {
    onSlide(to);
    onDone();
  };
  /** The line: its beginning and its length, in pixels. */
  const line = () => root.current!.getBoundingClientRect();
  const thumb = () => line().left + ((value - min) / (max - min)) * line().width;
  const place = (x: number, fine = false) => {
    const { left, width } = line();
    onSlide(stepped(min + ((x - left) / width) * (max - min), fine));
  };
  const drag = useDrag({
    start({ clientX, clientY }) {
      root.current!.focus();
      if (Math.abs(clientX - thumb()) <= THUMB) return { x: thumb(), y: clientY };
      place(clientX);
      return { x: clientX, y: clientY };
    },
    move: ({ x }, fine) => place(x, fine),
    done: onDone,
    cancel: onCancel,
  });
  useWheel(
    root,
    ({ clientX }) =>
      Math.abs(clientX - thumb()) <= THUMB || root.current === document.activeElement,
    (by) => set(within(value + by * step)),
  );
  const press = (event: KeyboardEvent) => {
    const { key, shiftKey, ctrlKey, altKey, metaKey } = event;
    if (ctrlKey || altKey || metaKey || (shiftKey && props.shiftIsListed)) return;
    const by = STEPS[key];
    const end = { Home: min, End: max }[key];
    if (by === undefined && end === undefined) return;
    event.preventDefault();
    event.stopPropagation();
    // A value between two steps moves by a whole step, and stays between.
    set(end ?? within(value + by * step * (shiftKey ? FINE : 1)));
  };
  const { sx, ...look } = props.look ?? {};
  return (
    <Box
      ref={root}
      role="slider"
      tabIndex={0}
      aria-label={name}
      aria-valuemin={min}
      aria-valuemax={max}
      aria-valuenow={value}
      aria-valuetext={says(value)}
      {...(props.shiftIsListed && { 'data-shift-is-listed': true })}
      onKeyDown={press}
      onDoubleClick={() => set(usual)}
      {...drag}
      sx={{
        display: 'flex',
        cursor: 'pointer',
        touchAction: 'none',
        userSelect: 'none',
        outline: 'none',
        '&:focus-visible .MuiSlider-thumb': {
          outline: '2px solid var(--accent)',
          outlineOffset: '2px',
        },
      }}
    >
      <Slider
        inert
        aria-label={name}
        value={value}
        min={min}
        max={max}
        step={null}
        marks={false}
        {...look}
        sx={{ ...sx, pointerEvents: 'none' }}
      />
    </Box>
  );
}
