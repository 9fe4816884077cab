'use client';

import { useDraggable, useDroppable } from '@dnd-kit/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useMemo, useRef, useState, type PointerEvent } from 'react';
import { findPattern, type Song } from '@/core';
import { placedGuides } from '@/core/guide';
import { pieceOf, type PieceId } from '@/core/model';
import { barNumber } from '@/core/time';
import {
  cloth,
  type Cloth,
  type ClothCell,
  barAround,
  laidPlaces,
  songBars,
  tempoOfSong,
  type LaidPlace,
} from '@/core/weave';
import { gripOf } from '@/look/grip';
import { ClothCanvas } from '@/look/ClothCanvas';
import { GuideLine } from '@/look/GuideLine';
import { PieceSign } from '@/look/Notehead';
import { useClientSize } from '@/look/useClientSize';
import { useEveryFrame } from '@/look/useEveryFrame';
import { keyOf } from '@/state/acts';
import { useWorkbench } from '@/state/store';
import { play, playhead, setHear } from '@/state/transport/transport';
import { carryOffCloth, placeTarget, useCarried } from '@/state/gather/carrying';
import { addSection, selectPlace } from '@/state/weave/weave';
import { HEADER, Headers } from './Headers';

const NAMES = 128;
const BARS = 22;
const GAP = 3;
/** The line of the guides under the bar numbers. */
const GUIDE = 26;
/** A bar is never narrower than this; longer songs scroll. */
const NARROWEST_BAR = 7;

