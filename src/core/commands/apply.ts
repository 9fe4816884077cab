import { firstProblem, type Song } from '../model';
import { lockBroken, saidLock, type Lock } from '../weave';
import { COMMANDS, type Command, type CommandName } from './all';
import type { Refusal } from './definition';
import { wrongValue, type Values } from './value';

/**
 * The song after a command, or the reason why it stays as it is, as a sentence that says what to do.
 * Whatever a command is told, the song stays sound: values that are not as they must be are refused,
 * and so is a change after which something would not hold.
 */
export function attempt(song: Song, command: Command): Song | Refusal {
  const { type } = (command ?? {}) as { type?: CommandName };
  const definition = typeof type === 'string' && Object.hasOwn(COMMANDS, type) && COMMANDS[type];
  if (!definition) return 'There is no such command.';
  const wrong = wrongValue(definition.values, command, song);
  if (wrong) return wrong;
  const after = definition.run(song, toldOf(definition.values, command));
  if (typeof after === 'string') return after;
  const lock = definition.ignoresLocks ? undefined : lockBroken(song, after);
  if (lock) return saidLock(lock);
  const problem = firstProblem(after, song);
  return problem ? `That cannot be: ${problem.what}` : after;
}

/** What a command takes of what it is told, and nothing else: neither its name nor anything foreign gets into a song. */
function toldOf(values: Values, command: Command): never {
  const told = Object.entries(command).filter(([name]) => Object.hasOwn(values, name));
  return Object.fromEntries(told) as never;
}

/** The lock that a command is refused by; undefined where it is not, or for another reason. */
export function lockAgainst(song: Song, command: Command): Lock | undefined {
  const { values, run, ignoresLocks } = COMMANDS[command.type];
  if (ignoresLocks || wrongValue(values, command, song)) return undefined;
  const after = run(song, toldOf(values, command));
  return typeof after === 'string' ? undefined : lockBroken(song, after);
}

/** The song after a command; the very same song where the command cannot apply. */
export function applyCommand(song: Song, command: Command): Song {
  const after = attempt(song, command);
  return typeof after === 'string' ? song : after;
}
