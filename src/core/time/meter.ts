import { PPQ, type Ticks } from './units';

/** A time signature: `beats` of the note value `unit` (4 is a quarter note, 8 an eighth) to a bar. */
export interface Meter {
  beats: number;
  unit: number;
}

export const COMMON_TIME: Meter = { beats: 4, unit: 4 };

/** The note values a time signature may count in. All divide a bar into whole ticks. */
export const METER_UNITS = [1, 2, 4, 8, 16, 32, 64] as const;

export const MAX_METER_BEATS = 64;

/** Length of one beat as the time signature writes it: 7/8 has seven beats of 480 ticks. */
export function beatTicks(meter: Meter): Ticks {
  return (PPQ * 4) / meter.unit;
}

export function barTicks(meter: Meter): Ticks {
  return meter.beats * beatTicks(meter);
}

export function isMeter(value: Meter): boolean {
  return (
    Number.isInteger(value.beats) &&
    value.beats >= 1 &&
    value.beats <= MAX_METER_BEATS &&
    (METER_UNITS as readonly number[]).includes(value.unit)
  );
}

export function sameMeter(a: Meter, b: Meter): boolean {
  return a.beats === b.beats && a.unit === b.unit;
}

/** The meter as a drummer writes it: "7/8". */
export function meterName(meter: Meter): string {
  return `${meter.beats}/${meter.unit}`;
}

/**
 * Length of one beat as it is counted: the note value of the time signature, except that eighths in groups
 * of three (6/8, 9/8, 12/8, 15/8) are counted in dotted quarters.
 */
export function pulseTicks(meter: Meter): Ticks {
  const compound = meter.unit >= 8 && meter.beats % 3 === 0 && meter.beats > 3;
  return beatTicks(meter) * (compound ? 3 : 1);
}

/**
 * Where the click falls in a bar: every beat, as it is counted.
 * @returns ticks from the start of the bar, the first always 0
 */
export function clickTicks(meter: Meter): Ticks[] {
  const step = pulseTicks(meter);
  const count = Math.round(barTicks(meter) / step);
  return Array.from({ length: count }, (_, i) => i * step);
}
