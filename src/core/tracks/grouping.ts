import {
  articulationOf,
  byTrackOrder,
  layoutOf,
  trackOfHit,
  type Pattern,
  type PieceId,
  type RowView,
  type Song,
  type Track,
} from '../model';

type Grouped = Pick<Song, 'layouts' | 'layout' | 'kit'>;

/** Rows that stand together because one track holds them. */
export interface TrackRows {
  track: Track;
  pieces: PieceId[];
}

/** Rows that follow each other and are on one track of the layout in use, from the top. */
export function tracksOfRows(song: Grouped, pieces: readonly PieceId[]): TrackRows[] {
  const layout = layoutOf(song);
  const groups: TrackRows[] = [];
  for (const piece of pieces) {
    const id = trackOfHit(layout, song.kit, { piece, articulation: '' });
    const last = groups.at(-1);
    if (last?.track.id === id) last.pieces.push(piece);
    else groups.push({ track: layout.tracks.find((one) => one.id === id)!, pieces: [piece] });
  }
  return groups;
}

/** The hits of a pattern that are on a track of the layout in use. */
export function hitsOnTrack(song: Grouped, pattern: Pattern, track: string): Set<string> {
  const layout = layoutOf(song);
  const ids = new Set<string>();
  for (const { piece, hits } of pattern.strands) {
    for (const { id, articulation, source } of hits) {
      const on = trackOfHit(layout, song.kit, { piece, articulation, channel: source });
      if (on === track) ids.add(id);
    }
  }
  return ids;
}

/**
 * How the rows of a pattern are shown by the layout in use: in the order of its tracks, unless they were
 * moved by hand.
 * @param only a track whose rows are alone: those of pieces that can be struck on it
 * @returns the very same view where the layout changes nothing
 */
export function rowsByTrack(
  song: Grouped,
  pattern: Pattern,
  view: RowView,
  only?: string,
): RowView {
  const pieces = pattern.strands.map(({ piece }) => piece);
  const order = view.order ?? [...pieces].sort(byTrackOrder(song));
  const moved = !view.order && order.some((piece, i) => piece !== pieces[i]);
  const elsewhere = only === undefined ? [] : pieces.filter((piece) => !canBeOn(song, piece, only));
  if (!moved && elsewhere.length === 0) return view;
  const hidden = new Set([...(view.hidden ?? []), ...elsewhere]);
  return { ...view, ...(moved && { order }), hidden: [...hidden] };
}

/** Whether any stroke of a piece is on a track of the layout in use. */
function canBeOn(song: Grouped, piece: PieceId, track: string): boolean {
  const { kit } = song;
  const layout = layoutOf(song);
  const ways = kit.pieces.find(({ id }) => id === piece)?.articulations ?? [
    articulationOf(piece, '', kit),
  ];
  return ways.some(({ id }) => trackOfHit(layout, kit, { piece, articulation: id }) === track);
}
