'use client';

import Box from '@mui/material/Box';
import { Fader } from '@/look/Fader';
import { TypedValue, type Typed } from '@/look/TypedValue';
import { slideDone } from '@/state/balance/balance';
import { cancelGesture } from '@/state/session/edit';

/** A value on a line, with its name before it and what it is behind it, which is pressed to type it. */
export function Dial(props: {
  label: string;
  /** What it is called for those who do not see what stands around it; absent is its label. */
  name?: string;
  value: number;
  min: number;
  max: number;
  step: number;
  /** The value that a double press sets. */
  usual: number;
  /** How it is typed; absent is as it is kept. */
  typed?: Typed;
  says(value: number): string;
  onSlide(value: number): void;
}) {
  const { label, name = label, value, min, max, step, usual, typed, says, onSlide } = props;
  const set = (to: number) => {
    onSlide(to);
    slideDone();
  };
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(72px, auto) minmax(56px, 1fr) 54px',
        alignItems: 'center',
        columnGap: 1.25,
        fontSize: 13,
      }}
    >
      <span>{label}</span>
      <Fader
        {...{ name, value, min, max, step, usual, says, onSlide }}
        onDone={slideDone}
        onCancel={cancelGesture}
      />
      <TypedValue {...{ value, min, max, name, says, typed }} onType={set} />
    </Box>
  );
}
