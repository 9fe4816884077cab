import type { CountIn, DeskTable, LoopCue, MasterReading, Score, Strike } from '../core/engine';
import type { KitSound } from '../core/sound';
import type { Seconds, Ticks } from '../core/time';

/** What the page tells the engine in the audio thread. */
export type ToEngine =
  | { type: 'sound'; sound: KitSound }
  | { type: 'desk'; desk: DeskTable }
  /** A song with its loop; `at` is the tick from which on it is heard, absent is at once. */
  | { type: 'score'; score: Score; loop?: LoopCue; at?: Ticks }
  | { type: 'click'; on: boolean }
  | { type: 'play'; from: Ticks; countIn?: CountIn }
  | { type: 'stop' }
  | { type: 'locate'; to: Ticks }
  | { type: 'strike'; strike: Strike };

/** What the engine tells the page, some fifty times a second while anything sounds. */
export interface FromEngine {
  tick: Ticks;
  playing: boolean;
  /** It came to the end of the song by itself. */
  ended: boolean;
  /** Context time at which what is struck at the tick leaves the engine. */
  time: Seconds;
  peaks: [left: number, right: number];
  /** What each track of the desk was like, in rows of `TRACK_SIZE`. */
  tracks: Float32Array;
  master: MasterReading;
}

/** What the processor can be made with: it is told so before its first block, or before a later one. */
export interface EngineStart {
  messages?: ToEngine[];
  /** In order of their blocks. */
  later?: { block: number; message: ToEngine }[];
}

export const PROCESSOR = 'verse-loom-engine';
