'use client';

import { useDroppable } from '@dnd-kit/core';
import Box from '@mui/material/Box';
import {
  lazy,
  Suspense,
  useMemo,
  useRef,
  useState,
  type KeyboardEvent,
  type PointerEvent,
} from 'react';
import {
  clothByFamily,
  barAround,
  laidPlaces,
  placeName,
  positionAt,
  songBars,
} from '@/core/weave';
import type { Song } from '@/core';
import { ClothCanvas } from '@/look/ClothCanvas';
import { useAfterPaint } from '@/look/useAfterPaint';
import { useEveryFrame } from '@/look/useEveryFrame';
import { useWorkbench } from '@/state/store';
import type { Range } from '@/core/weave';
import { placesToChange } from '@/state/weave/choosing';
import { placeTarget, useCarried } from '@/state/gather/carrying';
import { locate, playhead, setHear, setSongLoop } from '@/state/transport/transport';
import { Transport } from './Transport';

/** Transport and the whole song as a thin map; it stays through all stages. */
export function Ribbon() {
  return (
    <Box
      component="footer"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 2.5,
        height: 100,
        px: 2.5,
        bgcolor: 'var(--paper)',
        borderTop: '1px solid var(--line)',
      }}
    >
      <Transport />
      <SongMap />
    </Box>
  );
}

const MAP_HEIGHT = 48;
/** Only who drafts needs it. */
const EnergyMap = lazy(async () => ({ default: (await import('./EnergyMap')).EnergyMap }));
const NONE: readonly string[] = [];

function SongMap() {
  // The map may follow a moment after what is being worked on.
  const song = useAfterPaint(useWorkbench((state) => state.history!.song));
  const woven = clothByFamily(song);
  const laid = laidPlaces(song);
  const joins = useMemo(() => laid.map(({ start }) => start), [laid]);
  const rowHeights = useMemo(
    () => woven.rows.map(() => Math.floor((MAP_HEIGHT + 1) / woven.rows.length) - 1),
    [woven],
  );
  const { setNodeRef } = useDroppable({
    id: 'ribbon',
    data: {
      target: placeTarget(({ x }) => {
        const tick = x * woven.length;
        return laid.find(({ start, end }) => tick >= start && tick < end)?.place.id;
      }),
    },
  });
  const reached = useWorkbench((state) =>
    state.stage === 'weave' || (state.stage === 'shape' && state.opened)
      ? placesToChange(state)
      : NONE,
  );
  const drafting = useWorkbench(
    ({ stage, weaveView }) => stage === 'weave' && weaveView === 'draft',
  );
  if (laid.length === 0) {
    return (
      <Box sx={{ flex: 1, color: 'text.secondary' }}>
        The song is empty. In Weave, patterns are put in a row; the whole song then shows here.
      </Box>
    );
  }
  return (
    <Box
      ref={setNodeRef}
      data-ribbon
      sx={{ flex: 1, minWidth: 0, alignSelf: 'stretch', pt: '10px' }}
    >
      <Box sx={{ position: 'relative', height: 18, fontSize: 12, color: 'text.secondary' }}>
        {laid.map((place) => (
          <Box
            key={place.place.id}
            component="span"
            sx={{
              position: 'absolute',
              left: `${(place.start / woven.length) * 100}%`,
              width: `${((place.end - place.start) / woven.length) * 100}%`,
              overflow: 'hidden',
              textOverflow: 'ellipsis',
              whiteSpace: 'nowrap',
              pr: 0.5,
              ...(reached.includes(place.place.id) && {
                color: 'var(--accent)',
                boxShadow: 'inset 0 -2px var(--accent)',
              }),
            }}
          >
            {placeName(song, place)}
          </Box>
        ))}
      </Box>
      <MapSurface song={song}>
        <ClothCanvas
          cloth={woven}
          rowHeights={rowHeights}
          gap={1}
          joins={joins}
          label="the whole song as cloth"
        />
        {drafting && (
          <Suspense>
            <EnergyMap song={song} height={MAP_HEIGHT} />
          </Suspense>
        )}
      </MapSurface>
    </Box>
  );
}