/** The song as cloth, under the headers of its sections. */
export function ClothView() {
  const song = useWorkbench((state) => state.history!.song);
  const view = useRef<HTMLDivElement>(null);
  const size = useClientSize(view);
  const laid = laidPlaces(song);
  const woven = cloth(song);
  return (
    <Box sx={{ minHeight: 0, display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', gap: 1 }}>
      <Facts song={song} />
      <Box ref={view} sx={{ overflow: 'auto', minHeight: 0, position: 'relative' }}>
        {laid.length === 0 ? (
          <EmptyCloth />
        ) : (
          size.width > 0 && <Woven song={song} laid={laid} woven={woven} size={size} />
        )}
      </Box>
    </Box>
  );
}

function Facts({ song }: { song: Song }) {
  const laid = laidPlaces(song);
  const seconds = Math.round(tempoOfSong(song).secondsAt(laid.at(-1)?.end ?? 0));
  const length =
    seconds < 60 ? `${seconds} s` : `${Math.floor(seconds / 60)} min ${seconds % 60} s`;
  return (
    <Box sx={{ display: 'flex', gap: 3, fontSize: 14, color: 'text.secondary', minHeight: 22 }}>
      {laid.length > 0 && (
        <>
          <span className="figures">
            {songBars(song)} bars · {length}
          </span>
          <span>
            {song.sections.length} sections in {song.places.length} places
          </span>
          <Box component="span" sx={{ ml: 'auto', fontSize: 12 }}>
            press a bar to play from it · drag a header to move it, a strand to take it elsewhere
          </Box>
        </>
      )}
    </Box>
  );
}

/** An empty song begins with what is dropped on it. */
const AT_END = placeTarget(() => undefined);

function EmptyCloth() {
  const { setNodeRef, isOver } = useDroppable({ id: 'end', data: { target: AT_END } });
  const name = useWorkbench((state) => state.history!.song.patterns[0]?.name);
  return (
    <Box
      ref={setNodeRef}
      sx={{
        height: '100%',
        display: 'grid',
        placeContent: 'center',
        justifyItems: 'center',
        gap: 1.5,
        border: '1px dashed',
        borderColor: isOver ? 'var(--accent)' : 'var(--line)',
      }}
    >
      <Typography variant="h2">Nothing is woven yet</Typography>
      <Typography sx={{ maxWidth: 420, textAlign: 'center' }}>
        Drag a pattern from the shelf here. Each becomes a section of the song; sections can be
        repeated, moved and renamed.
      </Typography>
      {name && (
        <Button variant="contained" onClick={() => addSection()}>
          add a section that plays “{name}” ({keyOf('add-section')})
        </Button>
      )}
    </Box>
  );
}

interface WovenProps {
  song: Song;
  laid: readonly LaidPlace[];
  woven: Cloth;
  size: { width: number; height: number };
}

function Woven({ song, laid, woven, size }: WovenProps) {
  const width = Math.max(size.width - NAMES, songBars(song) * NARROWEST_BAR);
  const joins = useMemo(() => laid.map(({ start }) => start), [laid]);
  const guideRoom = song.guides.length > 0 ? GUIDE : 0;
  const heights = useMemo(
    () => rowHeights(woven, size.height - HEADER - BARS - 12 - guideRoom),
    [woven, size.height, guideRoom],
  );
  const x = (tick: number) => (tick / woven.length) * width;
  return (
    <Box
      sx={{ display: 'grid', gridTemplateColumns: `${NAMES}px ${width}px`, width: NAMES + width }}
    >
      <Box sx={{ position: 'sticky', left: 0, zIndex: 3, bgcolor: 'var(--ground)' }}>
        <Box sx={{ height: HEADER + 6 }} />
        {woven.rows.map(({ piece }, i) => {
          const { name, articulations } = pieceOf(piece);
          return (
            <Box
              key={piece}
              sx={{
                height: heights[i],
                mb: `${GAP}px`,
                display: 'flex',
                alignItems: 'center',
                gap: 1,
              }}
            >
              <PieceSign head={articulations[0].head} size={12} />
              <Box
                sx={{
                  whiteSpace: 'nowrap',
                  overflow: 'hidden',
                  textOverflow: 'ellipsis',
                  lineHeight: 1.1,
                }}
              >
                {name}
              </Box>
            </Box>
          );
        })}
        {guideRoom > 0 && (
          <Box sx={{ mt: `${BARS}px`, fontSize: 12, fontStyle: 'italic', color: 'text.secondary' }}>
            {song.guides.map(({ name }) => name.toLowerCase()).join(', ')}
          </Box>
        )}
      </Box>
      <Box sx={{ position: 'relative' }}>
        <Headers song={song} laid={laid} x={x} />
        <Surface song={song} laid={laid} x={x} width={width} woven={woven} heights={heights}>
          <ClothCanvas
            cloth={woven}
            rowHeights={heights}
            gap={GAP}
            joins={joins}
            stems
            label={`${song.name}: ${songBars(song)} bars by ${woven.rows.length} kit pieces`}
          />
        </Surface>
        <BarNumbers laid={laid} x={x} />
        {guideRoom > 0 && (
          <GuideLine
            guides={placedGuides(song)}
            from={0}
            to={woven.length}
            x={x}
            width={width}
            height={GUIDE - 4}
          />
        )}
      </Box>
    </Box>
  );
}

/** Rows with many hits are taller: that is where there is something to see. */
function rowHeights(woven: Cloth, room: number): number[] {
  const most = Math.max(1, ...woven.rows.map((row) => row.hits.length));
  const weights = woven.rows.map((row) => 1 + 1.4 * Math.sqrt(row.hits.length / most));
  const sum = weights.reduce((a, b) => a + b, 0);
  const free = room - GAP * woven.rows.length;
  return weights.map((weight) => Math.max(20, Math.min(88, Math.floor((free * weight) / sum))));
}

/** The stretch of a strand that is under the pointer: it can be dragged. */
interface Grip {
  piece: PieceId;
  cell: ClothCell;
  top: number;
  height: number;
}

/** @param before is given back where nothing has changed, so that nothing is drawn anew */
function gripAt(
  woven: Cloth,
  heights: readonly number[],
  tick: number,
  y: number,
  before: Grip | undefined,
): Grip | undefined {
  let top = 0;
  for (const [i, { piece, cells }] of woven.rows.entries()) {
    const height = heights[i];
    if (y >= top && y < top + height) {
      const cell = cells.findLast(({ from, to }) => tick >= from && tick < to);
      if (before && before.cell === cell) return before;
      return cell && { piece, cell, top, height };
    }
    top += height + GAP;
  }
  return undefined;
}

/** Whether a strand of the cloth is on its way: until it is dropped, the pointer does nothing else. */
const isCarrying = () => useCarried.getState().pattern !== undefined;

/** Press a bar: its section is chosen and the song plays from there. */
function Surface(
  props: Pick<WovenProps, 'song' | 'laid' | 'woven'> & {
    x: (tick: number) => number;
    width: number;
    heights: readonly number[];
    children: React.ReactNode;
  },
) {
  const { song, laid, woven, heights, x, width, children } = props;
  const [grip, setGrip] = useState<Grip>();
  // What goes into one section is said in words; what goes into the song is shown on all of it.
  const adding = useCarried((state) => state.section !== undefined);
  const carried = grip && findPattern(song, grip.cell.pattern);
  const head = useRef<HTMLDivElement>(null);
  const length = laid.at(-1)!.end;
  const placeAt = (tick: number) => laid.find(({ start, end }) => tick >= start && tick < end);
  const { setNodeRef, isOver } = useDroppable({
    id: 'cloth',
    data: { target: placeTarget((where) => placeAt(where.x * length)?.place.id) },
  });
  const { setNodeRef: setGripRef, listeners } = useDraggable({
    id: 'strand of the cloth',
    data: { carry: () => grip && carryOffCloth(grip.cell.pattern, grip.piece) },
  });
  const loop = useWorkbench((state) => state.songLoop);
  const chosen = useWorkbench((state) => state.placeId);
  const here = laid.find(({ place }) => place.id === chosen);
  useEveryFrame(() => {
    if (!head.current) return;
    const heard = useWorkbench.getState().hear === 'song';
    head.current.style.visibility = heard ? 'visible' : 'hidden';
    head.current.style.transform = `translateX(${x(Math.min(length, playhead())).toFixed(1)}px)`;
  });
  const tickOf = (event: { clientX: number; currentTarget: Element }) => {
    const { left } = event.currentTarget.getBoundingClientRect();
    return Math.max(0, Math.min(length - 1, ((event.clientX - left) / width) * length));
  };
  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    if (isCarrying()) return;
    const { top } = event.currentTarget.getBoundingClientRect();
    setGrip(gripAt(woven, heights, tickOf(event), event.clientY - top, grip));
  };
  const onPointerUp = (event: PointerEvent<HTMLElement>) => {
    if (event.button !== 0 || isCarrying()) return;
    const tick = tickOf(event);
    const place = placeAt(tick);
    if (place) selectPlace(place.place.id);
    setHear('song');
    void play(barAround(song, tick).from);
  };
  return (
    <Box
      ref={setNodeRef}
      onPointerUp={onPointerUp}
      onPointerMove={onPointerMove}
      onPointerLeave={() => !isCarrying() && setGrip(undefined)}
      sx={{
        position: 'relative',
        cursor: 'pointer',
        outline: isOver && adding ? '2px solid var(--accent)' : 'none',
      }}
    >
      {children}
      {grip && carried && (
        <Box
          ref={setGripRef}
          {...gripOf(listeners)}
          data-grip={grip.cell.pattern}
          title={`${pieceOf(grip.piece).name.toLowerCase()} of “${carried.name}”: press to play from here, drag it onto another section or a pattern of the shelf`}
          sx={{
            position: 'absolute',
            top: grip.top,
            height: grip.height,
            left: x(grip.cell.from),
            width: x(grip.cell.to) - x(grip.cell.from) - 2,
            border: '1px solid var(--ink)',
          }}
        />
      )}
      {here && (
        <Box
          sx={{
            position: 'absolute',
            top: -2,
            bottom: -2,
            left: x(here.start),
            width: x(here.end) - x(here.start) - 2,
            border: '2px solid var(--accent)',
            pointerEvents: 'none',
          }}
        />
      )}
      {loop && (
        <Box
          sx={{
            position: 'absolute',
            bottom: -4,
            height: 3,
            left: x(loop.from),
            width: x(loop.to) - x(loop.from),
            bgcolor: 'var(--accent)',
            pointerEvents: 'none',
          }}
        />
      )}
      <Box
        ref={head}
        sx={{
          position: 'absolute',
          top: -4,
          bottom: -4,
          left: -1,
          width: 2,
          bgcolor: 'var(--ink)',
          pointerEvents: 'none',
        }}
      />
    </Box>
  );
}

function BarNumbers({ laid, x }: { laid: readonly LaidPlace[]; x: (tick: number) => number }) {
  let last = -Infinity;
  const shown = laid.flatMap(({ start, section, firstBar }) =>
    Array.from({ length: section.bars }, (_, bar) => ({
      tick: start + barNumber(section.meters, bar).start,
      bar: firstBar + bar + 1,
      first: bar === 0,
      fourth: bar % 4 === 0,
    })).filter(({ tick, first, fourth }) => {
      if (!(first || fourth) || x(tick) - last < (first ? 22 : 34)) return false;
      last = x(tick);
      return true;
    }),
  );
  return (
    <Box sx={{ position: 'relative', height: BARS, mt: '4px' }}>
      {shown.map(({ tick, bar }) => (
        <Box
          key={bar}
          component="span"
          className="figures"
          sx={{ position: 'absolute', left: x(tick) + 1, fontSize: 12, color: 'text.secondary' }}
        >
          {bar}
        </Box>
      ))}
    </Box>
  );
}
