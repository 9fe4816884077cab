import { useWorkbench } from '../store';
import type { Notice } from './slice';

let count = 0;

/** Says something to the user; it goes away by itself unless it is an error. */
export function notify(
  message: string,
  kind: Notice['kind'] = 'info',
  action?: Notice['action'],
): void {
  const id = `n${++count}`;
  useWorkbench.setState((state) => ({
    notices: [...state.notices, { id, message, kind, ...(action && { action }) }],
  }));
}

export function dismissNotice(id: string): void {
  useWorkbench.setState((state) => ({
    notices: state.notices.filter((notice) => notice.id !== id),
  }));
}
