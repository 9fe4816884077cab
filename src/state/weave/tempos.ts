import type { Command } from '@/core';
import { MIN_BPM, type Bpm, type Ticks } from '@/core/time';
import { bpmAt, laidPlaces, placesOf, type LaidPlace } from '@/core/weave';
import { edit } from '../session/edit';
import { openSongNow, useWorkbench } from '../store';

/** Whether a tempo that is set in a place now is only its own, and not of all places of its section. */
export function isTempoAlone({ place, section }: LaidPlace): boolean {
  return (
    place.tempos !== undefined ||
    placesOf(openSongNow(), section.id) === 1 ||
    useWorkbench.getState().reach === 'place'
  );
}

/** What gives a place, or its section, a tempo at one of its beats, as far as the reach goes. */
export function tempoCommands({ place, section }: LaidPlace, at: Ticks, bpm: Bpm): Command[] {
  const linked = placesOf(openSongNow(), section.id) > 1;
  const alone = linked && !place.tempos && useWorkbench.getState().reach === 'place';
  return [
    ...(alone ? [{ type: 'own tempos', place: place.id, own: true } as const] : []),
    { type: 'set tempo at', place: place.id, at, bpm },
  ];
}

/** How much slower a song is at its end that slows down to it, until it is said otherwise. */
const SLOWER = 0.75;

/** Has the tempo glide from the chosen bar of the last place, or its start, to a slower one at the end of the song. */
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
      ...tempoCommands(laid, from, bpm),
      { type: 'set tempo at', place: id, at: laid.end - laid.start, bpm: slower },
      { type: 'glide tempo', place: id, at: from, glide: true },
    ],
    'slow down to the end',
  );
}

/** Gives a place, or its section, a tempo at one of its beats, as far as the reach goes. */
export function setTempoHere(laid: LaidPlace, at: Ticks, bpm: Bpm): void {
  edit(tempoCommands(laid, at, bpm), 'tempo');
}
