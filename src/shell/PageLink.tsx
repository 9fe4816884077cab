import type { ComponentProps, MouseEvent } from 'react';
import { goTo } from '@/state/addresses';

/** A link to another page of the workbench, which is there already. */
export function PageLink({ onClick, ...rest }: ComponentProps<'a'> & { href: string }) {
  const turn = (event: MouseEvent<HTMLAnchorElement>) => {
    onClick?.(event);
    // In a new tab or window it is a link like any other.
    if (event.ctrlKey || event.metaKey || event.shiftKey || event.button > 0) return;
    event.preventDefault();
    goTo(rest.href);
  };
  return <a {...rest} onClick={turn} />;
}
