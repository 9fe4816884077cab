import { keyName } from '../keyNames';
import type { Workbench } from '../store';
import type { Action } from './action';
import { EVERYWHERE } from './everywhere';
import { FILE_ACTIONS } from './files';
import { GATHER_ACTIONS } from './gather';
import { SHAPE_ACTIONS } from './shape';
import { WEAVE_ACTIONS } from './weave';

export { closeDialog, openDialog, type Action } from './action';
export { setFilePicker, startSong } from './files';
export { keepFromPasting, STRENGTHS } from './shape';

/** All commands, in the order the list of keys shows them. */
export const ACTIONS: readonly Action[] = [
  ...EVERYWHERE,
  ...SHAPE_ACTIONS,
  ...GATHER_ACTIONS,
  ...WEAVE_ACTIONS,
  ...FILE_ACTIONS,
];

/** Whether an action can be done on the screen that is shown. */
export function isAvailable(action: Action, state: Workbench): boolean {
  const open = state.status === 'ready';
  return (!action.needsSong || open) && (!action.stage || (open && action.stage === state.stage));
}

/** The key of an action by its id, for tooltips; empty when it has none. */
export function keyOf(id: string): string {
  const action = ACTIONS.find((other) => other.id === id);
  return action ? keysOf(action) : '';
}

/** The first keys of an action, as a person reads them: "Ctrl K", or "T then Q". */
export function keysOf({ keys, chord }: Action): string {
  if (keys) return keyName(keys[0]);
  return chord ? chord.map(keyName).join(' then ') : '';
}
