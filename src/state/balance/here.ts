import { layoutOf, trackOfHit, type PieceId, type Song, type Track } from '@/core/model';
import { isSilent, stripOf, stripsOf } from '@/core/tracks';
import { notify } from '../notices/notices';
import { useWorkbench, type Workbench } from '../store';
import { chosenTrack, toggleMark, type Mark } from './balance';

/** The track of the row that is worked on in Shape or Weave, and elsewhere the one chosen in Balance. */
export function trackHere(state: Workbench = useWorkbench.getState()): Track | undefined {
  const song = state.history?.song;
  if (!song) return undefined;
  const { stage, cursor, row, articulations } = state;
  if (stage === 'shape') return trackOfRow(song, cursor.piece, articulations[cursor.piece]);
  if (stage === 'weave') return row === undefined ? undefined : trackOfRow(song, row);
  return chosenTrack(state);
}

/** The track of a row; of a piece whose strokes are on several tracks, that of one way of striking it. */
export function trackOfRow(song: Song, piece: PieceId, articulation = ''): Track | undefined {
  const layout = layoutOf(song);
  const id = trackOfHit(layout, song.kit, { piece, articulation });
  return layout.tracks.find((track) => track.id === id);
}

/** Mutes the track of the row that is worked on, or hears it alone, or takes that back. */
export function markHere(mark: Mark): void {
  const track = trackHere();
  if (!track) return notify('Choose a row first: its track is what is heard.');
  toggleMark(mark, track.id);
  const on = stripOf(useWorkbench.getState().history!.song, track.id)[mark] === true;
  notify(
    `${track.name}: ${mark === 'mute' ? (on ? 'muted' : 'not muted') : on ? 'alone' : 'not alone'}.`,
  );
}

/** Whether the mix lets the track of a row be silent. */
export function isRowSilent(song: Song, piece: PieceId): boolean {
  const track = trackOfRow(song, piece);
  return track !== undefined && isSilent(stripOf(song, track.id), stripsOf(song));
}
