import { USUAL_WISH, type AudioWish, type Depth } from '@/core/deliver';
import type { Hertz } from '@/core/time';

/** What is handed over. */
export const HANDED = ['midi', 'audio'] as const;
export type Handed = (typeof HANDED)[number];

/** How files of sound are written. */
export interface AudioForm {
  depth: Depth;
  rate: Hertz;
}

/** Files that are being written. */
export interface WritingNow {
  /** Which of how many, counted from 0, and how much of it. */
  part: number;
  of: number;
  share: number;
  /** Seconds that it took until now. */
  passed: number;
}

/** A file of sound that was written, and how loud it came out. */
export interface HandedOver {
  name: string;
  seconds: number;
  bytes: number;
  peak: number;
}

/** What Deliver shows and works on. */
export interface DeliverSlice {
  handed: Handed;
  audioWish: AudioWish;
  audioForm: AudioForm;
  /** One file each, or all in a zip. */
  audioZip: boolean;
  writing?: WritingNow;
  /** What was written last. */
  handedOver?: readonly HandedOver[];
}

export const deliver: DeliverSlice = {
  handed: 'midi',
  audioWish: USUAL_WISH,
  audioForm: { depth: '24', rate: 48_000 },
  audioZip: true,
};
