import { nanoid } from 'nanoid';
import { findPattern, findPlace, type Command } from '@/core';
import { newSectionFor, type PieceId, type SectionKind } from '@/core/model';
import type { Meter, Ticks } from '@/core/time';
import {
  barAround,
  copyPlaces,
  differencesOf,
  findSpan,
  laidPlaces,
  placeName,
  placesOf,
  roundAt,
  sectionNamed,
  stackOf,
  type Copied,
  type Lengthening,
  type Linking,
  type Lockable,
} from '@/core/weave';
import { openDialog } from '../dialogs/dialogs';
import { notify } from '../notices/notices';
import { goToStage } from '../routes';
import { edit, editOrSay } from '../session/edit';
import { setCursor, showPattern } from '../shape/shape';
import { openSongNow, shownPattern, useWorkbench } from '../store';
import { songPlayhead, setHear, setSongLoop } from '../transport/transport';
import {
  chosenPlace,
  chosenPlaces,
  saidPieces,
  saidPlaces,
  selectPlace,
  spotNow,
} from './choosing';
import { takeOut } from './laying';

/** Where a new place goes: behind the last chosen one, or to the end. */
function indexBehind(): number {
  const { places } = openSongNow();
  const last = chosenPlaces().at(-1);
  const index = places.findIndex(({ id }) => id === last);
  return index < 0 ? places.length : index + 1;
}

/** Makes a section that plays a pattern and puts it after the selected place, or at `index`. */
export function addSection(patternId?: string, index?: number): void {
  const song = openSongNow();
  const pattern =
    (patternId && findPattern(song, patternId)) || shownPattern(useWorkbench.getState());
  if (!pattern || !findPattern(song, pattern.id)) return;
  const section = newSectionFor(pattern, nanoid(8));
  const place = nanoid(8);
  const at = index ?? indexBehind();
  if (edit({ type: 'add section', section, place, index: at })) selectPlace(place);
}

/**
 * Adds a section of a kind behind the chosen place: the one of that kind again, linked, or a new one with
 * the pattern that fits.
 */
export function addKind(kind: SectionKind): void {
  const song = openSongNow();
  const known = song.sections.find((section) => section.kind === kind);
  const index = indexBehind();
  const place = nanoid(8);
  if (known) {
    const copied = { places: [{ id: place, section: known.id, overlay: [] }], sections: [known] };
    const command = {
      type: 'paste places',
      copied,
      index,
      linking: 'linked',
      newIds: [place],
    } as const;
    if (editOrSay(command, 'add section')) selectPlace(place);
    return;
  }
  const { section, pattern } = sectionNamed(song, kind);
  if (!editOrSay({ type: 'add section', section, place, index })) return;
  selectPlace(place);
  if (!pattern) notify(`No pattern of the shelf fits a ${kind} yet: it is silent for now.`);
}

/** Repeats the chosen places behind the last of them, linked to them or on their own. */
export function repeatPlace(linking: Linking = 'linked'): void {
  const ids = chosenPlaces();
  if (ids.length === 0) return;
  const newIds = ids.map(() => nanoid(8));
  const copied = copyPlaces(openSongNow(), ids);
  const label = ids.length === 1 ? 'repeat place' : 'repeat places';
  if (edit({ type: 'paste places', copied, index: indexBehind(), linking, newIds }, label)) {
    selectSeveral(newIds);
  }
}

function selectSeveral(ids: readonly string[]): void {
  useWorkbench.setState({ placeId: ids[0], placeIds: ids, bars: undefined, laid: undefined });
}

let clipboard: { copied: Copied; song: string } | undefined;

export function copyChosen(): void {
  const ids = chosenPlaces();
  if (ids.length === 0) return notify('Choose a section first: press its header.');
  clipboard = { copied: copyPlaces(openSongNow(), ids), song: openSongNow().id };
  notify(`${saidPlaces(ids.length)} copied.`);
}

export function cutChosen(): void {
  copyChosen();
  removePlace();
}

/** Puts what was copied behind the chosen places. */
export function pasteCopied(linking: Linking = 'linked'): void {
  const song = openSongNow();
  if (!clipboard) return notify('Nothing is copied yet: choose sections and copy them first.');
  if (clipboard.song !== song.id) {
    return notify('Sections are pasted in the song they were copied in.', 'error');
  }
  const { copied } = clipboard;
  const newIds = copied.places.map(() => nanoid(8));
  const command: Command = { type: 'paste places', copied, index: indexBehind(), linking, newIds };
  if (editOrSay(command)) selectSeveral(newIds);
}

export function movePlace(to: number, placeId = useWorkbench.getState().placeId): void {
  if (!placeId) return;
  const chosen = chosenPlaces();
  edit({ type: 'move places', places: chosen.includes(placeId) ? chosen : [placeId], to });
}

