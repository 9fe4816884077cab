import { nanoid } from 'nanoid';
import { findPattern, findPlace } from '@/core';
import { newSectionFor, spanOver } from '@/core/model';
import { laidPlaces } from '@/core/weave';
import { edit } from '../session/edit';
import { openSongNow, shownPattern, useWorkbench } from '../store';
import { setSongLoop } from '../transport/transport';

export function selectPlace(id: string | undefined): void {
  useWorkbench.setState({ placeId: id });
}

/** Selects the place after (or, with -1, before) the selected one. */
export function nextPlace(by: 1 | -1): void {
  const { places } = openSongNow();
  const now = places.findIndex((place) => place.id === useWorkbench.getState().placeId);
  const next = places[Math.max(0, Math.min(places.length - 1, now + by))];
  if (next) selectPlace(next.id);
}

/** Makes a section that plays a pattern and puts it after the selected place, or at `index`. */
export function addSection(patternId?: string, index?: number): void {
  const song = openSongNow();
  const state = useWorkbench.getState();
  const pattern = (patternId && findPattern(song, patternId)) || shownPattern(state);
  if (!pattern) return;
  const selected = song.places.findIndex((place) => place.id === state.placeId);
  const at = index ?? (selected < 0 ? song.places.length : selected + 1);
  const section = newSectionFor(pattern, nanoid(8));
  const place = nanoid(8);
  if (edit({ type: 'add section', section, place, index: at })) selectPlace(place);
}

export function repeatPlace(): void {
  const { placeId } = useWorkbench.getState();
  const newId = nanoid(8);
  if (placeId && edit({ type: 'repeat place', place: placeId, newId })) selectPlace(newId);
}

export function movePlace(to: number, placeId = useWorkbench.getState().placeId): void {
  if (placeId) edit({ type: 'move place', place: placeId, to });
}

/** Moves the selected place one earlier (-1) or later (1). */
export function shiftPlace(by: 1 | -1): void {
  const { placeId } = useWorkbench.getState();
  const index = openSongNow().places.findIndex((place) => place.id === placeId);
  if (index >= 0) movePlace(index + by);
}

export function removePlace(): void {
  const { placeId } = useWorkbench.getState();
  const index = openSongNow().places.findIndex((place) => place.id === placeId);
  if (!placeId || !edit({ type: 'remove place', place: placeId })) return;
  const { places } = openSongNow();
  selectPlace(places[Math.min(index, places.length - 1)]?.id);
}

/** Lays a pattern over the end of the selected place, only there: as a fill. */
export function layFill(patternId: string): void {
  const { placeId: place } = useWorkbench.getState();
  if (place) edit({ type: 'lay a fill', place, pattern: patternId, span: nanoid(8) });
}

/** Makes a pattern what the selected section plays, in all its places. */
export function playInSection(patternId: string): void {
  const place = selectedPlace();
  if (!place) return;
  const span = spanOver(patternId, nanoid(8));
  edit({ type: 'add span', section: place.section, span }, 'change pattern');
}

function selectedPlace() {
  const { placeId } = useWorkbench.getState();
  return placeId ? findPlace(openSongNow(), placeId) : undefined;
}

/** Loops the selected place. */
export function loopPlace(): void {
  const { placeId } = useWorkbench.getState();
  const laid = laidPlaces(openSongNow()).find(({ place }) => place.id === placeId);
  if (laid) setSongLoop({ from: laid.start, to: laid.end });
}

/** Where in the song the selected place starts. */
export function selectedStart(): number {
  const { placeId } = useWorkbench.getState();
  return laidPlaces(openSongNow()).find(({ place }) => place.id === placeId)?.start ?? 0;
}
