import { findPlace } from '@/core';
import { byStaffOrder, spokenPiece, type PieceId } from '@/core/model';

import {
  barAround,
  cloth,
  laidPlaces,
  placesReached,
  REACHES,
  type LaidPlace,
  type Range,
  type Reach,
  type Spot,
} from '@/core/weave';
import { chosenReach, noteReach } from '@/storage/settings';
import { openSongNow, useWorkbench, type Workbench } from '../store';

/** How a place is chosen: alone, up to it from the last one, or beside the others. */
export type Choosing = 'alone' | 'up to' | 'beside';

export function selectPlace(id: string | undefined, how: Choosing = 'alone'): void {
  const { placeId, placeIds } = useWorkbench.getState();
  const nothing = { bars: undefined, laid: undefined };
  if (id === undefined || how === 'alone') {
    useWorkbench.setState({ placeId: id, placeIds: id === undefined ? [] : [id], ...nothing });
    return;
  }
  const { places } = openSongNow();
  if (how === 'beside') {
    const next = placeIds.includes(id) ? placeIds.filter((one) => one !== id) : [...placeIds, id];
    useWorkbench.setState({
      placeId: next.includes(id) ? id : next.at(-1),
      placeIds: next,
      ...nothing,
    });
    return;
  }
  const [a, b] = [placeId ?? id, id].map((one) => places.findIndex((place) => place.id === one));
  const ids = places.slice(Math.min(a, b), Math.max(a, b) + 1).map((place) => place.id);
  // The one it began with stays the first, so that it can grow and shrink from there.
  useWorkbench.setState({ placeIds: ids, ...nothing });
}

/** The chosen places that are there, in the order of the song. */
export function chosenPlaces(state: Workbench = useWorkbench.getState()): string[] {
  const { placeId, placeIds, history } = state;
  const places = history?.song.places ?? [];
  const chosen = places.filter(({ id }) => placeIds.includes(id)).map(({ id }) => id);
  if (chosen.length > 0) return chosen;
  return placeId && places.some(({ id }) => id === placeId) ? [placeId] : [];
}

export function selectAllPlaces(): void {
  const ids = openSongNow().places.map(({ id }) => id);
  useWorkbench.setState(({ placeId }) => ({ placeId: placeId ?? ids[0], placeIds: ids }));
}

/** Selects the place after (or, with -1, before) the selected one; extended, it is chosen as well. */
export function nextPlace(by: 1 | -1, extend = false): void {
  const { placeId, placeIds } = useWorkbench.getState();
  const { places } = openSongNow();
  const indices = placeIds.map((id) => places.findIndex((place) => place.id === id));
  const anchor = places.findIndex((place) => place.id === placeId);
  // The end of the chosen ones that is away from where they began.
  const far = extend
    ? indices.reduce((a, b) => (Math.abs(b - anchor) > Math.abs(a - anchor) ? b : a), anchor)
    : anchor;
  const next = places[Math.max(0, Math.min(places.length - 1, far + by))];
  if (next) selectPlace(next.id, extend ? 'up to' : 'alone');
}

/** Chooses bars of the song, whole ones; the place they begin in is chosen with them. */
export function chooseBars(range: Range | undefined): void {
  if (!range) return useWorkbench.setState({ bars: undefined });
  const song = openSongNow();
  const bars = { from: barAround(song, range.from).from, to: barAround(song, range.to - 1).to };
  const here = laidPlaces(song).findLast(({ start }) => start <= bars.from);
  useWorkbench.setState({
    bars,
    ...(here && { placeId: here.place.id, placeIds: [here.place.id] }),
    laid: undefined,
  });
}

/** Chooses the next bar (or, with -1, the one before), or with `extend` so many more. */
export function stepBars(by: 1 | -1, extend: boolean): void {
  const song = openSongNow();
  const { bars } = useWorkbench.getState();
  const here = chosenPlace();
  if (!here) return;
  const now = bars ?? { from: here.start, to: barAround(song, here.start).to };
  if (!bars) return chooseBars(now);
  const end = laidPlaces(song).at(-1)!.end;
  if (extend) {
    const to =
      by > 0 ? barAround(song, Math.min(end - 1, now.to)).to : barAround(song, now.to - 1).from;
    return chooseBars({ from: now.from, to: Math.max(to, barAround(song, now.from).to) });
  }
  const next = barAround(song, Math.max(0, Math.min(end - 1, by > 0 ? now.to : now.from - 1)));
  chooseBars(next);
}