/** Press to go there, drag to loop whole bars; with keys, arrows go bar by bar and Shift loops. */
function MapSurface({ song, children }: { song: Song; children: React.ReactNode }) {
  const surface = useRef<HTMLDivElement>(null);
  const head = useRef<HTMLDivElement>(null);
  const [drag, setDrag] = useState<{ x: number; range?: Range }>();
  const loop = useWorkbench((state) => state.songLoop);
  const hear = useWorkbench((state) => state.hear);
  const length = laidPlaces(song).at(-1)!.end;
  const [bar, setBar] = useState(1);

  useEveryFrame(() => {
    if (!head.current || !surface.current) return;
    const heard = useWorkbench.getState().hear === 'song';
    head.current.style.visibility = heard ? 'visible' : 'hidden';
    if (!heard) return;
    const x = Math.min(1, playhead() / length) * surface.current.clientWidth;
    head.current.style.transform = `translateX(${x.toFixed(1)}px)`;
  });

  const tickAt = (event: PointerEvent) => {
    const { left, width } = surface.current!.getBoundingClientRect();
    return Math.max(0, Math.min(0.9999, (event.clientX - left) / width)) * length;
  };
  const goTo = (tick: number) => {
    setHear('song');
    locate(tick);
    setBar(positionAt(song, tick).bar);
  };
  const onPointerMove = (event: PointerEvent) => {
    if (!drag || Math.abs(event.clientX - drag.x) < 5) return;
    const { left, width } = surface.current!.getBoundingClientRect();
    const from = ((drag.x - left) / width) * length;
    const [a, b] = [from, tickAt(event)].sort((p, q) => p - q);
    setDrag({ ...drag, range: { from: barAround(song, a).from, to: barAround(song, b).to } });
  };
  const onPointerUp = (event: PointerEvent) => {
    if (!drag) return;
    setDrag(undefined);
    if (drag.range) {
      setHear('song');
      setSongLoop(drag.range);
      locate(drag.range.from);
    } else {
      const tick = tickAt(event);
      if (loop && (tick < loop.from || tick >= loop.to)) setSongLoop(undefined);
      goTo(barAround(song, tick).from);
    }
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const by = event.key === 'ArrowRight' ? 1 : event.key === 'ArrowLeft' ? -1 : 0;
    if (by === 0 || event.altKey) return;
    event.preventDefault();
    event.stopPropagation();
    const here = barAround(song, playhead());
    const next = barAround(
      song,
      by > 0 ? Math.min(here.to, length - 1) : Math.max(0, here.from - 1),
    );
    if (event.shiftKey) {
      const from = loop?.from ?? here.from;
      const to = loop
        ? by > 0
          ? barAround(song, loop.to).to
          : barAround(song, loop.to - 1).from
        : here.to;
      setHear('song');
      setSongLoop(to > from ? { from, to: Math.min(to, length) } : undefined);
    } else {
      goTo(next.from);
    }
  };

  const changes = useCarried((state) => state.changes);
  const shown = drag?.range ?? (hear === 'song' ? loop : undefined);
  return (
    <Box
      ref={surface}
      role="slider"
      tabIndex={0}
      aria-label="place in the song: arrows go bar by bar, Shift and arrows loop"
      aria-valuemin={1}
      aria-valuemax={songBars(song)}
      aria-valuenow={Math.min(bar, songBars(song))}
      aria-valuetext={`bar ${bar} of ${songBars(song)}`}
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        setDrag({ x: event.clientX });
      }}
      onPointerMove={onPointerMove}
      onPointerUp={onPointerUp}
      onPointerCancel={() => setDrag(undefined)}
      onKeyDown={onKeyDown}
      sx={{ position: 'relative', cursor: 'pointer', touchAction: 'none' }}
    >
      {children}
      {shown && <Framed range={shown} length={length} />}
      {changes?.stretches.map((range, i) => (
        <Framed key={i} range={range} length={length} lit />
      ))}
      <Box
        ref={head}
        sx={{
          position: 'absolute',
          top: -6,
          bottom: -6,
          left: -1,
          width: 2,
          bgcolor: 'var(--ink)',
          pointerEvents: 'none',
        }}
      />
    </Box>
  );
}

/** A frame around bars of the map. @param lit filled: a drop would change them */
function Framed({ range, length, lit }: { range: Range; length: number; lit?: boolean }) {
  return (
    <Box
      sx={{
        position: 'absolute',
        top: -4,
        bottom: -4,
        border: '2px solid var(--accent)',
        pointerEvents: 'none',
        ...(lit && { bgcolor: 'color-mix(in srgb, var(--accent) 22%, transparent)' }),
      }}
      style={{
        left: `${(range.from / length) * 100}%`,
        width: `${((range.to - range.from) / length) * 100}%`,
      }}
    />
  );
}
