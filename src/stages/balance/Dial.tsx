'use client';

import Box from '@mui/material/Box';
import Slider from '@mui/material/Slider';
import { slideDone } from '@/state/balance/balance';

/** A value on a line, with its name before it and what it is behind it. */
export function Dial(props: {
  label: string;
  /** What it is called for those who do not see what stands around it; absent is its label. */
  name?: string;
  value: number;
  min: number;
  max: number;
  step: number;
  says(value: number): string;
  onSlide(value: number): void;
}) {
  const { label, name, value, min, max, step, says, onSlide } = props;
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
      <Slider
        aria-label={name ?? label}
        value={value}
        min={min}
        max={max}
        step={step}
        getAriaValueText={says}
        onChange={(_, next) => onSlide(next)}
        onChangeCommitted={slideDone}
      />
      <Box component="span" className="figures" sx={{ textAlign: 'right' }}>
        {says(value)}
      </Box>
    </Box>
  );
}
