import type { Hertz, Samples, Seconds, Velocity } from '../time';

/** What a sound is computed for: a note number, or a number from 128 on where no note says it. */
export type SoundId = number;

/** The kits whose sounds are computed. */
export const CHARACTER_IDS = ['warm', 'tight', 'brushes', 'big', 'electronic', 'hands'] as const;
export type CharacterId = (typeof CHARACTER_IDS)[number];

/** What a sound file is known by: a SHA-256 in hexadecimal, of what it sounds like. */
export type SampleHash = string;

/** A sound file that a layer plays. */
export interface SampleFile {
  hash: SampleHash;
  /** As the file was called. */
  name: string;
  /** Strokes of these velocities are this file; files of the same velocities are alternates. */
  velocities: readonly [softest: Velocity, hardest: Velocity];
}

/** What every layer of a piece has. */
interface LayerBase {
  id: string;
  name: string;
  /** Factor, 0 to 64. */
  level: number;
  /** In cents, with the piece's own tuning. */
  tune: number;
  /** It is heard at these velocities only. */
  velocities: readonly [softest: Velocity, hardest: Velocity];
  /** Which way of striking the piece it is heard with; absent is all. */
  articulation?: string;
}

/** A sound that is computed, beside the piece's own. */
export interface KitLayer extends LayerBase {
  from: 'kit';
  character: CharacterId;
  sound: SoundId;
}

/** Sound files. */
export interface SampleLayer extends LayerBase {
  from: 'files';
  files: readonly SampleFile[];
  /** What of the file is heard, in samples at 48 kHz; an end that is absent is that of the file. */
  start: Samples;
  end?: Samples;
  fadeIn: Seconds;
  fadeOut: Seconds;
  reverse?: true;
  /** What is above is taken away; absent is nothing. */
  lowpass?: Hertz;
  /** It dies away until it is 60 dB softer; absent is as it was recorded. */
  decay?: Seconds;
}

export type SoundLayer = KitLayer | SampleLayer;

/** How the sounds of a piece are made. What is absent is as the kit has it. */
export interface PieceDesign {
  /** In cents. */
  tune?: number;
  /** 0 rings as it does, 1 is stopped at once. */
  damping?: number;
  /** How much of its edge it has, in decibels more or less. */
  edge?: number;
  /** How velocities are heard: the softest stroke is struck as this one; a bend over 0 lifts the middle. */
  floor?: Velocity;
  bend?: number;
  /** How many different strokes take turns. */
  alternates?: number;
  /** Its own sound is another one of a kit. */
  instead?: { character: CharacterId; sound?: SoundId };
  /** Its own sound is off: only its layers are heard. */
  bare?: true;
  layers?: readonly SoundLayer[];
}

export const DESIGN_LIMITS = {
  tune: [-2400, 2400],
  damping: [0, 1],
  edge: [-24, 12],
  floor: [1, 127],
  bend: [-1, 1],
  alternates: [1, 4],
} as const;

/** The longest sound file, in samples: ten minutes at 48 kHz. */
export const LONGEST_FILE: Samples = 600 * 48_000;

/** The most that a layer is raised by: soft slices of a loop are soft strokes, and as loud as they were. */
export const LOUDEST_LAYER = 64;

/** So many layers can a piece have. */
export const MOST_LAYERS = 128;
