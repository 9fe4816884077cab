import { useWorkbench } from '../store';
import type { Notice } from './slice';

let count = 0;

/** Says something to the user; it goes away by itself unless it is an error. */
export function notify(
  message: string,
  kind: Notice['kind'] = 'info',
  action?: Notice['action'],
): void {
  say({ message, kind, ...(action && { action }) });
}

/** Offers something that stands until it is taken or put away. */
export function offer(message: string, action: Notice['action']): void {
  say({ message, kind: 'info', action, stays: true });
}

/**
 * Says something for as long as it is true.
 * @param until settled once it is not
 * @param cancel ends the work that is spoken of; absent: nothing is at work, something cannot be done
 */
export function sayUntil(message: string, until: Promise<unknown>, cancel?: () => void): void {
  if (!cancel) return say({ message, kind: 'error', until });
  say({ message, kind: 'info', action: { label: 'cancel', run: cancel }, stays: true, until });
}

function say(notice: Omit<Notice, 'id'>): void {
  const id = `n${++count}`;
  useWorkbench.setState((state) => ({ notices: [...state.notices, { ...notice, id }] }));
}

export function dismissNotice(id: string): void {
  useWorkbench.setState((state) => ({
    notices: state.notices.filter((notice) => notice.id !== id),
  }));
}
