'use client';

import { horizontalListSortingStrategy, SortableContext, useSortable } from '@dnd-kit/sortable';
import { CSS } from '@dnd-kit/utilities';
import LockIcon from '@mui/icons-material/Lock';
import Box from '@mui/material/Box';
import type { SxProps } from '@mui/material/styles';
import { memo, useMemo, type MouseEvent } from 'react';
import type { Song } from '@/core';
import { meterName } from '@/core/time';
import { placeName, placesOf, type LaidPlace } from '@/core/weave';
import { useWorkbench } from '@/state/store';
import { play } from '@/state/transport/transport';
import { carryPlace, headerTarget } from '@/state/gather/carrying';
import { placesToChange, selectPlace } from '@/state/weave/choosing';

/** Height of a header, without the gap below it. */
export const HEADER = 36;

interface HeadersProps {
  song: Song;
  /** Those that are seen, and a few beside them. */
  laid: readonly LaidPlace[];
  x: (tick: number) => number;
}

/** Headers narrower than this stand together under one, in pixels, and so wide at least. */
const NARROW = 20;
const GROUP = 56;
/** Narrower headers have no room for more than the name, and narrower still only for a short form of it. */
const SHORT = 40;

/** The look of all headers stands once: there may be hundreds of them. */
const LOOK: SxProps = {
  position: 'relative',
  height: HEADER,
  mb: '2px',
  '& > div': { position: 'absolute', top: 0, minWidth: 0, pr: '2px' },
  '& button': {
    width: '100%',
    height: HEADER,
    px: 0.75,
    border: '1px solid var(--line)',
    borderBottomWidth: 3,
    bgcolor: 'var(--panel)',
    color: 'var(--ink)',
    font: 'inherit',
    textAlign: 'left',
    cursor: 'grab',
    whiteSpace: 'nowrap',
    touchAction: 'none',
  },
  '& button[data-narrow]': { px: 0.25 },
  '& button[aria-pressed=true]': { borderColor: 'var(--accent)', bgcolor: 'var(--paper)' },
  '& button[aria-pressed]': { borderBottomColor: 'var(--line)' },
  '& button[data-over]': { borderColor: 'var(--accent)', bgcolor: 'var(--paper)' },
  '& button[data-changes]': { borderBottomColor: 'var(--accent)' },
  '& span': { display: 'block', overflow: 'hidden', textOverflow: 'ellipsis' },
  '& .name': { fontSize: 13, lineHeight: '16px', fontWeight: 600 },
  '& .figures': { fontSize: 12, lineHeight: '14px', color: 'text.secondary' },
};

/** The sections in order; drag one to move it, with Shift or Ctrl choose several. */
export function Headers({ song, laid: seen, x }: HeadersProps) {
  /** Pixels a tick. */
  const scale = x(1);
  const { alone: laid, groups } = useMemo(() => grouped(seen, scale), [seen, scale]);
  const { places, sections } = song;
  const ids = useMemo(() => laid.map(({ place }) => place.id), [laid]);
  // What only changes with the form is drawn again only with it.
  const named = useMemo(
    () =>
      laid.map((one) => ({
        name: placeName({ ...song, places, sections }, one),
        count: placesOf({ places, sections }, one.section.id),
      })),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- names follow from places and sections alone
    [laid, places, sections],
  );
  return (
    <Box sx={LOOK} role="list" aria-label="sections in order">
      <SortableContext items={ids} strategy={horizontalListSortingStrategy}>
        {laid.map((place, i) => (
          <Header
            key={place.place.id}
            laid={place}
            name={named[i].name}
            count={named[i].count}
            left={x(place.start)}
            width={x(place.end) - x(place.start)}
          />
        ))}
      </SortableContext>
      {groups.map((group) => (
        <GroupHeader key={group[0].place.id} song={song} group={group} x={x} />
      ))}
    </Box>
  );
}

/** Places that are wide enough for a header of their own, and runs of others that share one. */
function grouped(
  laid: readonly LaidPlace[],
  scale: number,
): { alone: LaidPlace[]; groups: LaidPlace[][] } {
  const alone: LaidPlace[] = [];
  const groups: LaidPlace[][] = [];
  let open: LaidPlace[] | undefined;
  let width = 0;
  for (const one of laid) {
    const own = (one.end - one.start) * scale;
    if (own >= NARROW) {
      alone.push(one);
      open = undefined;
      continue;
    }
    if (!open || width >= GROUP) {
      groups.push((open = []));
      width = 0;
    }
    open.push(one);
    width += own;
  }
  return { alone, groups };
}

