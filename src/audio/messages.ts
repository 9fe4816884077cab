import type { SoundId } from '../core/model';
import type { KitSound } from '../core/sound';
import type { CountIn, Score, Loop } from '../core/engine';
import type { Seconds, Velocity } from '../core/time';

/** What the page tells the engine in the audio thread. */
export type ToEngine =
  | { type: 'sound'; sound: KitSound }
  | { type: 'score'; score: Score; at?: Seconds }
  | { type: 'loop'; loop: Loop | undefined }
  | { type: 'click'; on: boolean }
  | { type: 'play'; from: Seconds; countIn: CountIn | undefined }
  | { type: 'stop' }
  | { type: 'locate'; to: Seconds }
  | { type: 'strike'; note: SoundId; velocity: Velocity; strip: number };

/** What the engine tells the page, some fifty times a second while anything sounds. */
export interface FromEngine {
  position: Seconds;
  playing: boolean;
  /** Context time of the block the position is of. */
  time: Seconds;
  peaks: [left: number, right: number];
}

/** What the processor can be made with, so that it plays from its very first block. */
export interface EngineStart {
  messages?: ToEngine[];
}

export const PROCESSOR = 'verse-loom-engine';
