import type { Command } from '@/core';
import { MIN_BPM, type Bpm, type Ticks } from '@/core/time';
import { bpmAt, laidPlaces, placesOf, type LaidPlace } from '@/core/weave';
import { edit } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';

/** Whether a tempo that is set in a place now is only its own, and not of all places of its section. */
export const isTempoAlone = (laid: LaidPlace): boolean =>
  !sharesTempos(laid) || useWorkbench.getState().reach === 'place';

/** Whether a place shares the tempos of its section with other places. */
const sharesTempos = ({ place, section }: LaidPlace) =>
  !place.tempos && placesOf(openSongNow(), section.id) > 1;

/** Tempos of its own for a place that shares them, so that what is done to them is done to it alone. */
const aloneFirst = (laid: LaidPlace): Command[] =>
  sharesTempos(laid) ? [{ type: 'own tempos', place: laid.place.id, own: true }] : [];

/** Commands on the tempos of a place, as far as the reach goes: on its own, or on those of its section. */
const asFarAsReach = (laid: LaidPlace, commands: readonly Command[]): Command[] => [
  ...(useWorkbench.getState().reach === 'place' ? aloneFirst(laid) : []),
  ...commands,
];

/** The commands that give a place, or its section, a tempo at one of its beats, as far as the reach goes. */
export const tempoCommands = (laid: LaidPlace, at: Ticks, bpm: Bpm): Command[] =>
  asFarAsReach(laid, [{ type: 'set tempo at', place: laid.place.id, at, bpm }]);

/** Gives a place, or its section, a tempo at one of its beats, as far as the reach goes. */
export function setTempoHere(laid: LaidPlace, at: Ticks, bpm: Bpm): void {
  edit(tempoCommands(laid, at, bpm), 'tempo');
}

/** Lets the tempo glide from a change on, or jump, as far as the reach goes. */
export function setGlideHere(laid: LaidPlace, at: Ticks, glide: boolean): void {
  edit(asFarAsReach(laid, [{ type: 'glide tempo', place: laid.place.id, at, glide }]), 'tempo');
}

/** Takes a change of tempo away, as far as the reach goes. */
export function removeTempoHere(laid: LaidPlace, at: Ticks): void {
  edit(asFarAsReach(laid, [{ type: 'remove tempo', place: laid.place.id, at }]), 'tempo');
}

/** The tempo at the end of a song that slows down to it, as a share of the one before. */
const SLOWER = 0.75;

/**
 * Has the tempo glide from the chosen bar of the last place, or its start, to a slower one at the end of the song: in
 * that place alone, whatever its section plays elsewhere.
 */
export function slowToEnd(): void {
  const song = openSongNow();
  const laid = laidPlaces(song).at(-1);
  if (!laid) return;
  const { bars } = useWorkbench.getState();
  const inside = bars && bars.from > laid.start && bars.from < laid.end;
  const from = inside ? bars.from - laid.start : 0;
  const { id } = laid.place;
  const bpm = Math.round(bpmAt(song, laid.start + from));
  const slower = Math.max(MIN_BPM, Math.round(bpm * SLOWER));
  edit(
    [
      ...aloneFirst(laid),
      { type: 'set tempo at', place: id, at: from, bpm },
      { type: 'set tempo at', place: id, at: laid.end - laid.start, bpm: slower },
      { type: 'glide tempo', place: id, at: from, glide: true },
    ],
    'slow down to the end',
  );
}
