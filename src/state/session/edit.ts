import type { Command, Song } from '@/core';
import {
  advance,
  attempt,
  redo as redone,
  undo as undone,
  type History,
  type Refusal,
} from '@/core/commands';
import { notify } from '../notices/notices';
import { useWorkbench } from '../store';

/** What one command, or several that are one step of undo, make of a song. */
interface Done {
  song: Song;
  /** Why nothing changed: the reason of the first command that was refused. */
  why?: Refusal;
}

function perform(before: Song, commands: readonly Command[]): Done {
  let song = before;
  let why: Refusal | undefined;
  for (const command of commands) {
    const after = attempt(song, command);
    if (typeof after === 'string') why ??= after;
    else song = after;
  }
  return song === before && why !== undefined ? { song, why } : { song };
}

/** Changes the song. @returns why it stays as it is; undefined when it was changed */
function change(commands: readonly Command[], label?: string): Refusal | undefined {
  commitGesture();
  const { history, readOnly } = useWorkbench.getState();
  if (!history || refuse(readOnly)) return '';
  const { song, why } = perform(history.song, commands);
  if (song === history.song) return why ?? '';
  useWorkbench.setState({ history: advance(history, song, label ?? commands[0].type) });
  return undefined;
}

/** Changes the song by one command, or several that are one step of undo. @returns whether it did */
export function edit(command: Command | readonly Command[], label?: string): boolean {
  return change([command].flat() as Command[], label) === undefined;
}

/** Changes the song, or says why it stays as it is. */
export function editOrSay(command: Command, label?: string): boolean {
  const why = change([command], label);
  if (why) notify(why, 'error');
  return why === undefined;
}

/**
 * Shows what a gesture would change, from how the song was when the gesture began. Until
 * `commitGesture` it is no step of undo.
 * @returns why it would change nothing
 */
export function preview(commands: readonly Command[], label: string): Refusal | undefined {
  const { history, gesture, readOnly } = useWorkbench.getState();
  if (!history || refuse(readOnly)) return undefined;
  const before = gesture?.before ?? history;
  const { song, why } = perform(before.song, commands);
  useWorkbench.setState({ history: { ...before, song }, gesture: { before, label } });
  return why;
}

/** Makes what the gesture shows one step of undo. */
export function commitGesture(): void {
  const { history, gesture, turn } = useWorkbench.getState();
  if (!history || !gesture) return;
  if (turn?.heard) {
    // What is only being heard was not taken.
    cancelGesture();
    useWorkbench.setState({ turn: { ...turn, heard: undefined } });
    return;
  }
  useWorkbench.setState({
    history: advance(gesture.before, history.song, gesture.label),
    gesture: undefined,
    tool: undefined,
  });
}

/** Takes a gesture back as if it had not begun. */
export function cancelGesture(): void {
  const { gesture } = useWorkbench.getState();
  if (gesture) useWorkbench.setState({ history: gesture.before, gesture: undefined });
  useWorkbench.setState({ tool: undefined });
}

/** Takes back what is only tried out: the values of an open tool, a change for the turn that is heard. */
export function leaveTrying(): void {
  const { gesture, tool, turn } = useWorkbench.getState();
  if (tool || turn?.heard) cancelGesture();
  else if (gesture) commitGesture();
  if (turn?.heard) useWorkbench.setState({ turn: { ...turn, heard: undefined } });
}

/** The song as it is without what a gesture shows. */
export function songBefore({ gesture, history } = useWorkbench.getState()): Song | undefined {
  return (gesture?.before ?? history)?.song;
}

export function undo(): void {
  // A pass that is being recorded is taken back, and recording goes on.
  const { gesture, pads } = useWorkbench.getState();
  if (gesture && pads.recording) return cancelGesture();
  step(undone);
}

export function redo(): void {
  step(redone);
}

function step(move: (history: History) => History): void {
  const { history, gesture, tool, readOnly } = useWorkbench.getState();
  if (tool) return cancelGesture();
  if (!history || gesture || refuse(readOnly)) return;
  useWorkbench.setState({ history: move(history) });
}

function refuse(readOnly: boolean): boolean {
  if (readOnly) {
    const deleted = 'This song was deleted in another tab. Bring it back to change it.';
    const open = 'This song is open in another tab. Change it there, or close that tab first.';
    notify(useWorkbench.getState().gone ? deleted : open, 'error');
  }
  return readOnly;
}
