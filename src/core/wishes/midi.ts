import type { Channel, Ticks } from '../time';

/** One track, one a kit piece, or those of the layout in use. */
export const TRACKINGS = ['one', 'pieces', 'present'] as const;
export type Tracking = (typeof TRACKINGS)[number];

/** How long notes are held. */
export const LENGTHS = ['played', 'fixed', 'next'] as const;
export type Lengths = (typeof LENGTHS)[number];

/** How MIDI is written. */
export interface MidiWish {
  tracks: Tracking;
  /** Each track is a file of its own, without guides. */
  apart: boolean;
  /** Ticks a quarter note, 24 to 15,360; absent is as the file that came in had, and 960 where none did. */
  ppq?: number;
  guides: boolean;
  /** What is muted, or silenced by a solo, is left out. */
  mutes: boolean;
  lengths: Lengths;
  /** Of fixed notes. */
  fixed: Ticks;
  /** From one tempo to the next where it glides. */
  glideStep: Ticks;
  copyright: string;
  text: string;
  /** Channels (from 0) and note maps (by their names) of tracks of the layout in use, by their ids. */
  byTrack: Readonly<Record<string, { channel?: Channel; map?: string }>>;
}

export const MIN_PPQ = 24;
export const MAX_PPQ = 15_360;

export const USUAL_MIDI: MidiWish = {
  tracks: 'one',
  apart: false,
  guides: false,
  mutes: false,
  lengths: 'played',
  fixed: 120,
  glideStep: 240,
  copyright: '',
  text: '',
  byTrack: {},
};
