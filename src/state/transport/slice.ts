import type { Pattern, Song } from '@/core';
import type { PieceId } from '@/core/model';
import type { Ticks } from '@/core/time';
import type { Range } from '@/core/weave';
import type { AudioState } from '@/audio/player';

/** A groove that is tried. */
export interface Audition {
  pattern: Pattern;
  /** Only these pieces, over the song's own drums; absent is all of it. */
  pieces?: readonly PieceId[];
  /** It begins at the next beat or bar, or at once. */
  wait: 'beat' | 'bar' | 'none';
}

/** What is heard, and how. */
export interface TransportSlice {
  /** A groove that is heard in Gather: in place of the song's drums, or alone. */
  audition?: Audition;
  hear: 'pattern' | 'song';
  /** Another state of the song, or another song, that is heard beside it. */
  beside?: {
    song: Song;
    loop?: Range;
    /** While it plays, it takes over at this tick. */
    at?: Ticks;
  };
  playing: boolean;
  audio: AudioState;
  /** How many pairs of outputs the device has, as far as it is known. */
  outputs: number;
  /** How often the device had nothing to put out since the page was opened: the machine was busy. */
  dropouts: number;
  click: boolean;
  countIn: boolean;
  /** Loops of the song and of the pattern; a pattern without one loops whole. */
  songLoop?: Range;
  patternLoop?: Range;
}

export const transport: TransportSlice = {
  hear: 'pattern',
  playing: false,
  audio: 'off',
  outputs: 1,
  dropouts: 0,
  click: false,
  countIn: false,
};