/** Goes up or down the rows of the cloth. */
export function stepRow(by: 1 | -1): void {
  const { rows } = cloth(openSongNow());
  const { row } = useWorkbench.getState();
  const now = rows.findIndex(({ piece }) => piece === row);
  const next = now < 0 ? (by > 0 ? 0 : rows.length - 1) : now + by;
  useWorkbench.setState({ row: rows[next]?.piece, laid: undefined });
}

export function chooseRow(row: PieceId | undefined): void {
  useWorkbench.setState({ row });
}

/** The place that was chosen last, where it lies. */
export function chosenPlace(state: Workbench = useWorkbench.getState()): LaidPlace | undefined {
  const song = state.history?.song;
  return song && laidPlaces(song).find(({ place }) => place.id === state.placeId);
}

/** What is worked on: the chosen bars as far as they lie in the chosen place, or all of it. */
export function spotNow(state: Workbench = useWorkbench.getState()): Spot | undefined {
  const here = chosenPlace(state);
  if (!here) return undefined;
  const { bars } = state;
  const [from, to] = bars
    ? [Math.max(here.start, bars.from), Math.min(here.end, bars.to)]
    : [here.start, here.end];
  const inside = from < to ? [from, to] : [here.start, here.end];
  return { place: here.place.id, from: inside[0] - here.start, to: inside[1] - here.start };
}

/** The chosen bars, or the chosen places, as stretches of the places they lie in. */
export function spotsNow(state: Workbench = useWorkbench.getState()): Spot[] {
  const song = state.history?.song;
  if (!song) return [];
  const { bars } = state;
  const chosen = chosenPlaces(state);
  return laidPlaces(song).flatMap(({ place, start, end }): Spot[] => {
    if (!bars)
      return chosen.includes(place.id) ? [{ place: place.id, from: 0, to: end - start }] : [];
    const [from, to] = [Math.max(start, bars.from), Math.min(end, bars.to)];
    return from < to ? [{ place: place.id, from: from - start, to: to - start }] : [];
  });
}

/** Chooses how far edits go; it is the same when the page is loaded again. */
export function setReach(reach: Reach): void {
  useWorkbench.setState({ reach });
  void noteReach(reach).catch(() => {});
}

/** Edits go as far as was chosen last in this browser. */
export async function restoreReach(): Promise<void> {
  const reach = await chosenReach().catch(() => undefined);
  if (reach) useWorkbench.setState({ reach });
}

/** The next reach: this place, this section, everywhere, and round again. */
export function nextReach(): void {
  const { reach } = useWorkbench.getState();
  setReach(REACHES[(REACHES.indexOf(reach) + 1) % REACHES.length]);
}

const NONE: readonly string[] = [];
let reached: { key: readonly unknown[]; ids: readonly string[] } = { key: [], ids: NONE };

/** The places that an edit here would change, as far as the reach goes. */
export function placesToChange(state: Workbench): readonly string[] {
  const { history, placeId, reach, opened, stage } = state;
  const place = stage === 'shape' ? opened?.place : placeId;
  const song = history?.song;
  if (!song || !place || !findPlace(song, place)) return NONE;
  const pattern = stage === 'shape' ? opened?.pattern : undefined;
  const several = stage === 'weave' ? state.placeIds : NONE;
  const key = [song.places, song.sections, place, reach, pattern, several];
  if (key.every((part, i) => part === reached.key[i])) return reached.ids;
  const of = several.length > 1 ? several : [place];
  const ids = [
    ...new Set(
      of.flatMap((id) => placesReached(song, { place: id, ...(pattern && { pattern }) }, reach)),
    ),
  ];
  reached = { key, ids };
  return ids;
}

/** "1 place", "3 places". */
export const saidPlaces = (count: number) => (count === 1 ? '1 place' : `${count} places`);

/** The pieces in words: "hi-hat and kick". */
export function saidPieces(pieces: readonly PieceId[]): string {
  const { kit } = openSongNow();
  const names = [...pieces]
    .sort((a, b) => byStaffOrder(a, b, kit))
    .map((piece) => spokenPiece(piece, kit));
  if (names.length > 4) return `${names.length} pieces`;
  return names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}
