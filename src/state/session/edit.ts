import type { Command, Pattern, Song } from '@/core';
import {
  advance,
  attempt,
  lockAgainst,
  redo as redone,
  undo as undone,
  type History,
  type Refusal,
} from '@/core/commands';
import {
  lockBroken,
  editOpened,
  openedPattern,
  saidLock,
  type Lock,
  type Opened,
} from '@/core/weave';
import { notify, sayUntil } from '../notices/notices';
import { patternOn, useWorkbench } from '../store';

/** What one command, or several that are one step of undo, make of a song. */
interface Done {
  song: Song;
  /** Why nothing changed: the reason of the first command that was refused. */
  why?: Refusal;
  lock?: Lock;
}

/**
 * Several commands as one step: what would change nothing is left out, and where a lock is met none of them is
 * made.
 */
function performAll(before: Song, commands: readonly Command[]): Done {
  let song = before;
  let why: Refusal | undefined;
  for (const command of commands) {
    const after = attempt(song, command);
    if (typeof after === 'string') {
      const lock = lockAgainst(song, command);
      if (lock) return { song: before, why: after, lock };
      why ??= after;
      refused ??= { song, command };
    } else song = after;
  }
  return song === before && why !== undefined ? { song, why } : { song };
}

/** The command that was refused last, for the lock it may have met. */
let refused: { song: Song; command: Command } | undefined;

/** What says how a pattern is called and written, and nothing of what it plays. */
const OF_ITSELF: readonly Command['type'][] = ['rename pattern', 'set pattern kind', 'set step'];

function perform(before: Song, commands: readonly Command[]): Done & { opened?: Opened } {
  refused = undefined;
  const { opened, reach } = useWorkbench.getState();
  const worked = opened && openedPattern(before, opened, reach);
  const isOn = (command: Command) => 'pattern' in command && command.pattern === worked?.id;
  if (!opened || !worked || !commands.some(isOn)) return performAll(before, commands);
  let inside: Done = { song: before };
  const named = commands.every(({ type }) => OF_ITSELF.includes(type));
  const done = editOpened(before, opened, named ? 'everywhere' : reach, (song, id) => {
    inside = performAll(
      song,
      commands.map((command) =>
        isOn(command) ? ({ ...command, pattern: named ? opened.pattern : id } as Command) : command,
      ),
    );
    return inside.song;
  });
  if (typeof done === 'string') return { song: before, why: done };
  const lock = lockBroken(before, done.song);
  if (lock) return { song: before, why: saidLock(lock), lock };
  if (done.song === before) {
    return { why: 'That would change nothing.', ...inside, song: before };
  }
  return { song: done.song, opened: { ...opened, pattern: done.pattern } };
}

/** Says which lock refuses a change, and offers to lift it. @returns whether one does */
function saysLock({ why, lock }: Done): boolean {
  if (why === undefined) return false;
  const held = lock ?? (refused && lockAgainst(refused.song, refused.command));
  if (!held) return false;
  const { of, id } = held;
  notify(saidLock(held), 'error', {
    label: 'unlock',
    run: () => void edit({ type: 'lock', of, id, on: false }, 'unlock'),
  });
  return true;
}

/** Changes the song. @returns why it stays as it is; undefined when it was changed */
function change(commands: readonly Command[], label?: string): Refusal | undefined {
  commitGesture();
  const { history, readOnly } = useWorkbench.getState();
  if (!history || refuse(readOnly)) return '';
  const done = perform(history.song, commands);
  const { song, why, opened } = done;
  if (song === history.song) return saysLock(done) ? '' : (why ?? '');
  useWorkbench.setState({
    history: advance(history, song, label ?? commands[0].type),
    ...(opened && { opened, patternId: opened.pattern }),
  });
  return undefined;
}

/** Changes the song by one command, or several that are one step of undo. @returns whether it did */
export function edit(command: Command | readonly Command[], label?: string): boolean {
  return change([command].flat() as Command[], label) === undefined;
}

/**
 * Changes the song by all of these commands as one step of undo, or by none: the first that is refused is the
 * reason. For what belongs together; `edit` leaves out of several what would change nothing.
 */
export function editAllOrSay(commands: readonly Command[], label: string): boolean {
  commitGesture();
  const { history } = useWorkbench.getState();
  let song = history?.song;
  for (const command of commands) {
    const after = song && attempt(song, command);
    if (typeof after === 'string') {
      refused = { song: song!, command };
      if (!saysLock({ song: song!, why: after })) notify(after, 'error');
      return false;
    }
    song = after;
  }
  return editOrSay(commands, label);
}

