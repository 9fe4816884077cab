import type { FilterSetting } from '../model';
import type { Hertz } from '../time';
import type { Bench, Strength, Struck } from './struck';

/** How a stroke is computed. */
export type Recipe = (bench: Bench) => Struck;

/** As strong in soft strokes as in hard ones. */
export const always = (level: number): Strength => ({ soft: level, hard: level });
/** In hard strokes only. */
export const edge = (level: number): Strength => ({ soft: 0, hard: level });

export const highpass = (frequency: Hertz, q = 0.707): FilterSetting => ({
  kind: 'highpass',
  frequency,
  q,
});
export const lowpass = (frequency: Hertz, q = 0.707): FilterSetting => ({
  kind: 'lowpass',
  frequency,
  q,
});
export const band = (frequency: Hertz, q: number): FilterSetting => ({
  kind: 'bandpass',
  frequency,
  q,
});
