import type { Command } from '@/core';
import type { Bpm, Ticks } from '@/core/time';
import { placesOf, type LaidPlace } from '@/core/weave';
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

/** Gives a place, or its section, a tempo at one of its beats, as far as the reach goes. */
export function setTempoHere(laid: LaidPlace, at: Ticks, bpm: Bpm): void {
  edit(tempoCommands(laid, at, bpm), 'tempo');
}
