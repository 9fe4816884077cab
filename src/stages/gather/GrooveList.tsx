'use client';

import StarIcon from '@mui/icons-material/Star';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useShallow } from 'zustand/react/shallow';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useDraggable } from '@dnd-kit/core';
import { memo, useDeferredValue, useEffect, useMemo, useRef, type ReactNode } from 'react';
import type { Groove, SortBy } from '@/core/library';
import { meterName } from '@/core/time';
import { chooseGroove, clearFilter, sortBy, stopLike, useGather } from '@/state/gather/gather';
import { listed, passedId } from '@/state/gather/listing';
import { useWorkbench } from '@/state/store';
import { auditionRegion } from '@/state/transport/transport';
import { carryGroove } from '@/state/gather/carrying';
import { PrintCanvas } from './PrintCanvas';
import styles from './Gather.module.css';

const ROW = 44;

interface Column {
  by: SortBy;
  name: string;
  title: string;
  figures?: true;
  text: (groove: Groove, fit: number | undefined) => string;
}

const COLUMNS: readonly Column[] = [
  {
    by: 'meter',
    name: 'meter',
    title: 'time signature; … where it changes',
    figures: true,
    text: (g) => `${meterName(g.meter)}${g.otherMeters ? ' …' : ''}`,
  },
  { by: 'bars', name: 'bars', title: 'length in bars', figures: true, text: (g) => String(g.bars) },
  {
    by: 'bpm',
    name: 'tempo',
    title: 'quarter notes a minute',
    figures: true,
    text: (g) => String(Math.round(g.bpm)),
  },
  {
    by: 'busyness',
    name: 'complexity',
    title: 'how much is going on, 0 to 100',
    figures: true,
    text: (g) => String(Math.round(g.busyness)),
  },
  {
    by: 'swing',
    name: 'swing',
    title: 'where the second of two notes falls, in percent',
    figures: true,
    text: (g) => `${Math.round(g.swing)} %`,
  },
  {
    by: 'fit',
    name: 'fits',
    title:
      'how it lands with the reference part, 0 to 100: notes met, of those and of the kicks that meet none',
    figures: true,
    text: (_, fit) => (fit === undefined ? '–' : String(fit)),
  },
];

/** The library as a list: arrow keys go through it and are heard at once. */
export function GrooveList() {
  // Rows that come while files are read are drawn when there is time.
  return <ListOf grooves={useDeferredValue(useGather(({ grooves }) => grooves))} />;
}

const ListOf = memo(function ListOf({ grooves }: { grooves: readonly Groove[] }) {
  const state = useGather(
    useShallow(({ remarks, filter, sort, like, showPassed, fitBy, chosen, status }) => {
      return { remarks, filter, sort, like, showPassed, fitBy, chosen, status };
    }),
  );
  const song = useWorkbench((bench) => bench.history!.song);
  const loop = useWorkbench((bench) => bench.songLoop);
  const placeId = useWorkbench((bench) => bench.placeId);
  const region = useMemo(
    () => auditionRegion(useWorkbench.getState()),
    // What the region is computed from.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [song.places, song.sections, loop, placeId],
  );
  const { list, fits, nearest } = listed({ ...state, grooves }, song, region);
  const scroller = useRef<HTMLDivElement>(null);
  // The list is one of few things here that React's compiler leaves alone; the rows are memoised.
  // eslint-disable-next-line react-hooks/incompatible-library
  const rows = useVirtualizer({
    count: list.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => ROW,
    overscan: 8,
  });
  const { chosen, sort, like, remarks } = state;
  const at = list.findIndex(({ id }) => id === chosen);
  useEffect(() => {
    if (at >= 0) rows.scrollToIndex(at);
  }, [at, rows]);
  // A new search shows its best match first, wherever the list was.
  const { text } = state.filter;
  useEffect(() => rows.scrollToOffset(0), [text, rows]);
  const kept = useMemo(
    () => new Set(song.patterns.map(({ groove }) => groove?.id)),
    [song.patterns],
  );
  const passed = useMemo(() => new Set((song.offcuts ?? []).map(({ id }) => id)), [song.offcuts]);
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateRows: 'auto auto minmax(0, 1fr)',
        minWidth: 0,
        minHeight: 0,
      }}
    >
      <div className={styles.said} role="status">
        <span>
          {nearest && list.length > 0
            ? `nothing is called that: the nearest of ${grooves.length.toLocaleString('en')} grooves`
            : `${list.length.toLocaleString('en')} of ${grooves.length.toLocaleString('en')} grooves`}
          {like &&
            `, the nearest first${like.groups.length > 0 ? ` by ${like.groups.join(', ')}` : ''}`}
        </span>
        {like && (
          <Button size="small" variant="text" onClick={stopLike}>
            all again
          </Button>
        )}
      </div>
      <div className={styles.head} role="group" aria-label="sort the list by">
        <Sorter by="name" name="groove" sort={sort} />
        <Sorter by="kind" name="kind" sort={sort} />
        {COLUMNS.map(({ by, name, title }) => (
          <Sorter key={by} by={by} name={name} title={title} sort={sort} />
        ))}
      </div>
      <div
        ref={scroller}
        className={styles.list}
        role="listbox"
        tabIndex={0}
        aria-label="grooves"
        data-command-keys
        data-work
        aria-activedescendant={at >= 0 ? `groove-${at}` : undefined}
      >
        {list.length === 0 && state.status === 'ready' && (
          <Box sx={{ p: 4, display: 'grid', gap: 1.5, justifyItems: 'start' }}>
            No groove is like that.
            <Button onClick={clearFilter}>list the whole library again</Button>
          </Box>
        )}
        <Grip height={rows.getTotalSize()}>
          {rows.getVirtualItems().map(({ index, start }) => {
            const groove = list[index];
            return (
              <Row
                key={groove.id}
                index={index}
                top={start}
                groove={groove}
                fit={fits.get(groove.id)}
                chosen={groove.id === chosen}
                stars={remarks.get(groove.id)?.stars ?? 0}
                mark={
                  kept.has(groove.id)
                    ? 'kept'
                    : passed.has(passedId(groove.id))
                      ? 'rejected'
                      : undefined
                }
              />
            );
          })}
        </Grip>
      </div>
    </Box>
  );
});