/** Changes the song, or says why it stays as it is. */
export function editOrSay(command: Command | readonly Command[], label?: string): boolean {
  const commands = 'type' in command ? [command] : command;
  const why = change(commands, label);
  if (why) notify(why, 'error');
  return why === undefined;
}

/**
 * Shows what a gesture would change, from how the song was when the gesture began. Until
 * `commitGesture` it is no step of undo.
 * @param trying it is only seen and heard: whatever is done next takes it back
 * @returns why it would change nothing
 */
export function preview(
  commands: readonly Command[],
  label: string,
  { trying = false }: { trying?: boolean } = {},
): Refusal | undefined {
  const { history, gesture, readOnly } = useWorkbench.getState();
  if (!history || refuse(readOnly)) return undefined;
  const before = gesture?.before ?? history;
  const done = perform(before.song, commands);
  const { song, why, opened } = done;
  useWorkbench.setState({
    history: { ...before, song },
    gesture: { before, label, commands, ...(trying && { trying: true }) },
    ...(opened && { opened, patternId: opened.pattern }),
  });
  if (song === before.song && saysLock(done)) return undefined;
  return why;
}

/** Makes what the gesture shows one step of undo. */
export function commitGesture(): void {
  const { history, gesture, turn } = useWorkbench.getState();
  if (!history || !gesture) return;
  if (turn?.heard || gesture.trying) {
    // What is only being heard was not taken.
    cancelGesture();
    if (turn?.heard) useWorkbench.setState({ turn: { ...turn, heard: undefined } });
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

/**
 * Leaves what is shown: a drag is kept, and what is only tried out is taken back and said so, with a way to have it
 * after all. The same for a stage that is left, a song, or a pattern.
 * @param song whether the song is left too: then there is no way back
 */
export function leaveTrying(song = false): void {
  const { gesture, tool, turn, history } = useWorkbench.getState();
  const tried = tool || turn?.heard || gesture?.trying;
  if (!tried) return commitGesture();
  cancelGesture();
  if (turn?.heard) useWorkbench.setState({ turn: { ...turn, heard: undefined } });
  if (!gesture || history?.song === gesture.before.song) return;
  const { label, commands } = gesture;
  const { id } = gesture.before.song;
  const keep = () => {
    if (useWorkbench.getState().history?.song.id === id) edit(commands, label);
    else notify('Its song is not open any more: open it, and do it again.');
  };
  notify(
    `What was tried out is not kept: ${label}.`,
    'info',
    song ? undefined : { label: 'keep it', run: keep },
  );
}

/** The song as it is without what a gesture shows. */
export function songBefore({ gesture, history } = useWorkbench.getState()): Song | undefined {
  return (gesture?.before ?? history)?.song;
}

/** The pattern that is worked on, as it is without what a gesture shows. */
export function patternBefore(): Pattern | undefined {
  const state = useWorkbench.getState();
  const song = songBefore(state);
  return song && patternOn(state, song);
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

/** Goes to the state after so many steps, of those that were made and of those that were undone. */
export function goToStep(index: number): void {
  commitGesture();
  const { history } = useWorkbench.getState();
  if (!history) return;
  const by = index - history.past.length;
  for (let i = 0; i < Math.abs(by); i++) step(by < 0 ? undone : redone);
}

function step(move: (history: History) => History): void {
  const { history, gesture, tool, readOnly } = useWorkbench.getState();
  if (tool || gesture?.trying) return cancelGesture();
  if (!history || gesture || refuse(readOnly)) return;
  useWorkbench.setState({ history: move(history) });
}

/** Settled once the open song can be changed here, or another one is open. */
function changeable(): Promise<void> {
  const { songId } = useWorkbench.getState();
  return new Promise((settled) => {
    const stop = useWorkbench.subscribe((state) => {
      if (state.readOnly && state.songId === songId) return;
      stop();
      settled();
    });
  });
}

function refuse(readOnly: boolean): boolean {
  if (readOnly) {
    const deleted = 'This song was deleted in another tab. Bring it back to change it.';
    const open = 'This song is open in another tab. Change it there, or close that tab first.';
    sayUntil(useWorkbench.getState().gone ? deleted : open, changeable());
  }
  return readOnly;
}
