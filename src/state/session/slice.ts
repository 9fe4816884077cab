import type { ImportOptions, ImportReport, Problem, Song } from '@/core';
import type { Command, History } from '@/core/commands';
import type { SongView } from '@/core/model';
import type { Saving, Unsaved } from '@/storage/keeper';

/** A file on its way in: being read, or read and waiting for a decision. */
export interface Incoming {
  name: string;
  bytes: Uint8Array;
  reading: boolean;
  report?: ImportReport;
  song?: Song;
  /** How it is read: which tracks, through which note map, cut into parts that repeat or not. */
  asked: ImportOptions;
  /** Parts of it that come in as guides, by their ids. */
  guides: readonly string[];
}

/** The song that is open, its history, and whether it is kept. */
export interface SessionSlice {
  /** `idle` until a song is asked for; `problem` when it could not be opened. */
  status: 'idle' | 'loading' | 'ready' | 'problem';
  problem?: string;
  songId?: string;
  history?: History;
  /** What the song was before the gesture that is going on: a drag is one step of undo. */
  gesture?: {
    before: History;
    label: string;
    /** The commands that it shows. */
    commands: readonly Command[];
    /** It is only seen and heard: what comes next takes it back. */
    trying?: true;
  };
  /** How the patterns of the song are shown; no part of the song. */
  view: SongView;
  /** What was not sound when the song was opened, and is left out of it. */
  lost: readonly Problem[];
  /** Another tab holds the song. */
  readOnly: boolean;
  /** It was deleted in another tab: here it can only be looked at, or brought back. */
  gone?: true;
  saving: Saving;
  /** Songs of this tab whose last changes could not be stored, the open one and others. */
  unsaved: readonly Unsaved[];
  /** How often the song was changed since it was opened, and which of these changes is in storage. */
  edits: number;
  kept: number;
  incoming?: Incoming;
}

export const session: SessionSlice = {
  status: 'idle',
  view: {},
  lost: [],
  readOnly: false,
  saving: { state: 'saved' },
  unsaved: [],
  edits: 0,
  kept: 0,
};
