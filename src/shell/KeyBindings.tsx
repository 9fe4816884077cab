'use client';

import { useHotkeys } from 'react-hotkeys-hook';
import { ACTIONS, isAvailable, type Action } from '@/state/acts';
import { useWorkbench } from '@/state/store';

/** Gives every command its keys. */
export function KeyBindings() {
  return ACTIONS.filter((action) => action.keys).map((action) => (
    <KeyBinding key={action.id} action={action} />
  ));
}

/** Keys that a focused control wants for itself. */
const CONTROL_KEYS = new Set([
  ' ',
  'Enter',
  'ArrowLeft',
  'ArrowRight',
  'ArrowUp',
  'ArrowDown',
  'Home',
  'PageUp',
  'PageDown',
]);

function KeyBinding({ action }: { action: Action }) {
  useHotkeys(
    [...(action.keys ?? [])],
    (event) => {
      event.preventDefault();
      action.run();
    },
    {
      // Capitals and shifted signs differ between keyboards; the physical key does not.
      useKey: false,
      // The ribbon and the rows of a list take only the keys they need: letters stay commands.
      enableOnFormTags: ['slider', 'option'],
      ignoreEventWhen: (event) => {
        const state = useWorkbench.getState();
        if (!isAvailable(action, state)) return true;
        if (state.dialog || state.incoming) return true;
        return isTakenByControl(event);
      },
    },
    [action],
  );
  return null;
}

/** Whether the control that has the focus answers to this key itself. */
function isTakenByControl(event: KeyboardEvent): boolean {
  const { target } = event;
  if (!(target instanceof HTMLElement) || event.ctrlKey || event.metaKey || event.altKey)
    return false;
  // A list whose keys are commands says so: arrows in it are heard, not only seen.
  if (target.closest('[data-command-keys]')) return false;
  if (target.closest('[role=menu], [role=listbox], [role=dialog]')) return true;
  const control = target.closest(
    'button, a, input, [role=slider], [role=button], [role=combobox], [role=tab]',
  );
  return control !== null && CONTROL_KEYS.has(event.key);
}