/** Moves the chosen places one earlier (-1) or later (1). */
export function shiftPlace(by: 1 | -1): void {
  const ids = chosenPlaces();
  const { places } = openSongNow();
  const first = places.findIndex(({ id }) => id === ids[0]);
  if (first >= 0) edit({ type: 'move places', places: ids, to: Math.max(0, first + by) });
}

/** Takes out what is chosen: what is laid over something, or else the chosen places. */
export function removeChosen(): void {
  const { laid } = useWorkbench.getState();
  if (laid && findSpan(openSongNow(), laid)) return takeOut(laid);
  removePlace();
}

export function removePlace(): void {
  const ids = chosenPlaces();
  const index = openSongNow().places.findIndex(({ id }) => id === ids[0]);
  if (ids.length === 0 || !edit({ type: 'remove places', places: ids })) return;
  const { places } = openSongNow();
  selectPlace(places[Math.min(index, places.length - 1)]?.id);
}

/** Splits the chosen place where chosen bars begin, or where it is played. */
export function splitPlace(): void {
  const here = chosenPlace();
  if (!here) return;
  const { bars } = useWorkbench.getState();
  const tick = bars && bars.from > here.start ? bars.from : songPlayhead();
  const bar = barIndex(tick);
  if (bar === undefined || bar < 1) {
    return notify('Choose the bar where the second part is to begin: press it below the cloth.');
  }
  editOrSay({ type: 'split place', place: here.place.id, bar });
}

/** Which bar of the chosen place a tick of the song lies in, counted from 0. */
function barIndex(tick: Ticks): number | undefined {
  const here = chosenPlace();
  if (!here || tick < here.start || tick >= here.end) return undefined;
  const song = openSongNow();
  let bar = 0;
  for (let at = here.start; barAround(song, at).to <= tick; at = barAround(song, at).to) bar++;
  return bar;
}

export function mergePlace(): void {
  const here = chosenPlace();
  if (here) editOrSay({ type: 'merge with next', place: here.place.id });
}

export function putOnItsOwn(): void {
  const here = chosenPlace();
  if (!here) return;
  if (placesOf(openSongNow(), here.section.id) === 1) {
    return notify('It is unlinked already: no other place plays this section.');
  }
  editOrSay({ type: 'unlink', place: here.place.id });
}

/** Links the chosen place to another section. @param keep its differences stay as its own changes */
export function linkPlace(section: string, keep: boolean): boolean {
  const here = chosenPlace();
  return (
    here !== undefined && editOrSay({ type: 'link place', place: here.place.id, section, keep })
  );
}

/** What the chosen place plays otherwise than another section, in words. */
export function saidDifferences(section: string): string[] {
  const here = chosenPlace();
  if (!here) return [];
  return differencesOf(openSongNow(), here.place.id, section).map((region) => {
    const [first, last] = [region.from, region.to - 1].map(
      (at) => (barIndex(here.start + at) ?? 0) + 1,
    );
    const where = first === last ? `bar ${first}` : `bars ${first} to ${last}`;
    return `${where}: ${saidPieces(region.pieces)}`;
  });
}

/**
 * What of a place is meant by its own: what is chosen of what is laid, or the changes in the chosen bars
 * and row; fills only where there is nothing else.
 */
function ownOf(placeId: string): string[] {
  const { laid, bars, row } = useWorkbench.getState();
  const here = laidPlaces(openSongNow()).find(({ place }) => place.id === placeId);
  if (!here) return [];
  const over = stackOf(here).filter(({ overlay }) => overlay);
  if (laid?.of === 'place' && laid.id === placeId) return [laid.span];
  const inside = over.filter(
    ({ span, from, to }) =>
      (!bars || (here.start + from < bars.to && here.start + to > bars.from)) &&
      (!row || span.pieces === 'all' || span.pieces.includes(row)),
  );
  const changes = inside.filter(({ span }) => span.role !== 'fill');
  return (changes.length > 0 ? changes : inside).map(({ span }) => span.id);
}

/** Takes away what is changed at the chosen places only. */
export function asSection(): void {
  const commands = chosenPlaces().flatMap((place): Command[] => {
    const spans = ownOf(place);
    return spans.length > 0 ? [{ type: 'undo local changes', place, spans }] : [];
  });
  if (commands.length === 0)
    return notify('Nothing is changed here only: there are no local changes to undo.');
  edit(commands, 'undo local changes');
}

