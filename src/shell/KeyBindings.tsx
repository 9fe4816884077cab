'use client';

import { useEffect } from 'react';
import { isInFront, isWrittenInto } from '@/look/writtenInto';
import { actForKey, type KeyPress } from '@/state/acts/dispatch';
import { useWorkbench } from '@/state/store';
import { isCarrying } from './Carrying';
import { keepFocusAtWork } from './focus';

/** Listens to the keys of the whole page, and does what they stand for on the screen that is shown. */
export function KeyBindings() {
  useEffect(() => {
    document.addEventListener('keydown', playFromAnywhere, true);
    document.addEventListener('keyup', afterPlaying, true);
    document.addEventListener('keydown', dispatch);
    return () => {
      document.removeEventListener('keydown', playFromAnywhere, true);
      document.removeEventListener('keyup', afterPlaying, true);
      document.removeEventListener('keydown', dispatch);
    };
  }, []);
  useEffect(keepFocusAtWork, []);
  return null;
}

const pressOf = (event: KeyboardEvent): KeyPress => ({
  code: event.code,
  key: event.key,
  ctrl: event.ctrlKey,
  meta: event.metaKey,
  alt: event.altKey,
  shift: event.shiftKey,
});

/** Whether keys mean what they mean on the screen, and not in something that lies in front of it. */
function areCommands(target: EventTarget | null): boolean {
  const state = useWorkbench.getState();
  return !state.dialog && !state.incoming && !isWrittenInto(target) && !isInFront(target);
}

/** Space plays and stops, whatever has the focus: a button that has it is pressed with Enter. */
function playFromAnywhere(event: KeyboardEvent): void {
  if (event.code !== 'Space' || isCarrying() || !areCommands(event.target)) return;
  if ((event.target as Element).matches('input[type=checkbox]:focus-visible')) return;
  const act = actForKey(pressOf(event), useWorkbench.getState());
  if (!act) return;
  event.preventDefault();
  event.stopPropagation();
  if (!event.repeat) act.run();
}

/** Some browsers press a button when Space is let go. */
function afterPlaying(event: KeyboardEvent): void {
  if (event.code !== 'Space' || isCarrying() || !areCommands(event.target)) return;
  if ((event.target as Element).matches('button, [role=button]')) event.preventDefault();
}

function dispatch(event: KeyboardEvent): void {
  if (event.defaultPrevented || isCarrying() || !areCommands(event.target)) return;
  if (isTakenByControl(event)) return;
  const act = actForKey(pressOf(event), useWorkbench.getState());
  if (!act) return;
  if (!act.passes) event.preventDefault();
  act.run();
}

const ARROWS = ['ArrowLeft', 'ArrowRight', 'ArrowUp', 'ArrowDown'];

/** The keys that controls answer to themselves while they have the focus. */
const OWN_KEYS: readonly (readonly [controls: string, keys: readonly string[]])[] = [
  ['button, a, [role=button]', ['Enter']],
  ['[role=tab]', ['Enter', 'ArrowLeft', 'ArrowRight']],
  ['[role=combobox]', ['Enter', ...ARROWS]],
  ['input[type=range], [role=slider]', [...ARROWS, 'Home', 'End', 'PageUp', 'PageDown']],
];

/** Whether the control that has the focus answers to this key itself. */
function isTakenByControl(event: KeyboardEvent): boolean {
  const { target, key, ctrlKey, metaKey, altKey, shiftKey } = event;
  if (!(target instanceof HTMLElement) || ctrlKey || metaKey || altKey) return false;
  if (shiftKey && target.matches('[data-shift-is-listed]')) return false;
  // A list whose keys are commands says so: arrows in it are heard, not only seen.
  if (target.closest('[data-command-keys]')) return false;
  return OWN_KEYS.some(([controls, keys]) => target.matches(controls) && keys.includes(key));
}
