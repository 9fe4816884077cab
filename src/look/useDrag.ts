import { useEffect, useRef, type PointerEvent } from 'react';

/** A place in the window, in pixels. */
export interface DragPlace {
  x: number;
  y: number;
}

/** How many times slower than the pointer a drag with Shift moves. */
const FINE = 10;

interface Dragged {
  /** @returns where what is dragged is now: the pointer may have taken it beside its middle */
  start(event: PointerEvent): DragPlace;
  /** @param fine whether Shift is held */
  move(at: DragPlace, fine: boolean): void;
  done(): void;
  cancel(): void;
}

/**
 * Drags a value with the pointer: Shift makes it finer from where it is, Escape takes the drag back.
 * @returns what the element that is dragged listens to
 */
export function useDrag(dragged: Dragged) {
  const now = useRef<(DragPlace & { px: number; py: number; stop: () => void }) | undefined>(
    undefined,
  );
  const end = (how: 'done' | 'cancel') => {
    if (!now.current) return;
    now.current.stop();
    now.current = undefined;
    dragged[how]();
  };
  // The element may go away while it is dragged: nothing listens for Escape any more.
  useEffect(() => () => now.current?.stop(), []);
  return {
    onPointerDown(event: PointerEvent<Element>) {
      if (event.button !== 0) return;
      const { currentTarget, pointerId } = event;
      const onKey = (key: KeyboardEvent) => {
        if (key.key !== 'Escape') return;
        key.preventDefault();
        key.stopImmediatePropagation();
        if (currentTarget.hasPointerCapture(pointerId))
          currentTarget.releasePointerCapture(pointerId);
        end('cancel');
      };
      currentTarget.setPointerCapture(pointerId);
      window.addEventListener('keydown', onKey, true);
      now.current = {
        ...dragged.start(event),
        px: event.clientX,
        py: event.clientY,
        stop: () => window.removeEventListener('keydown', onKey, true),
      };
    },
    onPointerMove({ clientX, clientY, shiftKey }: PointerEvent) {
      const at = now.current;
      if (!at) return;
      const by = shiftKey ? 1 / FINE : 1;
      at.x += (clientX - at.px) * by;
      at.y += (clientY - at.py) * by;
      at.px = clientX;
      at.py = clientY;
      dragged.move({ x: at.x, y: at.y }, shiftKey);
    },
    onPointerUp: () => end('done'),
    onPointerCancel: () => end('cancel'),
  };
}
