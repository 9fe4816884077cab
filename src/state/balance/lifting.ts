import { nanoid } from 'nanoid';
import type { Command } from '@/core';
import { WOVEN } from '@/core/weave';
import { notify } from '../notices/notices';
import { editOrSay } from '../session/edit';
import { openSongNow, shownPattern, useWorkbench } from '../store';
import { chosenPlace } from '../weave/choosing';
import { trackHere } from './here';

/**
 * Lifts the track of the row that is worked on onto the shelf: out of the pattern in Shape, out of the chosen
 * bars or the chosen section in Weave.
 */
export function liftHere(cropped: boolean): void {
  const state = useWorkbench.getState();
  const track = trackHere(state);
  if (!track) return notify('Choose a row first: its track is what is extracted.');
  const of = stretchHere();
  if (!of) return notify('Choose a section or some bars first.');
  const command: Command = {
    type: 'extract track',
    ...of,
    track: track.id,
    cropped,
    newId: nanoid(8),
  };
  if (!editOrSay(command, 'extract a track')) return;
  const { name } = openSongNow().patterns.find(({ id }) => id === command.newId) ?? {};
  notify(`“${name}” is on the shelf.`);
}

function stretchHere(): { pattern: string } | { from: number; to: number } | undefined {
  const state = useWorkbench.getState();
  if (state.stage !== 'weave') {
    const shown = shownPattern(state);
    const pattern = shown?.id === WOVEN ? state.opened?.pattern : shown?.id;
    return pattern === undefined ? undefined : { pattern };
  }
  const place = chosenPlace(state);
  return state.bars ?? (place && { from: place.start, to: place.end });
}

/** Gives each track a pattern of its own in place of the one that is shown, wherever the song plays it. */
export function ownTracksHere(): void {
  const state = useWorkbench.getState();
  const shown = shownPattern(state);
  const pattern = shown?.id === WOVEN ? state.opened?.pattern : shown?.id;
  if (pattern === undefined) return;
  const before = openSongNow().patterns.length;
  if (!editOrSay({ type: 'own tracks', pattern }, 'tracks of their own')) return;
  const count = openSongNow().patterns.length - before;
  notify(
    `${count} patterns on the shelf play what “${shown!.name}” played; it is silent itself now.`,
  );
}
