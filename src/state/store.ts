import type { TurnKind, PieceId } from '@/core/model';
import { create } from 'zustand';
import { immer } from 'zustand/middleware/immer';
import { findPattern, type ImportReport, type Pattern, type Song } from '@/core';
import type { History } from '@/core/commands';
import type { Clip, PasteMode, LaneId } from '@/core/pattern';
import type { Ticks, Velocity } from '@/core/time';
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

export const TOOL_GROUPS = [
  'select',
  'velocity',
  'timing',
  'voice',
  'time',
  'ornaments',
  'row',
  'pattern',
] as const;
export type ToolGroup = (typeof TOOL_GROUPS)[number];

export type ToolValue = number | string | readonly number[];

/** A tool at work: its values, and the hits it was opened for. */
export interface OpenTool {
  id: string;
  ids: readonly string[];
  values: Readonly<Record<string, ToolValue>>;
  /** Why it changes nothing as it stands. */
  problem?: string;
}

/** What a pad plays. */
export interface PadSound {
  piece: PieceId;
  articulation: string;
}

/** The pads, and how what is played on them is written down. */
export interface Pads {
  open: boolean;
  sounds: readonly PadSound[];
  recording: boolean;
  /** Overdub adds to what is there; replace clears the rows that are played, pass by pass. */
  mode: 'overdub' | 'replace';
  /** Percent of the way to the nearest step. */
  quantize: number;
  /** Milliseconds between the stroke and its arrival here. */
  latency: number;
  /** A controller that the browser was allowed to listen to. */
  controller?: string;
}

/** A groove that is tried. */
export interface Audition {
  pattern: Pattern;
  /** Only these pieces, over the song's own drums; absent is all of it. */
  pieces?: readonly PieceId[];
  /** It begins at the next beat or bar, or at once. */
  wait: 'beat' | 'bar' | 'none';
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
  /** How often the song was changed since it was opened, and which of these changes is in storage. */
  edits: number;
  kept: number;

  stage: Stage;
  dialog?: 'palette' | 'keys' | 'tablature' | 'take' | 'guides' | 'note map';
  /** A tool of Shape whose effect is shown before it is kept. */
  tool?: OpenTool;
  /** Which menu of tools is open. */
  menu?: ToolGroup;
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
  pasteMode: PasteMode;
  /** Hits are painted on every n-th step. */
  paintEvery: number;
  zoom: { beat?: number; rows: number };
  follow: boolean;
  /** Strands that are not heard, or heard alone, while they are worked on. Files hold everything. */
  muted: readonly PieceId[];
  soloed: readonly PieceId[];
  /** The one lane that is shown, and on which row. */
  lane?: { piece: PieceId; id: LaneId };
  /** Suggestions for the turn of a pattern that has grown. */
  turn?: { pattern: string; seed: number; dismissed: readonly TurnKind[]; heard?: TurnKind };
  pads: Pads;
  placeId?: string;

  /** A groove that is heard in Gather: in place of the song's drums, or alone. */
  audition?: Audition;
  hear: 'pattern' | 'song';
  playing: boolean;
  audio: AudioState;
  click: boolean;
  countIn: boolean;
  /** Loops of the song and of the pattern; a pattern without one loops whole. */
  songLoop?: Range;
  patternLoop?: Range;
}

/** Eight sounds under each hand: drums below, metal above. */
export const USUAL_PADS: readonly PadSound[] = [
  ['crash', 'edge'],
  ['splash', 'edge'],
  ['hihat', 'closed'],
  ['hihat', 'half-open'],
  ['hihat', 'open'],
  ['hihat', 'pedal'],
  ['ride', 'bow'],
  ['ride', 'bell'],
  ['kick', 'beater'],
  ['snare', 'centre'],
  ['snare', 'rim'],
  ['snare', 'side-stick'],
  ['tom-high', 'struck'],
  ['tom-low-mid', 'struck'],
  ['tom-high-floor', 'struck'],
  ['cowbell', 'struck'],
].map(([piece, articulation]) => ({ piece, articulation }));

export const initial: Workbench = {
  status: 'idle',
  readOnly: false,
  saving: { state: 'saved' },
  edits: 0,
  kept: 0,
  stage: 'shape',
  notices: [],
  selection: [],
  cursor: { piece: 'snare', at: 0 },
  strength: 96,
  articulations: {},
  pasteMode: 'add',
  paintEvery: 1,
  zoom: { rows: 1 },
  follow: true,
  muted: [],
  soloed: [],
  pads: {
    open: false,
    sounds: USUAL_PADS,
    recording: false,
    mode: 'overdub',
    quantize: 80,
    latency: 0,
  },
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

/** The strands that are not heard while this pattern is worked on. */
export function silentRows(
  pattern: Pattern,
  muted: readonly PieceId[],
  soloed: readonly PieceId[],
): ReadonlySet<PieceId> {
  const pieces = pattern.strands.map((strand) => strand.piece);
  const alone = pieces.filter((piece) => soloed.includes(piece));
  return new Set(
    pieces.filter((piece) => muted.includes(piece) || (alone.length > 0 && !alone.includes(piece))),
  );
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
