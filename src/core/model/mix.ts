import type { Hertz, Seconds } from '../time';

/** The kinds of second-order filter that strips and sounds use. */
export const FILTER_KINDS = [
  'lowpass',
  'highpass',
  'bandpass',
  'peak',
  'lowshelf',
  'highshelf',
] as const;
export type FilterKind = (typeof FILTER_KINDS)[number];

/** One stage of tone shaping. */
export interface FilterSetting {
  kind: FilterKind;
  frequency: Hertz;
  /** Resonance; 0.707 is flat for low- and highpass. */
  q: number;
  /** Boost or cut in decibels, for `peak` and the shelves. */
  gain?: number;
}

/** How much of a track goes to a bus. */
export interface Send {
  bus: string;
  /** 0 to 1. */
  level: number;
}

/** The bands of a track's tone, from low to high; the cut takes away all that is below it. */
export const TONE_BANDS = ['cut', 'low', 'mid', 'high'] as const;
export type ToneBand = (typeof TONE_BANDS)[number];

/** One band of a track's tone. */
export interface ToneSetting {
  /** Where it works: the corner of a cut or a shelf, the middle of a bell. */
  frequency: Hertz;
  /** Boost or cut in decibels; a low cut has none. */
  gain: number;
}

/** The tone of a track. What is absent leaves it as it is. */
export type Tone = Readonly<Partial<Record<ToneBand, ToneSetting>>>;

export const TONE_LIMITS = { frequency: [20, 20_000], gain: [-18, 18] } as const;

/**
 * How what is loud is held back. Its knee is 6 dB wide; times are until 63 % of a change is made, the
 * release after the attack.
 */
export interface Dynamics {
  /** Above this level it works, in decibels. */
  threshold: number;
  /** So many decibels more give one more; 1 does nothing. */
  ratio: number;
  attack: Seconds;
  release: Seconds;
  /** What all of it is raised by afterwards, in decibels. */
  gain: number;
}

export const DYNAMICS_LIMITS = {
  threshold: [-60, 0],
  ratio: [1, 20],
  attack: [0.0002, 0.2],
  release: [0.01, 2],
  gain: [0, 24],
} as const satisfies Record<keyof Dynamics, readonly [number, number]>;

/** One track of the mix. */
export interface StripSetting {
  track: string;
  /** Factor, 1 leaves the level as it is; at most 4. */
  level: number;
  /** -1 is left, 1 is right, as the audience sees the kit; added to where each piece stands. */
  pan: number;
  mute?: true;
  solo?: true;
  /** Its sides are turned upside down, as a second microphone below a drum needs it. */
  flip?: true;
  tone?: Tone;
  dynamics?: Dynamics;
  /** How much it is saturated, 0 to 1; absent is not at all. */
  drive?: number;
  /** How much of it goes past the bus of all drums, 0 to 1; absent is nothing. */
  dry?: number;
  /**
   * The pair of outputs it goes out on by itself, 2 to 8; absent is the first, together with all drums. Where a
   * device has no such pair it goes out on the first.
   */
  output?: number;
  sends: readonly Send[];
}

/** So many pairs of outputs can be told apart. */
export const MOST_OUTPUTS = 8;

/** What all tracks go through together, with their rooms and echoes. */
export interface DrumBus {
  tone?: Tone;
  dynamics?: Dynamics;
  drive?: number;
  /** Factor, 0 to 4; absent is 1. */
  level?: number;
  /** What the limiter at the end lets nothing pass, in decibels, -24 to 0. */
  ceiling: number;
}

/** What tracks and single hits are sent to. */
export interface BusSetting {
  id: string;
  name: string;
  kind: 'room' | 'echo';
  /** Factor, 0 to 4. */
  level: number;
  /** Room: how long it rings until it is 60 dB softer. */
  ring?: Seconds;
  /** Echo: from one repeat to the next, in beats of a quarter note. */
  beats?: number;
}

/** The mix of the tracks of one layout. A track without a strip is left as it is. */
export interface Mix {
  layout: string;
  strips: readonly StripSetting[];
  buses: readonly BusSetting[];
  /** Absent is the usual one. */
  drums?: DrumBus;
}

/** The bus a song begins with: it holds the loudest strokes together a little. */
export const USUAL_DRUMS: DrumBus = {
  dynamics: { threshold: -16, ratio: 2, attack: 0.012, release: 0.13, gain: 4.5 },
  drive: 0.2,
  ceiling: -1,
};

/** The longest a section may take to come to what it has otherwise, in beats of a quarter note. */
export const LONGEST_RAMP = 64;

/** What a track has otherwise while a section plays. */
export interface SectionStrip {
  track: string;
  level?: number;
  pan?: number;
  mute?: boolean;
  sends?: readonly Send[];
  /** How long it takes to get there from the start of the section on, in quarter notes; absent is at once. */
  ramp?: number;
}

export interface SectionMix {
  strips: readonly SectionStrip[];
}

/** The buses a song begins with: a small room, and an echo of dotted eighths. */
export const USUAL_BUSES: readonly BusSetting[] = [
  { id: 'room', name: 'room', kind: 'room', level: 1, ring: 0.42 },
  { id: 'echo', name: 'echo', kind: 'echo', level: 1, beats: 0.75 },
];

/** The strip of a track that nobody has mixed. */
export function neutralStrip(track: string): StripSetting {
  return { track, level: 1, pan: 0, sends: [] };
}

const NO_STRIPS: Mix['strips'] = [];

/** The mix of a layout that nobody has mixed. */
export function usualMix(layout: string): Mix {
  return { layout, strips: NO_STRIPS, buses: USUAL_BUSES };
}
