'use client';

import {
  DndContext,
  DragOverlay,
  KeyboardSensor,
  PointerSensor,
  pointerWithin,
  rectIntersection,
  useSensor,
  useSensors,
  type CollisionDetection,
  type DragEndEvent,
  type DragStartEvent,
  type Over,
} from '@dnd-kit/core';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import Box from '@mui/material/Box';
import { useCallback, useEffect, useRef, type ReactNode } from 'react';
import { DyeSwatch } from '@/look/DyeSwatch';
import {
  endCarrying,
  sayOfDrop,
  useCarried,
  type DropTarget,
  type Where,
} from '@/state/gather/carrying';
import { namesOf } from '@/state/gather/taking';
import { useWorkbench } from '@/state/store';

/** What is under the pointer; with keys, what the carried thing lies on. */
const underPointer: CollisionDetection = (args) =>
  args.pointerCoordinates ? pointerWithin(args) : rectIntersection(args);

let carrying = false;

/** Whether something is carried right now: keys move it then, and let it go. */
export const isCarrying = () => carrying;

const targetOf = (over: Over | null) => over?.data.current?.target as DropTarget | undefined;

/**
 * Drag and drop of the whole page: what can be dragged says in its data what it `carry`s, and what it
 * can be dropped on has a `target`.
 */
export function Carrying({ children }: { children: ReactNode }) {
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const over = useRef<Over>(null);
  const { began, whereIn, look } = usePointer(over);
  const follow = ({ over: now }: { over: Over | null }) => {
    if (over.current && over.current.id !== now?.id) {
      targetOf(over.current)?.leave?.();
      sayOfDrop(undefined);
    }
    over.current = now;
    look();
  };
  const onDragStart = ({ active, activatorEvent }: DragStartEvent) => {
    carrying = true;
    began(activatorEvent instanceof PointerEvent);
    (active.data.current?.carry as (() => void) | undefined)?.();
  };
  const end = () => {
    // The key that lets it go is no command any more.
    setTimeout(() => (carrying = false));
    targetOf(over.current)?.leave?.();
    over.current = null;
    endCarrying();
  };
  const onDragEnd = ({ over: last }: DragEndEvent) => {
    if (last) targetOf(last)?.drop(whereIn(last));
    end();
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={underPointer}
      onDragStart={onDragStart}
      onDragMove={follow}
      onDragOver={follow}
      onDragEnd={onDragEnd}
      onDragCancel={end}
    >
      {children}
      <DragOverlay dropAnimation={null} style={{ width: 'auto', height: 'auto' }}>
        <Held />
      </DragOverlay>
    </DndContext>
  );
}

/** What is carried, beside the pointer. */
function Held() {
  const { pattern, pieces, section } = useCarried();
  const dye = useWorkbench(
    ({ history }) => history?.song.patterns.find(({ id }) => id === section)?.dye,
  );
  if (dye !== undefined) return <DyeSwatch dye={dye} size={36} />;
  if (!pattern) return null;
  return (
    <Box
      component="span"
      sx={{
        display: 'inline-block',
        px: 1,
        py: 0.25,
        fontSize: 12,
        bgcolor: 'var(--paper)',
        border: '1px solid var(--ink)',
        whiteSpace: 'nowrap',
      }}
    >
      {pieces.length > 3 ? `${pieces.length} strands` : namesOf(pieces)}
    </Box>
  );
}

/**
 * Where the pointer is in the box of a target; for what is carried with keys, its middle.
 * @param over the target that is under what is carried: it is looked at again when Shift or Alt is
 * pressed or let go, as the pointer may stand still meanwhile
 */
function usePointer(over: { readonly current: Over | null }) {
  const pointer = useRef({ x: 0, y: 0, shift: false, alt: false, used: true });
  const whereIn = useCallback(({ rect }: Over): Where => {
    const { x, y, shift, alt, used } = pointer.current;
    if (!used) return { x: 0.5, y: 0.5, shift, alt };
    return { x: (x - rect.left) / rect.width, y: (y - rect.top) / rect.height, shift, alt };
  }, []);
  const look = useCallback(() => {
    const target = targetOf(over.current);
    if (!over.current || !target) return;
    const where = whereIn(over.current);
    sayOfDrop(target.over(where), target.changes?.(where));
  }, [over, whereIn]);
  /** @param byPointer whether what is carried was taken up with the pointer, not with keys */
  const began = useCallback((byPointer: boolean) => {
    pointer.current.used = byPointer;
  }, []);
  useEffect(() => {
    const onMove = ({ clientX: x, clientY: y, shiftKey: shift, altKey: alt }: PointerEvent) => {
      Object.assign(pointer.current, { x, y, shift, alt });
    };
    const onKey = ({ key, type }: KeyboardEvent) => {
      if (key !== 'Shift' && key !== 'Alt') return;
      pointer.current[key === 'Shift' ? 'shift' : 'alt'] = type === 'keydown';
      look();
    };
    window.addEventListener('pointermove', onMove, { capture: true });
    window.addEventListener('keydown', onKey);
    window.addEventListener('keyup', onKey);
    return () => {
      window.removeEventListener('pointermove', onMove, { capture: true });
      window.removeEventListener('keydown', onKey);
      window.removeEventListener('keyup', onKey);
    };
  }, [look]);
  return { began, whereIn, look };
}
