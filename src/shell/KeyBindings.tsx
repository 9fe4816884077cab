'use client';

import { useEffect } from 'react';
import { actForKey } from '@/state/acts/dispatch';
import { useWorkbench } from '@/state/store';

/** Listens to the keys of the whole page, and does what they stand for on the screen that is shown. */
export function KeyBindings() {
  useEffect(() => {
    document.addEventListener('keydown', dispatch);
    return () => document.removeEventListener('keydown', dispatch);
  }, []);
  return null;
}

function dispatch(event: KeyboardEvent): void {
  const state = useWorkbench.getState();
  if (event.defaultPrevented || state.dialog || state.incoming) return;
  if (isWrittenInto(event.target) || isTakenByControl(event)) return;
  const { code, ctrlKey: ctrl, metaKey: meta, altKey: alt, shiftKey: shift } = event;
  const act = actForKey({ code, ctrl, meta, alt, shift }, state);
  if (!act) return;
  event.preventDefault();
  act.run();
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

/** Whether the key is written into a field: keys are letters there, not commands. */
function isWrittenInto(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false;
  // A slider takes only the keys it needs: letters stay commands.
  const field = target.closest('input:not([type=range]), textarea, select');
  return field !== null || target.isContentEditable;
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
