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
} from '@dnd-kit/core';
import { sortableKeyboardCoordinates } from '@dnd-kit/sortable';
import Box from '@mui/material/Box';
import { useState } from 'react';
import { DyeSwatch } from '@/look/DyeSwatch';
import { movePatternOver } from '@/state/gather/taking';
import { addSection, movePlace } from '@/state/weave/weave';
import { useWorkbench } from '@/state/store';
import { ClothView } from './ClothView';
import { PlaceCard } from './PlaceCard';
import { Shelf } from './Shelf';

/** What is under the pointer; with keys, what the carried thing lies on. */
const underPointer: CollisionDetection = (args) => {
  const under = pointerWithin(args);
  return under.length > 0 ? under : rectIntersection(args);
};

/** The song put together: the shelf on the left, the cloth, and what is known of the chosen place. */
export function Weave() {
  const [carried, setCarried] = useState<string>();
  const patterns = useWorkbench((state) => state.history!.song.patterns);
  const sensors = useSensors(
    useSensor(PointerSensor, { activationConstraint: { distance: 6 } }),
    useSensor(KeyboardSensor, { coordinateGetter: sortableKeyboardCoordinates }),
  );
  const onDragEnd = ({ active, over }: DragEndEvent) => {
    setCarried(undefined);
    if (!over) return;
    const { places } = useWorkbench.getState().history!.song;
    const target = places.findIndex((place) => place.id === over.id);
    const pattern = active.data.current?.pattern as string | undefined;
    const other = over.data.current?.pattern as string | undefined;
    if (pattern && other) movePatternOver(pattern, other);
    else if (pattern) addSection(pattern, target < 0 ? places.length : target);
    else if (target >= 0) movePlace(target, String(active.id));
  };
  const dye = patterns.find((pattern) => pattern.id === carried)?.dye;
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={underPointer}
      onDragStart={({ active }) => setCarried(active.data.current?.pattern as string | undefined)}
      onDragEnd={onDragEnd}
      onDragCancel={() => setCarried(undefined)}
    >
      <Box sx={{ height: '100%', display: 'grid', gridTemplateColumns: '208px minmax(0, 1fr)' }}>
        <Shelf />
        <Box
          sx={{
            minHeight: 0,
            display: 'grid',
            gridTemplateRows: 'minmax(0, 1fr) auto',
            p: 2,
            gap: 1.5,
          }}
        >
          <ClothView />
          <PlaceCard />
        </Box>
      </Box>
      <DragOverlay dropAnimation={null}>
        {dye !== undefined && <DyeSwatch dye={dye} size={36} />}
      </DragOverlay>
    </DndContext>
  );
}
