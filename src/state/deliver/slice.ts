import { USUAL_DELIVERY, type Delivery } from '@/core/wishes';
import { NO_ROUTES, type LiveSetting } from '@/storage/liveSetting';
import type { Seconds } from '@/core/time';
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

/** What a file of sound sounds like. */
export interface Heard {
  /** Its length. */
  seconds: Seconds;
  /** Its true peak, 1 is full scale, and the most that the limiter held back, in decibels. */
  peak: number;
  limited: number;
  /** Its factor, and the decibels by which it stays under the level that was asked for. */
  gain?: number;
  short?: number;
  /** Of a stem: decibels by which all stems together are louder than the mix, where they differ most. */
  apart?: number;
  outline: Float32Array;
}

/** A file that was written. */
export interface HandedOver extends Partial<Heard> {
  /** As it is planned, with its ending. */
  path: string;
  bytes: number;
  content: Blob;
}

/** What Deliver shows and works on. */
export interface DeliverSlice {
  delivery: Delivery;
  /** The file whose content is shown, by its path; absent is the first. */
  shownFile?: string;
  writing?: WritingNow;
  /** What was written last, until something else is wished for. */
  handedOver?: readonly HandedOver[];
  /** What files of sound will sound like, by their paths, as far as they were listened to. */
  foretold: ReadonlyMap<string, Heard>;
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
  foretold: new Map(),
  clockGot: { pulses: 0 },
};
