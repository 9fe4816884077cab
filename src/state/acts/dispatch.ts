import { ACTS, isAvailable } from '.';
import type { Workbench } from '../store';
import type { Act } from './act';

/** What has to be known of a key that was pressed. */
export interface KeyPress {
  /** The physical key: capitals and shifted signs differ between keyboards, it does not. */
  code: string;
  /** What is written on it, on this keyboard. */
  key: string;
  ctrl: boolean;
  meta: boolean;
  alt: boolean;
  shift: boolean;
}

/** Keys that are called otherwise than the code says. */
const NAMES: Readonly<Record<string, string>> = {
  Space: 'space',
  ArrowLeft: 'left',
  ArrowRight: 'right',
  ArrowUp: 'up',
  ArrowDown: 'down',
  NumpadEnter: 'enter',
  NumpadAdd: 'equal',
  NumpadSubtract: 'minus',
  NumpadDivide: 'slash',
  Esc: 'escape',
};

/**
 * The name of a key as acts have it: `mod+shift+z`. Letters are those that are written on the keys; where
 * these are not Latin ones, those of the places where they usually are.
 */
export function comboOf({ code, key, ctrl, meta, alt, shift }: KeyPress): string {
  const letter = /^[a-z]$/i.test(key) ? key.toLowerCase() : undefined;
  const plain =
    letter ?? NAMES[code] ?? code.replace(/^(Key|Digit|Numpad(?=\d))/, '').toLowerCase();
  const held = [(ctrl || meta) && 'mod', alt && 'alt', shift && 'shift'].filter(Boolean);
  return [...held, plain].join('+');
}

/** `shift+alt+x` and `alt+shift+x` are the same keys. */
const inOrder = (combo: string): string => {
  const parts = combo.split('+');
  const key = parts.pop()!;
  const held = ['mod', 'alt', 'shift'].filter((name) => parts.includes(name));
  return [...held, key].join('+');
};

const byCombo = new Map<string, Act[]>();
for (const act of ACTS) {
  for (const combo of act.keys ?? []) {
    const name = inOrder(combo);
    byCombo.set(name, [...(byCombo.get(name) ?? []), act]);
  }
}

/** What a key does on the screen that is shown: what is of its stage goes before what is everywhere. */
export function actForKey(press: KeyPress, state: Workbench): Act | undefined {
  const acts = (byCombo.get(comboOf(press)) ?? []).filter((act) => isAvailable(act, state));
  return acts.find(({ stage }) => stage !== undefined) ?? acts[0];
}
