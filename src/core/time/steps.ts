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

export const DEFAULT_STEP: Ticks = PPQ / 4;
