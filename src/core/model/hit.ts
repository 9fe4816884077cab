import type { Channel, Ticks, Velocity } from '../time';

/** Grace strokes before a hit: one makes a flam, two make a drag. */
export interface Flam {
  strokes: 1 | 2;
  /** Milliseconds from the first grace stroke to the hit, 5 to 120. */
  lead: number;
  /** How much softer the grace strokes are: 0 as loud as the hit, 1 as soft as can be. */
  softness: number;
}

/** Several quick strokes in the room of one step, the first on the hit itself. */
export interface Burst {
  /** 2 to 8. */
  strokes: number;
  /** From the first stroke to where the next one after the last would be. */
  room: Ticks;
  /** 1 rises from silence to the hit's velocity, -1 falls from it, 0 is level. */
  slope: number;
}

/** Sounds only on some passes of its pattern. */
export interface Cycle {
  /** After so many passes it starts again, 2 to 16. */
  of: number;
  /** The passes it sounds on, counted from 1, in order; never empty. */
  on: readonly number[];
}

/** One stroke on a kit piece, or a figure that is played as one. */
export interface Hit {
  /** Unique within its pattern. */
  id: string;
  /** The step it belongs to, in ticks from the start of the pattern. */
  at: Ticks;
  /** How far off its step it is played: negative early, positive late; may be fractional. */
  push: Ticks;
  velocity: Velocity;
  articulation: string;
  /** How long the MIDI note is held; absent means "as short as a drum note is". */
  length?: Ticks;
  /** The MIDI channel it was read from, counted from 0; absent is channel 10. Layouts may ask for it. */
  source?: Channel;
  flam?: Flam;
  burst?: Burst;
  cycle?: Cycle;
  /** The sound is stopped by hand so long after the stroke. */
  choke?: Ticks;
  /** Left (-1) to right (1) of where its piece stands. */
  pan?: number;
  /** Cents above (positive) or below the piece's own pitch. */
  tune?: number;
  /** The sound runs backwards: it swells into its stroke. */
  reverse?: true;
  /** Its sound with the room, reversed, leads up to the stroke for so long. */
  swell?: Ticks;
  /** Share that is sent to the room, 0 to 1. */
  room?: number;
  /** Share that is sent to the echo, 0 to 1. */
  echo?: number;
}
