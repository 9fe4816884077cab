import { PPQ, type Ticks } from './units';

/** A step rate: how finely a pattern is written. */
export interface StepRate {
  name: string;
  ticks: Ticks;
}

/** Straight and triplet step rates, coarse to fine. A triplet step is two thirds of its straight one. */
export const STEP_RATES: readonly StepRate[] = [
  { name: '1/4', ticks: PPQ },
  { name: '1/4 triplet', ticks: (PPQ * 2) / 3 },
  { name: '1/8', ticks: PPQ / 2 },
  { name: '1/8 triplet', ticks: PPQ / 3 },
  { name: '1/16', ticks: PPQ / 4 },
  { name: '1/16 triplet', ticks: PPQ / 6 },
  { name: '1/32', ticks: PPQ / 8 },
  { name: '1/32 triplet', ticks: PPQ / 12 },
  { name: '1/64', ticks: PPQ / 16 },
  { name: '1/64 triplet', ticks: PPQ / 24 },
];

const isTriplet = ({ name }: StepRate) => name.endsWith('triplet');
const isRate =
  (ticks: Ticks) =>
  (rate: StepRate): boolean =>
    rate.ticks === ticks;

/**
 * The next finer (1) or coarser (-1) step of the same kind, straight or triplet; of a step that is none of
 * the rates, of any kind. @returns nothing where there is none
 */
export function nextStep(step: Ticks, by: 1 | -1): Ticks | undefined {
  const now = STEP_RATES.find(isRate(step));
  const alike = STEP_RATES.filter((rate) => !now || isTriplet(rate) === isTriplet(now));
  const further = alike.filter(({ ticks }) => (by > 0 ? ticks < step : ticks > step));
  return further.at(by > 0 ? 0 : -1)?.ticks;
}

/** The triplet of a straight step, or the straight step of a triplet. @returns nothing where a step is neither */
export function tripletOrStraight(step: Ticks): Ticks | undefined {
  const now = STEP_RATES.find(isRate(step));
  if (!now) return undefined;
  return STEP_RATES.find(isRate(isTriplet(now) ? (step * 3) / 2 : (step * 2) / 3))?.ticks;
}

export const DEFAULT_STEP: Ticks = PPQ / 4;
