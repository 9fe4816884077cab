import type { useDraggable } from '@dnd-kit/core';
import type { PointerEvent } from 'react';

/** Lets the pointer take hold of something; keys stay with what is held. */
export function gripOf(listeners: ReturnType<typeof useDraggable>['listeners']) {
  return { onPointerDown: (event: PointerEvent) => listeners?.onPointerDown(event) };
}
