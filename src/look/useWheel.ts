import { useEffect, useRef, type RefObject } from 'react';

/** Wheel movement that is a step, in pixels: a notch of most mice is 100 or 120. */
const NOTCH = 50;

/**
 * Turns the wheel over a value into steps.
 * @param isMeant whether it is for the value: a page that is scrolled past it does not change it
 * @param turn told 1 for up, -1 for down
 */
export function useWheel(
  element: RefObject<Element | null>,
  isMeant: (event: WheelEvent) => boolean,
  turn: (by: 1 | -1) => void,
): void {
  const latest = useRef({ isMeant, turn });
  useEffect(() => {
    latest.current = { isMeant, turn };
  });
  useEffect(() => {
    const { current } = element;
    if (!current) return;
    let rolled = 0;
    const onWheel = (event: Event) => {
      const wheel = event as WheelEvent;
      // With Ctrl the page is zoomed.
      if (wheel.ctrlKey || !latest.current.isMeant(wheel)) return;
      const { deltaY } = wheel;
      event.preventDefault();
      rolled += deltaY;
      if (Math.abs(rolled) < NOTCH) return;
      latest.current.turn(rolled < 0 ? 1 : -1);
      rolled = 0;
    };
    current.addEventListener('wheel', onWheel, { passive: false });
    return () => current.removeEventListener('wheel', onWheel);
  }, [element]);
}
