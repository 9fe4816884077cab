import type { Meter, Swing, Ticks, Velocity } from '../time';
import type { Drafted } from './draft';
import type { Hit } from './hit';
import type { PieceId } from './kit';
import type { GrooveRef, Origin } from './origin';

/** Where a strand was taken from, and how it came: it can be had back so. */
export interface Taken {
  /** The groove it was part of. */
  name: string;
  dye: number;
  hits: readonly Hit[];
}

/** The hits of one kit piece in a pattern, ordered by step. */
export interface Strand {
  piece: PieceId;
  hits: Hit[];
  /** A step rate of its own; absent is the pattern's. */
  stepTicks?: Ticks;
  /** Loops at its own length, running on over the ends of the pattern; absent is the pattern's. */
  loopTicks?: Ticks;
  /** Set where it was taken from another groove. */
  from?: Taken;
}

/** What can happen in a turn. */
export const TURNS = ['kick pair', 'ramped roll', 'tom run', 'opened hat', 'crash'] as const;
export type TurnKind = (typeof TURNS)[number];

/** A bar at the end of a phrase that got a change as the pattern grew. */
export interface Turn {
  /** The bar it is in, counted from 0. */
  bar: number;
  kind: TurnKind;
}

export const PATTERN_KINDS = ['groove', 'fill', 'intro', 'ending'] as const;
export type PatternKind = (typeof PATTERN_KINDS)[number];

/** How many dyes there are; a pattern's dye is a number below this. */
export const DYE_COUNT = 12;

export interface Pattern {
  id: string;
  name: string;
  kind: PatternKind;
  meter: Meter;
  length: Ticks;
  /** The step rate it is written at. Changing it never moves a hit. */
  step: Ticks;
  /** In staff order, one strand a piece. */
  strands: Strand[];
  dye: number;
  /** Shifts what sounds; hits stay on their steps. Absent is straight. */
  swing?: Swing;
  /** Changes that were made at the ends of its phrases as it grew. */
  turns?: readonly Turn[];
  origin?: Origin;
  /** What was noted when it was kept: "no snare: use as the drop". */
  notes?: string;
  /** 1 to 5; absent is none. */
  stars?: number;
  tags?: readonly string[];
  /** The groove of the library it was kept from. */
  groove?: GrooveRef;
  /** What it was joined from, end to end; it can be taken apart again. */
  joined?: readonly Pattern[];
  /** Kept from change. */
  locked?: true;
  /** Holds what was changed at one place or in one section only, and goes with the last of it. */
  local?: true;
  /** Set where it was drafted. */
  drafted?: Drafted;
}

/** One moment of a feel: how a stroke at this step is played. */
export interface FeelPoint {
  piece: PieceId;
  at: Ticks;
  /** How far off its step it sounds, swing included. */
  push: Ticks;
  velocity: Velocity;
}

/** Timing and velocity taken from a pattern, to be given to another. */
export interface Feel {
  id: string;
  name: string;
  length: Ticks;
  points: readonly FeelPoint[];
}

export function findStrand(pattern: Pattern, piece: PieceId): Strand | undefined {
  return pattern.strands.find((strand) => strand.piece === piece);
}
