'use client';

import Box from '@mui/material/Box';
import InputBase from '@mui/material/InputBase';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';

/** How a value is typed: another number than the one that is kept, where that is what people say. */
export interface Typed {
  to(value: number): number;
  from(typed: number): number;
  /** The sign of a number whose unit says it: "30 left" is negative. Absent is that of the number. */
  sign?(unit: string): 1 | -1;
}

/** Shares are typed in percent. */
export const IN_PERCENT: Typed = { to: (share) => 100 * share, from: (percent) => percent / 100 };

/** Times of seconds are typed in milliseconds. */
export const IN_MS: Typed = { to: (seconds) => 1000 * seconds, from: (ms) => ms / 1000 };

/** Values whose line is logarithmic are typed as they are. */
export const ON_LOGARITHM: Typed = { to: Math.exp, from: Math.log };

/** Times of seconds by their logarithm, in milliseconds. */
export const LOG_MS: Typed = {
  to: (logarithm) => 1000 * Math.exp(logarithm),
  from: (ms) => Math.log(ms / 1000),
};

/** Pan is typed in percent, to the left with a minus or as it is shown: "30 left". */
export const AS_PAN: Typed = { ...IN_PERCENT, sign: (unit) => (/^l/i.test(unit) ? -1 : 1) };

const AS_IT_IS: Typed = { to: (value) => value, from: (typed) => typed };

const rounded = (value: number) => Math.round(value * 1000) / 1000;

interface TypedValueProps {
  value: number;
  min: number;
  max: number;
  /** Its accessible name. */
  name: string;
  says(value: number): string;
  typed?: Typed;
  /** Called with a value in its range. */
  onType(value: number): void;
}

/** A number that is shown, and typed once it is pressed. One out of its range says the range, and stays to be mended. */
export function TypedValue(props: TypedValueProps) {
  const { value, min, max, name, says, typed = AS_IT_IS, onType } = props;
  const [text, setText] = useState<string>();
  const [lowest, highest] = [min, max].map((one) => rounded(typed.to(one)));
  if (text === undefined) {
    return (
      <Box
        component="button"
        type="button"
        className="figures"
        aria-label={`${name}: ${says(value)}, type another`}
        title={`press to type: ${name}`}
        onClick={(event) => {
          event.stopPropagation();
          setText(String(rounded(typed.to(value))));
        }}
        sx={{
          all: 'unset',
          cursor: 'text',
          textAlign: 'right',
          whiteSpace: 'nowrap',
          '&:hover': { textDecoration: 'underline dotted' },
          '&:focus-visible': { outline: '2px solid var(--accent)' },
        }}
      >
        {says(value)}
      </Box>
    );
  }
  const number = numberIn(text, typed);
  const problem =
    number === undefined || number < lowest || number > highest
      ? `a number from ${lowest} to ${highest}`
      : undefined;
  const take = () => {
    if (problem) return;
    setText(undefined);
    // At an end of its range it is that end, whatever rounding has made of it.
    const within = Math.max(min, Math.min(max, typed.from(number!)));
    if (rounded(typed.to(value)) !== number) onType(within);
  };
  return (
    <Tooltip open={problem !== undefined} title={problem ?? ''}>
      <InputBase
        value={text}
        autoFocus
        onFocus={(event) => event.target.select()}
        onChange={(event) => setText(event.target.value)}
        onClick={(event) => event.stopPropagation()}
        onBlur={take}
        onKeyDown={(event) => {
          event.stopPropagation();
          if (event.key === 'Enter') take();
          if (event.key === 'Escape') setText(undefined);
        }}
        inputProps={{
          'aria-label': `${name}, value`,
          'aria-invalid': problem !== undefined,
          inputMode: 'decimal',
        }}
        sx={{ fontSize: 'inherit', width: 54, '& input': { p: 0, textAlign: 'right' } }}
        className="figures"
      />
    </Tooltip>
  );
}

/** The number in a text that may end with a unit. */
function numberIn(text: string, { sign }: Typed): number | undefined {
  const match = /^\s*([-+−]?(?:\d+(?:[.,]\d*)?|[.,]\d+))\s*([^\d]*)$/.exec(text);
  if (!match) return undefined;
  const number = Number(match[1].replace('−', '-').replace(',', '.'));
  return number * (sign?.(match[2]) ?? 1);
}
