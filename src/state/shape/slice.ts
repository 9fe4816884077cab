import type { CommandName, Menu } from '@/core/commands';
import type { PieceId, TurnKind } from '@/core/model';
import type { Clip, LaneId, PasteMode } from '@/core/pattern';
import type { Ticks, Velocity } from '@/core/time';

export type ToolValue = number | string | readonly number[];

/** A command at work whose effect is seen and heard before it is kept: its values, and its hits. */
export interface OpenTool {
  /** A command, or a way of choosing hits. */
  name: CommandName | 'select by description';
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

/** What Shape shows and works on. */
export interface ShapeSlice {
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
  zoom: { beat?: number; rows: number; fit?: true };
  follow: boolean;
  /** Strands that are not heard, or heard alone, while they are worked on. Files hold everything. */
  muted: readonly PieceId[];
  soloed: readonly PieceId[];
  /** The track whose rows are alone on the sheet; choosing all then chooses all of that track. */
  onlyTrack?: string;
  /** The one lane that is shown, and on which row. */
  lane?: { piece: PieceId; id: LaneId };
  /** A tool whose effect is shown before it is kept. */
  tool?: OpenTool;
  /** Which menu of tools is open. */
  menu?: Menu;
  /** Suggestions for the turn of a pattern that has grown. */
  turn?: { pattern: string; seed: number; dismissed: readonly TurnKind[]; heard?: TurnKind };
  pads: Pads;
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

export const shape: ShapeSlice = {
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
};
