import type { Menu } from '@/core/commands';
import type { Workbench } from '../store';
import { MENU_KEYS, type Act } from './act';
import { BALANCE_ACTS } from './balance';
import { EVERYWHERE } from './everywhere';
import { FILE_ACTS } from './files';
import { GATHER_ACTS } from './gather';
import { keyName } from './keyNames';
import { OFFERED } from './offered';
import { SHAPE_ACTS } from './shape';
import { REACH_ACTS, WEAVE_ACTS } from './weave';

export { ACT_GROUPS, type Act, type ActGroup } from './act';
export { startSong } from './files';
export { pastedElse } from './pasting';
export { STRENGTHS } from './shape';

/** Everything that can be done by name, in the order the list of keys shows it. */
export const ACTS: readonly Act[] = [
  ...EVERYWHERE,
  ...SHAPE_ACTS,
  ...OFFERED,
  ...GATHER_ACTS,
  ...WEAVE_ACTS,
  ...REACH_ACTS,
  ...BALANCE_ACTS,
  ...FILE_ACTS,
];

const byId = new Map(ACTS.map((act) => [act.id, act]));

export function findAct(id: string): Act | undefined {
  return byId.get(id);
}

/** Whether an act can be done on the screen that is shown. */
export function isAvailable(act: Act, state: Workbench): boolean {
  const open = state.status === 'ready';
  return (!act.needsSong || open) && (!act.stage || (open && act.stage === state.stage));
}

/** The lines of a menu of Shape: what is done at once first, then what asks for values. */
export function linesOf(menu: Menu): Act[] {
  const lines = ACTS.filter((act) => act.menu?.of === menu);
  const asks = ({ menu: line }: Act) => Number(line!.words.endsWith('…'));
  return lines.sort((a, b) => asks(a) - asks(b));
}

/** The key of an act by its id, for tooltips; empty when it has none. */
export function keyOf(id: string): string {
  const act = findAct(id);
  return act ? keysOf(act) : '';
}

/** The first keys of an act, as a person reads them: "Ctrl K", or "T then Q". */
export function keysOf({ keys, menu }: Act): string {
  if (keys) return keyName(keys[0]);
  return menu ? `${keyName(MENU_KEYS[menu.of])} then ${keyName(menu.letter)}` : '';
}

/** All keys of an act. */
export function allKeysOf(act: Act): string {
  return act.keys ? act.keys.map(keyName).join(' or ') : keysOf(act);
}
