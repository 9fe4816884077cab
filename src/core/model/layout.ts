import type { Channel } from '../time';
import { articulationOf, byStaffOrder, DEFAULT_KIT, pieceOf, type Kit, type PieceId } from './kit';

/** One track: a way of looking at hits, never a copy of them. */
export interface Track {
  id: string;
  name: string;
}

/** Which hits go to a track. What is absent does not matter. */
export interface LayoutRule {
  piece?: PieceId;
  articulation?: string;
  /** The MIDI channel a hit was read from, counted from 0. */
  source?: Channel;
  track: string;
}

/**
 * How hits are spread over tracks: the first rule that fits decides, and the last one takes all. So
 * every hit is on exactly one track.
 */
export interface TrackLayout {
  id: string;
  name: string;
  tracks: readonly Track[];
  rules: readonly LayoutRule[];
}

/** What a rule may ask of a hit. */
export interface Routed {
  piece: PieceId;
  articulation: string;
  source?: Channel;
}

/** The track a hit is on. */
export function trackOf({ rules }: TrackLayout, hit: Routed): string {
  const rule = rules.find(
    ({ piece, articulation, source }) =>
      (piece === undefined || piece === hit.piece) &&
      (articulation === undefined || articulation === hit.articulation) &&
      (source === undefined || source === hit.source),
  );
  return (rule ?? rules[rules.length - 1]).track;
}

/** The track a hit is on, struck as the kit has it where its own way is unknown. */
export function trackOfHit(
  layout: TrackLayout,
  kit: Kit,
  { piece, articulation, channel }: { piece: PieceId; articulation: string; channel?: Channel },
): string {
  const way = articulationOf(piece, articulation, kit).id;
  return trackOf(layout, { piece, articulation: way, source: channel });
}

/** All on one track. */
export const ONE_TRACK: TrackLayout = {
  id: 'one',
  name: 'one track',
  tracks: [{ id: 'drums', name: 'drums' }],
  rules: [{ track: 'drums' }],
};

/** The track of what no rule names. */
const OTHER: Track = { id: 'other', name: 'other notes' };

/**
 * A track for each piece, in staff order.
 * @param more pieces beside those of the kit: notes that it does not have
 */
export function layoutByPiece(kit: Kit = DEFAULT_KIT, more: readonly PieceId[] = []): TrackLayout {
  const pieces = [...new Set([...kit.pieces.map(({ id }) => id), ...more])];
  pieces.sort((a, b) => byStaffOrder(a, b, kit));
  return {
    id: 'pieces',
    name: 'by piece',
    tracks: [...pieces.map((id) => ({ id, name: pieceOf(id, kit).name })), OTHER],
    rules: [...pieces.map((piece) => ({ piece, track: piece })), { track: OTHER.id }],
  };
}

export const BY_PIECE: TrackLayout = layoutByPiece();

/** The layouts of a song, and the id of the one in use. */
interface HasLayouts {
  layouts: readonly TrackLayout[];
  layout: string;
}

/** The layout in use. */
export function layoutOf(song: HasLayouts): TrackLayout {
  return song.layouts.find(({ id }) => id === song.layout) ?? song.layouts[0] ?? BY_PIECE;
}

/**
 * Compares two pieces by their tracks in the layout in use, and on one track by the order of a drum staff.
 * A piece whose strokes are on several tracks stands with its usual one.
 */
export function byTrackOrder(song: HasLayouts & { kit: Kit }): (a: PieceId, b: PieceId) => number {
  const { kit } = song;
  const layout = layoutOf(song);
  const order = new Map(layout.tracks.map(({ id }, i) => [id, i]));
  const place = (piece: PieceId) =>
    order.get(trackOfHit(layout, kit, { piece, articulation: '' })) ?? order.size;
  return (a, b) => place(a) - place(b) || byStaffOrder(a, b, kit);
}
