'use client';

import TextField from '@mui/material/TextField';
import { useDraft } from './useDraft';
import { isMeter, MAX_METER_BEATS, meterName, METER_UNITS, type Meter } from '@/core/time';

/** Reads "7/8"; undefined when it is no time signature that can be counted. */
function parseMeter(text: string): Meter | undefined {
  const match = /^\s*(\d{1,2})\s*\/\s*(\d{1,2})\s*$/.exec(text);
  const meter = match && { beats: Number(match[1]), unit: Number(match[2]) };
  return meter && isMeter(meter) ? meter : undefined;
}

/** A time signature that is typed as it is written. */
export function MeterField({
  meter,
  onChange,
}: {
  meter: Meter;
  onChange: (meter: Meter) => void;
}) {
  const { draft, field } = useDraft(meterName(meter), (text) => {
    const written = parseMeter(text);
    if (written) onChange(written);
  });
  const parsed = draft === undefined ? meter : parseMeter(draft);
  return (
    <TextField
      label="meter"
      {...field}
      error={!parsed}
      helperText={parsed ? undefined : `1 to ${MAX_METER_BEATS} / ${METER_UNITS.join(' ')}`}
      slotProps={{
        htmlInput: { className: 'figures', autoComplete: 'off' },
        formHelperText: { sx: { mx: 0.5, whiteSpace: 'nowrap' } },
      }}
      sx={{ width: 68 }}
    />
  );
}
