import { isMeter, MAX_BPM, MIN_BPM, type Meter, type Ticks } from '../time';
import { isRecord, isText } from './finds';
import { MAX_TICKS, within } from './limits';

/** Whether single values are what they should be. */

export const TEMPO_RANGE = `A tempo must be ${MIN_BPM} to ${MAX_BPM} beats a minute.`;
export const isBpm = (value: unknown) => within(value, [MIN_BPM, MAX_BPM]);
export const isTick = (value: unknown): value is Ticks => within(value, [0, MAX_TICKS]);
export const isOptional = (value: unknown, is: (value: unknown) => boolean) =>
  value === undefined || is(value);
export const isMark = (value: unknown) => value === undefined || value === true;
export const isMeterValue = (value: unknown): value is Meter =>
  isRecord(value) && isMeter(value as unknown as Meter);
export const isOneOf =
  (list: readonly unknown[]) =>
  (value: unknown): boolean =>
    list.includes(value);

export function isOrigin(value: unknown): boolean {
  if (value === undefined) return true;
  return isRecord(value) && isText(value.file) && within(value.ppq, [1, 32_767]);
}

export function isGrooveRef(value: unknown): boolean {
  if (value === undefined) return true;
  return isRecord(value) && isText(value.id) && isText(value.name) && isText(value.family);
}