/** “v2” for “verse 2”. */
const shortForm = (name: string): string => {
  const [, word, number] = /^(.*?)\s*(\d*)$/.exec(name.trim())!;
  return `${word.slice(0, number ? 1 : 2)}${number}`;
};

/** One name for a run of sections that are too narrow for their own: a press chooses the one under the pointer. */
function GroupHeader({ song, group, x }: { song: Song; group: LaidPlace[]; x: HeadersProps['x'] }) {
  const [first, last] = [group[0], group.at(-1)!];
  const chosen = useWorkbench((state) => group.some(({ place }) => place.id === state.placeId));
  const names = [first, last].map((one) => placeName(song, one));
  const [left, right] = [x(first.start), x(last.end)];
  const choose = ({ nativeEvent, shiftKey, ctrlKey, metaKey }: MouseEvent) => {
    const at = left + nativeEvent.offsetX;
    const one = group.find(({ end }) => x(end) >= at) ?? last;
    selectPlace(one.place.id, shiftKey ? 'up to' : ctrlKey || metaKey ? 'beside' : 'alone');
  };
  const said = group.length > 1 ? `${names[0]} to ${names[1]}` : names[0];
  return (
    <div role="listitem" style={{ left, width: right - left }}>
      <button
        type="button"
        aria-pressed={chosen}
        data-narrow
        title={`${said}: see fewer bars to have a header for each`}
        onClick={choose}
      >
        <span className="name">{shortForm(names[0])}</span>
        {group.length > 1 && <span className="figures">to {shortForm(names[1])}</span>}
      </button>
    </div>
  );
}

interface HeaderProps {
  laid: LaidPlace;
  name: string;
  count: number;
  left: number;
  width: number;
}

const Header = memo(function Header({ laid, name, count, left, width }: HeaderProps) {
  const { place, section } = laid;
  const chosen = useWorkbench(
    (state) => state.placeId === place.id || state.placeIds.includes(place.id),
  );
  const changes = useWorkbench((state) => placesToChange(state).includes(place.id));
  const data = useMemo(
    () => ({ carry: () => carryPlace(place.id), target: headerTarget(place.id) }),
    [place.id],
  );
  const { setNodeRef, listeners, attributes, transform, isDragging, isOver } = useSortable({
    id: place.id,
    data,
  });
  const locked = place.locked || section.locked;
  const own = place.overlay.length > 0;
  const facts = [
    `${section.bars} bars`,
    section.meters.length > 1 && 'meters change',
    count > 1 && `${count} linked`,
  ].filter(Boolean);
  const choose = ({ shiftKey, ctrlKey, metaKey }: MouseEvent) =>
    selectPlace(place.id, shiftKey ? 'up to' : ctrlKey || metaKey ? 'beside' : 'alone');
  return (
    <div
      role="listitem"
      ref={setNodeRef}
      style={{
        left,
        width,
        transform: CSS.Translate.toString(transform),
        zIndex: isDragging ? 2 : undefined,
        opacity: isDragging ? 0.7 : undefined,
      }}
    >
      <button
        type="button"
        {...attributes}
        {...listeners}
        aria-pressed={chosen}
        data-over={(isOver && !isDragging) || undefined}
        data-changes={changes || undefined}
        data-narrow={width < SHORT || undefined}
        title={`${name}: ${section.kind}, ${section.bars} bars of ${meterName(section.meters[0].meter)}${count > 1 ? `, in ${count} places` : ''}${own ? ', changed here' : ''}${locked ? ', locked' : ''}. Press twice to play from here.`}
        onClick={choose}
        onDoubleClick={() => void play(laid.start)}
      >
        <span className="name">
          {locked && <LockIcon sx={{ fontSize: 12, mr: 0.25, verticalAlign: '-1px' }} />}
          {width >= SHORT ? name : shortForm(name)}
        </span>
        {width >= SHORT && <span className="figures">{facts.join(' · ')}</span>}
      </button>
    </div>
  );
});
