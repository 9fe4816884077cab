import { create } from 'zustand';
import { Latest } from '@/core/memo';
import {
  DEFAULT_KIT,
  findPattern,
  layoutOf,
  type Kit,
  type Pattern,
  type RowView,
  type Song,
  type Track,
} from '@/core/model';
import { rowsByTrack } from '@/core/tracks';
import { openedPattern, WOVEN } from '@/core/weave';
import { balance, type BalanceSlice } from './balance/slice';
import { deliver, type DeliverSlice } from './deliver/slice';
import { dialogs, type DialogsSlice } from './dialogs/slice';
import { notices, type NoticesSlice } from './notices/slice';
import { session, type SessionSlice } from './session/slice';
import { shape, type ShapeSlice } from './shape/slice';
import { transport, type TransportSlice } from './transport/slice';
import { weave, type WeaveSlice } from './weave/slice';

export { STAGES, type Stage } from './dialogs/slice';
export type { Notice } from './notices/slice';
export type { Incoming } from './session/slice';
export { USUAL_PADS, type OpenTool, type Pads, type PadSound, type ToolValue } from './shape/slice';
export type { Audition } from './transport/slice';

/** What is on the workbench, concern by concern. */
export interface Workbench
  extends
    SessionSlice,
    TransportSlice,
    ShapeSlice,
    WeaveSlice,
    BalanceSlice,
    DeliverSlice,
    NoticesSlice,
    DialogsSlice {}

export const initial: Workbench = {
  ...session,
  ...transport,
  ...shape,
  ...weave,
  ...balance,
  ...deliver,
  ...notices,
  ...dialogs,
};

/** What is on the workbench. Changed by the functions of this folder, never by components. */
export const useWorkbench = create<Workbench>()(() => initial);

/** The song on the workbench; throws when none is open, which is a mistake of the caller. */
export function openSongNow(): Song {
  const { history } = useWorkbench.getState();
  if (!history) throw new Error('No song is open');
  return history.song;
}

/** The kit of the open song, or the usual one. */
export const kitOf = (state: Workbench): Kit => state.history?.song.kit ?? DEFAULT_KIT;

/** The pattern that Shape shows: the chosen one, or the first of the song. */
export function shownPattern(state: Workbench): Pattern | undefined {
  const song = state.history?.song;
  return song && patternOn(state, song);
}

/** The pattern that Shape shows, as it is in a song: the present one, or the one before a gesture. */
export function patternOn(state: Workbench, song: Song): Pattern | undefined {
  const { opened, reach, patternId } = state;
  const inPlace = opened && openedPattern(song, opened, reach);
  if (inPlace) return inPlace;
  return (patternId && findPattern(song, patternId)) || song.patterns[0];
}

const NO_VIEW: RowView = {};

/** How the rows of a pattern are shown as they were put by hand. */
export function viewOf(state: Workbench, pattern: Pattern | undefined): RowView {
  const id = pattern?.id === WOVEN ? state.opened?.pattern : pattern?.id;
  return (id !== undefined && state.view[id]) || NO_VIEW;
}

/** The track whose rows are alone on the sheet, while the layout in use has it. */
export function onlyTrackOf({ history, onlyTrack }: Workbench): Track | undefined {
  if (!history || onlyTrack === undefined) return undefined;
  return layoutOf(history.song).tracks.find(({ id }) => id === onlyTrack);
}

const grouped = new Latest<readonly unknown[], RowView>(4, 1);

/** How the rows of a pattern are shown: as they were put by hand, by the tracks of the layout in use. */
export function rowViewOf(state: Workbench, pattern: Pattern): RowView {
  const song = state.history?.song;
  const view = viewOf(state, pattern);
  if (!song) return view;
  const rows = pattern.strands.map(({ piece }) => piece).join();
  const only = onlyTrackOf(state)?.id;
  const key = [rows, view, layoutOf(song), song.kit, only];
  return grouped.of(
    '',
    (known) => known.every((part, i) => part === key[i]),
    key,
    () => rowsByTrack(song, pattern, view, only),
  );
}
