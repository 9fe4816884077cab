import { useEffect, useRef, useState, type PointerEvent } from 'react';
import { findStrand, type Pattern } from '@/core';
import type { PieceId } from '@/core/model';
import { cancelGesture, commitGesture, preview } from '@/state/session/edit';

/** Pixels that a press may move and still be a press. */
const SLOP = 4;
/** In percent of what the velocities are; a pixel is one of them. */
const [LEAST, MOST] = [1, 200];

/**
 * Makes all hits of a row louder or softer in proportion, by dragging its name up or down. Escape takes the drag
 * back.
 * @returns what the name listens to, and the percentage while it is dragged
 */
export function useRowScaling(pattern: Pattern, piece: PieceId) {
  /** The pattern as it was when the drag began: one that is open in its place may become another one by it. */
  const drag = useRef<{ y: number; pattern: string; ids: string[] }>(undefined);
  /** The press that ends a drag is none. */
  const dragged = useRef(false);
  const [percent, setPercent] = useState<number>();
  const end = (finish: () => void) => {
    if (dragged.current && drag.current) finish();
    drag.current = undefined;
    setPercent(undefined);
  };
  const latest = useRef(end);
  useEffect(() => {
    latest.current = end;
  });
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (event.key !== 'Escape' || !drag.current) return;
      event.preventDefault();
      event.stopPropagation();
      latest.current(cancelGesture);
    };
    window.addEventListener('keydown', onKeyDown, { capture: true });
    return () => window.removeEventListener('keydown', onKeyDown, { capture: true });
  }, []);
  return {
    percent,
    /** Whether the press that comes now was a drag. */
    wasDragged: () => dragged.current,
    handlers: {
      onPointerDown(event: PointerEvent<HTMLElement>) {
        dragged.current = false;
        const ids = findStrand(pattern, piece)?.hits.map(({ id }) => id) ?? [];
        if (event.button !== 0 || ids.length === 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        drag.current = { y: event.clientY, pattern: pattern.id, ids };
      },
      onPointerMove(event: PointerEvent<HTMLElement>) {
        if (!drag.current) return;
        const { y, ids } = drag.current;
        const by = Math.round(y - event.clientY);
        if (!dragged.current && Math.abs(by) < SLOP) return;
        if (!dragged.current) commitGesture();
        dragged.current = true;
        const to = Math.max(LEAST, Math.min(MOST, 100 + by));
        setPercent(to);
        preview(
          [{ type: 'scale velocity', pattern: drag.current.pattern, ids, percent: to }],
          to < 100 ? 'a softer row' : 'a louder row',
        );
      },
      onPointerUp: () => end(commitGesture),
      onPointerCancel: () => end(cancelGesture),
    },
  };
}