/** Lets every row be dragged: one source for all of them, however many come and go. */
function Grip({ height, children }: { height: number; children: ReactNode }) {
  const held = useRef<string>(undefined);
  const { setNodeRef, listeners } = useDraggable({
    id: 'groove of the list',
    data: { carry: () => held.current && carryGroove(held.current) },
  });
  return (
    <div
      ref={setNodeRef}
      style={{ height, position: 'relative' }}
      onPointerDown={(event) => {
        const row = (event.target as HTMLElement).closest<HTMLElement>('[data-groove]');
        held.current = row?.dataset.groove;
        if (row) listeners?.onPointerDown(event);
      }}
    >
      {children}
    </div>
  );
}

function Sorter(props: {
  by: SortBy;
  name: string;
  title?: string;
  sort: { by: SortBy; down: boolean };
}) {
  const { by, name, title, sort } = props;
  const on = sort.by === by;
  return (
    <button
      type="button"
      className={styles.sorter}
      title={title ? `${title}; press to sort` : 'press to sort'}
      aria-pressed={on}
      onClick={() => sortBy(by)}
    >
      {name}
      {on && (sort.down ? ' ↓' : ' ↑')}
    </button>
  );
}

interface RowProps {
  index: number;
  top: number;
  groove: Groove;
  fit: number | undefined;
  chosen: boolean;
  stars: number;
  mark: 'kept' | 'rejected' | undefined;
}

const Row = memo(function Row({ index, top, groove, fit, chosen, stars, mark }: RowProps) {
  return (
    <div
      id={`groove-${index}`}
      role="option"
      aria-selected={chosen}
      className={`${styles.row} ${chosen ? styles.chosen : ''} ${mark === 'rejected' ? styles.passed : ''}`}
      style={{ transform: `translateY(${top}px)` }}
      data-groove={groove.id}
      onClick={() => void chooseGroove(groove.id)}
    >
      <div className={styles.named}>
        <PrintCanvas print={groove.print} />
        <div>
          <div className={styles.name} title={groove.name}>
            {groove.name}
          </div>
          <div className={styles.family}>
            {groove.family}
            {mark && <span className={styles.mark}> · {mark}</span>}
            {stars > 0 && (
              <span aria-label={`${stars} stars`}>
                {' '}
                {Array.from({ length: stars }, (_, i) => (
                  <StarIcon key={i} sx={{ fontSize: 11, verticalAlign: '-1px' }} />
                ))}
              </span>
            )}
          </div>
        </div>
      </div>
      <div>{groove.kind}</div>
      {COLUMNS.map(({ by, text }) => (
        <div key={by} className="figures">
          {text(groove, fit)}
        </div>
      ))}
    </div>
  );
});
