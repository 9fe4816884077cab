'use client';

import TextField from '@mui/material/TextField';
import { useState } from 'react';
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
  const [draft, setDraft] = useState<string>();
  const parsed = draft === undefined ? meter : parseMeter(draft);
  const keep = () => {
    if (draft !== undefined && parsed) onChange(parsed);
    setDraft(undefined);
  };
  return (
    <TextField
      label="meter"
      value={draft ?? meterName(meter)}
      error={!parsed}
      helperText={parsed ? undefined : `1 to ${MAX_METER_BEATS} / ${METER_UNITS.join(' ')}`}
      onChange={(event) => setDraft(event.target.value)}
      onFocus={(event) => event.target.select()}
      onBlur={keep}
      onKeyDown={(event) => {
        if (event.key === 'Enter') keep();
        if (event.key === 'Escape') setDraft(undefined);
        event.stopPropagation();
      }}
      slotProps={{
        htmlInput: { className: 'figures', autoComplete: 'off' },
        formHelperText: { sx: { mx: 0.5, whiteSpace: 'nowrap' } },
      }}
      sx={{ width: 68 }}
    />
  );
}
