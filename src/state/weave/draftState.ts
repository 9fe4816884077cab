import { create } from 'zustand';
import type { Song } from '@/core';
import type { WhySpot } from '@/core/draft';

/** What goes on while a song is drafted. */
export interface Drafting {
  /** The families that can be asked for; those of one's own come last. */
  families: readonly { name: string; own: boolean }[];
  working: boolean;
  /** What was wished and could not be had. */
  says: readonly string[];
  /** Whether wishes are of the song or of the chosen section. */
  of: 'song' | 'section';
  /** The song before and after the first draft that was neither kept nor taken back. */
  since?: { before: Song; drafted: Song };
  /** The song as it was when the one before its draft was gone back to, to hear it. */
  after?: Song;
  /** Where it is asked why it is so. */
  why?: WhySpot;
}

export const useDrafting = create<Drafting>(() => ({
  families: [],
  working: false,
  says: [],
  of: 'song',
}));
