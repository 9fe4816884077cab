import { USUAL_DELIVERY, type Delivery } from '@/core/deliver';
import { NO_ROUTES, type LiveSetting } from '@/storage/liveRoutes';
import type { Received } from '@/workers';

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
  /** Where tracks go while they play, and the MIDI outputs that the browser has. */
  live: LiveSetting;
  liveOutputs: readonly { id: string; name: string }[];
  /** What the simulated receiver got, but for a clock. */
  received: readonly Received[];
  clockGot: ClockGot;
}

/** Pulses of a clock that came in, when the last was due (ms since 1970), and the tempo they come at. */
export interface ClockGot {
  pulses: number;
  last?: number;
  bpm?: number;
}

export const deliver: DeliverSlice = {
  delivery: USUAL_DELIVERY,
  live: NO_ROUTES,
  liveOutputs: [],
  received: [],
  clockGot: { pulses: 0 },
};
