import { applyCommand, whyUnchanged, type Command, type Song } from '@/core';
import { advance, redo as redone, undo as undone, type History } from '@/core/commands';
import { notify, useWorkbench } from './store';

/** Changes the song by one command, or several that are one step of undo. */
export function edit(command: Command | readonly Command[], label?: string): boolean {
  commitGesture();
  const { history, readOnly } = useWorkbench.getState();
  if (!history || refuse(readOnly)) return false;
  const commands = [command].flat() as Command[];
  const song = commands.reduce<Song>(applyCommand, history.song);
  if (song === history.song) return false;
  setHistory(advance(history, song, label ?? commands[0].type));
  return true;
}

/**
 * Shows what a gesture would change, from how the song was when the gesture began. Until
 * `commitGesture` it is no step of undo.
 */
export function preview(commands: readonly Command[], label: string): void {
  const { history, gesture, readOnly } = useWorkbench.getState();
  if (!history || refuse(readOnly)) return;
  const before = gesture?.before ?? history;
  const song = commands.reduce<Song>(applyCommand, before.song);
  useWorkbench.setState({ history: { ...before, song }, gesture: { before, label } });
}

/** Changes the song, or says why it stays as it is. */
export function editOrSay(command: Command, label?: string): boolean {
  if (edit(command, label)) return true;
  const { history, readOnly } = useWorkbench.getState();
  const why = history && !readOnly && whyUnchanged(history.song, command);
  if (why) notify(why, 'error');
  return false;
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

export function undo(): void {
  step(undone);
}

export function redo(): void {
  step(redone);
}

function step(move: (history: History) => History): void {
  const { history, gesture, tool, readOnly } = useWorkbench.getState();
  if (tool) return cancelGesture();
  if (!history || gesture || refuse(readOnly)) return;
  setHistory(move(history));
}

function setHistory(history: History): void {
  useWorkbench.setState({ history });
}

function refuse(readOnly: boolean): boolean {
  if (readOnly) {
    notify('This song is open in another tab. Change it there, or close that tab first.', 'error');
  }
  return readOnly;
}
