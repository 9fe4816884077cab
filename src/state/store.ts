import { create } from 'zustand';
import { immer } from 'zustand/middleware/immer';
import { findPattern, type ImportReport, type Pattern, type Song } from '@/core';
import type { History } from '@/core/commands/history';
import type { PieceId } from '@/core/model/pieces';
import type { Clip } from '@/core/pattern/clip';
import type { Ticks, Velocity } from '@/core/time/units';
import type { AudioState } from '@/audio/player';
import type { Saving } from '@/storage/autosave';

export const STAGES = ['gather', 'shape', 'weave', 'balance', 'deliver'] as const;
export type Stage = (typeof STAGES)[number];

/** A stretch of time, in ticks of the song or of a pattern. */
export interface Range {
  from: Ticks;
  to: Ticks;
}

/** A sentence for the user, with something to press if there is something to do about it. */
export interface Notice {
  id: string;
  message: string;
  kind: 'info' | 'error';
  action?: { label: string; run: () => void };
}

/** A file on its way in: being read, or read and waiting for a decision. */
export interface Incoming {
  name: string;
  bytes: Uint8Array;
  reading: boolean;
  report?: ImportReport;
  song?: Song;
}

export interface Workbench {
  /** `idle` until a song is asked for; `problem` when it could not be opened. */
  status: 'idle' | 'loading' | 'ready' | 'problem';
  problem?: string;
  songId?: string;
  history?: History;
  /** What the song was before the gesture that is going on: a drag is one step of undo. */
  gesture?: { before: History; label: string };
  /** Another tab holds the song. */
  readOnly: boolean;
  saving: Saving;

  stage: Stage;
  dialog?: 'palette' | 'keys';
  incoming?: Incoming;
  notices: Notice[];

  patternId?: string;
  selection: readonly string[];
  cursor: { piece: PieceId; at: Ticks };
  /** The other corner of a selection made with the keys. */
  anchor?: { piece: PieceId; at: Ticks };
  /** How hard the next hit placed with a key is struck. */
  strength: Velocity;
  /** How each piece is struck when a hit is placed; absent is the usual way. */
  articulations: Readonly<Record<PieceId, string>>;
  clip?: Clip;
  placeId?: string;

  hear: 'pattern' | 'song';
  playing: boolean;
  audio: AudioState;
  click: boolean;
  countIn: boolean;
  /** Loops of the song and of the pattern; a pattern without one loops whole. */
  songLoop?: Range;
  patternLoop?: Range;
}

export const initial: Workbench = {
  status: 'idle',
  readOnly: false,
  saving: { state: 'saved' },
  stage: 'shape',
  notices: [],
  selection: [],
  cursor: { piece: 'snare', at: 0 },
  strength: 96,
  articulations: {},
  hear: 'pattern',
  playing: false,
  audio: 'off',
  click: false,
  countIn: false,
};

/** What is on the workbench. Changed by the functions of this folder, never by components. */
export const useWorkbench = create<Workbench>()(immer(() => initial));

/** The song on the workbench; throws when none is open, which is a mistake of the caller. */
export function openSongNow(): Song {
  const { history } = useWorkbench.getState();
  if (!history) throw new Error('No song is open');
  return history.song;
}

/** The pattern that Shape shows: the chosen one, or the first of the song. */
export function shownPattern(state: Workbench): Pattern | undefined {
  const song = state.history?.song;
  if (!song) return undefined;
  return (state.patternId && findPattern(song, state.patternId)) || song.patterns[0];
}

let noticeCount = 0;

/** Says something to the user; it goes away by itself unless it is an error. */
export function notify(
  message: string,
  kind: Notice['kind'] = 'info',
  action?: Notice['action'],
): void {
  const id = `n${++noticeCount}`;
  useWorkbench.setState((state) => {
    state.notices.push({ id, message, kind, action });
  });
}

export function dismissNotice(id: string): void {
  useWorkbench.setState((state) => {
    state.notices = state.notices.filter((notice) => notice.id !== id);
  });
}
