'use client';

import { useDroppable } from '@dnd-kit/core';
import { horizontalListSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import Box from '@mui/material/Box';
import type { Song } from '@/core';
import { meterName } from '@/core/time';
import { placeName, placesOf, type LaidPlace } from '@/core/weave';
import { useWorkbench } from '@/state/store';
import { play } from '@/state/transport/transport';
import { carryPlace, placeTarget } from '@/state/gather/carrying';
import { selectPlace } from '@/state/weave/weave';

/** Height of a header, without the gap below it. */
export const HEADER = 36;

/** Behind the last section. */
const AT_END = placeTarget(() => undefined);

interface HeadersProps {
  song: Song;
  laid: readonly LaidPlace[];
  x: (tick: number) => number;
}

/** The sections in order; drag one to move it. */
export function Headers({ song, laid, x }: HeadersProps) {
  const ids = laid.map(({ place }) => place.id);
  const { setNodeRef } = useDroppable({ id: 'end', data: { target: AT_END } });
  return (
    <Box
      ref={setNodeRef}
      sx={{ display: 'flex', height: HEADER, mb: '6px' }}
      role="list"
      aria-label="sections in order"
    >
      <SortableContext items={ids} strategy={horizontalListSortingStrategy}>
        {laid.map((place) => (
          <Header
            key={place.place.id}
            song={song}
            laid={place}
            width={x(place.end) - x(place.start)}
          />
        ))}
      </SortableContext>
    </Box>
  );
}

function Header({ song, laid, width }: { song: Song; laid: LaidPlace; width: number }) {
  const { place, section } = laid;
  const chosen = useWorkbench((state) => state.placeId === place.id);
  const linked = useWorkbench(
    (state) =>
      state.history!.song.places.find((p) => p.id === state.placeId)?.section === section.id,
  );
  const { setNodeRef, listeners, attributes, transform, isDragging } = useSortable({
    id: place.id,
    data: { carry: () => carryPlace(place.id), target: placeTarget(() => place.id) },
  });
  const count = placesOf(song, section.id);
  return (
    <Box
      role="listitem"
      ref={setNodeRef}
      sx={{ width, flex: 'none', minWidth: 0, pr: '2px' }}
      style={{
        transform: CSS.Translate.toString(transform),
        zIndex: isDragging ? 5 : undefined,
        position: 'relative',
      }}
    >
      <Box
        component="button"
        type="button"
        aria-describedby={attributes['aria-describedby']}
        aria-roledescription={attributes['aria-roledescription']}
        {...listeners}
        aria-pressed={chosen}
        title={`${placeName(song, laid)}: ${section.bars} bars of ${section.meters.map(({ meter }) => meterName(meter)).join(', ')}`}
        onClick={() => selectPlace(place.id)}
        onDoubleClick={() => void play(laid.start)}
        sx={{
          width: '100%',
          height: HEADER,
          px: 0.75,
          border: '1px solid',
          borderBottomWidth: 3,
          borderColor: chosen ? 'var(--accent)' : 'var(--line)',
          borderBottomColor: linked ? 'var(--accent)' : 'var(--line)',
          bgcolor: chosen ? 'var(--paper)' : 'var(--panel)',
          color: 'var(--ink)',
          font: 'inherit',
          textAlign: 'left',
          cursor: 'grab',
          overflow: 'hidden',
          whiteSpace: 'nowrap',
          touchAction: 'none',
        }}
      >
        <Box
          sx={{
            fontSize: 13,
            lineHeight: '16px',
            fontWeight: 600,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
          }}
        >
          {placeName(song, laid)}
        </Box>
        <Box
          className="figures"
          sx={{
            fontSize: 12,
            lineHeight: '14px',
            color: 'text.secondary',
            overflow: 'hidden',
            textOverflow: 'ellipsis',
          }}
        >
          {section.bars} bars{count > 1 && ` · ${count} linked`}
        </Box>
      </Box>
    </Box>
  );
}
