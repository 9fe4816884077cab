import { USUAL_DELIVERY, type Delivery } from '@/core/deliver';

/** Files that are being written. */
export interface WritingNow {
  /** How many of them are written, of how many, and how much of all. */
  done: number;
  of: number;
  share: number;
  /** Seconds that it took until now. */
  passed: number;
}

/** A file that was written. */
export interface HandedOver {
  /** As it is planned, with its ending. */
  path: string;
  bytes: number;
  content: Blob;
  /** Of a file of sound: its length, its loudest sample (1 is full scale), its outline. */
  seconds?: number;
  peak?: number;
  outline?: Float32Array;
}

/** What Deliver shows and works on. */
export interface DeliverSlice {
  delivery: Delivery;
  /** The file whose content is shown, by its path; absent is the first. */
  shownFile?: string;
  writing?: WritingNow;
  /** What was written last, until something else is wished for. */
  handedOver?: readonly HandedOver[];
}

export const deliver: DeliverSlice = { delivery: USUAL_DELIVERY };