/** Carries what is laid over the chosen place into all places of its section. */
export function makeSections(): void {
  const here = chosenPlace();
  if (!here) return;
  const spans = ownOf(here.place.id);
  if (spans.length === 0) return notify('Nothing is laid over this place only.');
  const count = placesOf(openSongNow(), here.section.id);
  if (editOrSay({ type: 'apply to all linked', place: here.place.id, spans })) {
    notify(`Applied to all linked places: ${saidPlaces(count)} changed.`);
  }
}

/** Marks the chosen places as the same on purpose, or not any more. */
export function toggleMeant(): void {
  const places = chosenPlaces();
  const meant = !places.every((id) => findPlace(openSongNow(), id)?.meant);
  if (places.length > 0) edit({ type: 'mark as meant', places, meant });
}

/** Locks something against change, or lifts its lock. */
export function toggleLock(of: Lockable): void {
  const song = openSongNow();
  const here = chosenPlace();
  const shown = shownPattern(useWorkbench.getState());
  const held =
    of === 'song'
      ? song
      : of === 'pattern'
        ? shown && findPattern(song, shown.id)
        : of === 'place'
          ? here?.place
          : here?.section;
  if (!held) return notify('Choose a section first: press its header.');
  const on = !held.locked;
  if (edit({ type: 'lock', of, id: held.id, on }, on ? `lock ${of}` : `unlock ${of}`)) {
    notify(on ? `The ${of} is locked against change.` : `The ${of} can be changed again.`);
  }
}

/** Gives a chosen section more or fewer bars. */
export function setSectionBars(bars: number, how?: Lengthening): void {
  const here = chosenPlace();
  if (here) {
    editOrSay({ type: 'set section bars', section: here.section.id, bars, ...(how && { how }) });
  }
}

/** Counts the chosen section in a meter from a bar on; at one place only, it comes on its own first. */
export function setMeterFrom(bar: number, meter: Meter): void {
  const here = chosenPlace();
  if (!here) return;
  const song = openSongNow();
  const alone = useWorkbench.getState().reach === 'place' && placesOf(song, here.section.id) > 1;
  if (alone && !edit({ type: 'unlink', place: here.place.id })) return;
  const section = findPlace(openSongNow(), here.place.id)!.section;
  edit({ type: 'set meter at', section, bar, meter });
}

/** Opens what plays at a tick of the song in Shape, in its place: it is heard in the song. */
export function openInPlace(tick: Ticks, piece?: PieceId): void {
  const song = openSongNow();
  const laid = laidPlaces(song).find(({ start, end }) => tick >= start && tick < end);
  const round = laid && roundAt(song, laid, tick - laid.start, piece);
  if (!laid || !round) return notify('Nothing plays there: put a pattern into this section first.');
  showPattern(round.pattern);
  selectPlace(laid.place.id);
  useWorkbench.setState({ opened: { place: laid.place.id, ...round } });
  const shown = shownPattern(useWorkbench.getState());
  if (shown) {
    const bar = barAround(song, tick).from - laid.start - round.from;
    const at = Math.max(0, Math.min(shown.length - shown.step, bar));
    const there = piece && shown.strands.some((strand) => strand.piece === piece);
    setCursor(
      there ? piece : useWorkbench.getState().cursor.piece,
      Math.floor(at / shown.step) * shown.step,
    );
  }
  setHear('song');
  goToStage('shape');
}

/** Opens the chosen bars, or the chosen section's beginning, in Shape. */
export function openChosen(): void {
  const spot = spotNow();
  const here = chosenPlace();
  if (!spot || !here) return notify('Choose a section first: press its header.');
  openInPlace(here.start + spot.from, useWorkbench.getState().row);
}

/** Works on the pattern itself again, wherever it is played. */
export function closeInPlace(): void {
  useWorkbench.setState({ opened: undefined });
}

/** Loops the chosen places, or the chosen bars. */
export function loopPlace(): void {
  const { bars } = useWorkbench.getState();
  if (bars) return setSongLoop(bars);
  const ids = chosenPlaces();
  const laid = laidPlaces(openSongNow()).filter(({ place }) => ids.includes(place.id));
  if (laid.length > 0) setSongLoop({ from: laid[0].start, to: laid.at(-1)!.end });
}

/** Where in the song the selected place starts. */
export function selectedStart(): number {
  const { bars } = useWorkbench.getState();
  return bars?.from ?? chosenPlace()?.start ?? 0;
}

/** What the chosen place is called. */
export function saidChosen(): string {
  const ids = chosenPlaces();
  const here = chosenPlace();
  if (ids.length > 1) return saidPlaces(ids.length);
  return here ? placeName(openSongNow(), here) : 'nothing';
}

/** Lays the song out as a form says. */
export function layForm(text: string): boolean {
  return editOrSay({ type: 'lay out a form', text });
}

export const openForm = () => openDialog('form');
