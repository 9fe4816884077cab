import { useEffect, useRef, type RefObject } from 'react';

/** A place on the screen, in pixels. */
export interface Point {
  x: number;
  y: number;
}

/** This near to an edge of what is seen, in pixels, a stroke makes the sheet scroll. */
const EDGE = 28;
/** So far, in pixels, the pointer has to come towards an edge before that. */
const SLOP = 4;
/** The most that is scrolled in a frame, in pixels. */
const FASTEST = 24;

export interface EdgeScroll {
  /** A stroke begins here. */
  begin(at: Point): void;
  moved(to: Point): void;
  end(): void;
}

/**
 * Scrolls a view while a stroke is at one of its edges, or beyond.
 * @param ways which ways the stroke that is going on may scroll it
 * @param follow told when it was scrolled: the pointer is over something else then
 */
export function useEdgeScroll(
  scroller: RefObject<HTMLElement | null>,
  ways: () => { x: boolean; y: boolean },
  follow: () => void,
): EdgeScroll {
  const latest = useRef({ ways, follow });
  useEffect(() => {
    latest.current = { ways, follow };
  });
  const frame = useRef(0);
  const from = useRef<Point>({ x: 0, y: 0 });
  const to = useRef<Point>({ x: 0, y: 0 });
  useEffect(() => () => cancelAnimationFrame(frame.current), []);
  const scroll = () => {
    frame.current = requestAnimationFrame(scroll);
    const view = scroller.current;
    if (!view) return;
    const { left, right, top, bottom } = view.getBoundingClientRect();
    const may = latest.current.ways();
    const x = may.x ? beyond(to.current.x, from.current.x, left, right) : 0;
    const y = may.y ? beyond(to.current.y, from.current.y, top, bottom) : 0;
    const { scrollLeft, scrollTop } = view;
    if (x !== 0 || y !== 0) view.scrollBy(x, y);
    if (view.scrollLeft !== scrollLeft || view.scrollTop !== scrollTop) latest.current.follow();
  };
  return {
    begin(at) {
      from.current = to.current = at;
      cancelAnimationFrame(frame.current);
      frame.current = requestAnimationFrame(scroll);
    },
    moved(at) {
      to.current = at;
    },
    end: () => cancelAnimationFrame(frame.current),
  };
}

/** How far to scroll in a frame, for a pointer that came to an edge. */
function beyond(at: number, began: number, low: number, high: number): number {
  const pixels =
    at < low + EDGE && at < began - SLOP
      ? at - low - EDGE
      : at > high - EDGE && at > began + SLOP
        ? at - high + EDGE
        : 0;
  return Math.max(-FASTEST, Math.min(FASTEST, pixels / 2));
}
