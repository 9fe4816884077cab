'use client';

import { useDroppable } from '@dnd-kit/core';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import {
  useDeferredValue,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
  type RefObject,
} from 'react';
import type { Song } from '@/core';
import { placedGuides } from '@/core/guide';
import { cloth, laidPlaces, songBars, type Cloth, type LaidPlace } from '@/core/weave';
import { GuideLine } from '@/look/GuideLine';
import { WaysIn } from '@/look/WaysIn';
import { useClientSize } from '@/look/useClientSize';
import { keyOf } from '@/state/acts';
import { placeTarget } from '@/state/gather/carrying';
import { BEGINNINGS, isEmptySong } from '@/state/session/beginnings';
import { useWorkbench } from '@/state/store';
import { playhead } from '@/state/transport/transport';
import { addSection, openForm } from '@/state/weave/weave';
import { setClothWidth } from '@/state/weave/zoom';
import { BarNumbers } from './BarNumbers';
import { ClothCanvasWindow } from './ClothCanvasWindow';
import { ENERGY, EnergyLane } from './EnergyLane';
import { Facts } from './Facts';
import { HEADER, Headers } from './Headers';
import { LANE, Lane } from './Lane';
import { BARS, GAP, NAMES, RowNames } from './RowNames';
import { Surface } from './Surface';

/** The line of the guides under the bar numbers. */
const GUIDE = 26;

/** The song as cloth, under the headers of its sections. */
export function ClothView() {
  // Woven in pieces of time between which the page answers: much may change at once.
  const song = useDeferredValue(useWorkbench((state) => state.history!.song));
  const view = useRef<HTMLDivElement>(null);
  const size = useClientSize(view);
  const laid = laidPlaces(song);
  const woven = cloth(song);
  useEffect(() => {
    if (size.width > NAMES) setClothWidth(size.width - NAMES);
  }, [size.width]);
  return (
    <Box sx={{ minHeight: 0, display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', gap: 1 }}>
      <Facts />
      <Box ref={view} data-cloth sx={{ overflow: 'auto', minHeight: 0, position: 'relative' }}>
        {laid.length === 0 ? (
          <EmptyCloth />
        ) : (
          size.width > 0 && (
            <Woven song={song} laid={laid} woven={woven} size={size} scroller={view} />
          )
        )}
      </Box>
    </Box>
  );
}

/** An empty song begins with what is dropped on it. */
const AT_END = placeTarget(() => undefined);

function EmptyCloth() {
  const { setNodeRef, isOver } = useDroppable({ id: 'end', data: { target: AT_END } });
  const name = useWorkbench((state) => state.history!.song.patterns[0]?.name);
  const empty = useWorkbench(({ history }) => isEmptySong(history!.song));
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
      {empty && (
        <Box sx={{ width: 520 }}>
          <WaysIn ways={BEGINNINGS} columns={2} />
        </Box>
      )}
      <Typography sx={{ maxWidth: 440, textAlign: 'center' }}>
        Type the form of the song (“intro 4, verse 8, chorus 8 x 2”), or drag a pattern from the
        shelf here: each becomes a section.
      </Typography>
      <Button variant={empty ? 'outlined' : 'contained'} onClick={openForm}>
        type the form ({keyOf('form')})
      </Button>
      {name && (
        <Button onClick={() => addSection()}>
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
  scroller: RefObject<HTMLDivElement | null>;
}

function Woven({ song, laid, woven, size, scroller }: WovenProps) {
  const barWidth = useWorkbench((state) => state.barWidth);
  const seen = size.width - NAMES;
  const width = Math.max(seen, barWidth * songBars(song));
  const part = useSeenPart(scroller, seen, width);
  useKeepMiddle(scroller, seen, width);
  useFollow(scroller, width, woven.length);
  useChosenInSight(scroller, laid, width, woven.length);
  const joins = useMemo(() => laid.map(({ start }) => start), [laid]);
  const guideRoom = song.guides.length > 0 ? GUIDE : 0;
  const energy = useWorkbench(({ weaveView, energyShown }) => weaveView === 'draft' || energyShown);
  const energyRoom = energy ? ENERGY + 4 : 0;
  const heights = useMemo(
    () => rowHeights(woven, size.height - HEADER - LANE - BARS - 14 - guideRoom - energyRoom),
    [woven, size.height, guideRoom, energyRoom],
  );
  const x = (tick: number) => (tick / woven.length) * width;
  const [first, last] = [Math.max(0, part.from), Math.min(width, part.to)];
  const shown = useMemo(() => {
    const [from, to] = [part.from, part.to].map((px) => (px / width) * woven.length);
    return laid.filter(({ start, end }) => start < to && end > from);
  }, [laid, part, width, woven.length]);
  return (
    <Box
      // Labels at the very end of the song make nothing scroll.
      sx={{
        display: 'grid',
        gridTemplateColumns: `${NAMES}px ${width}px`,
        width: NAMES + width,
        overflowX: 'clip',
      }}
    >
      <RowNames
        song={song}
        woven={woven}
        heights={heights}
        guides={guideRoom > 0}
        energy={energyRoom}
      />
      <Box sx={{ position: 'relative', minWidth: 0 }}>
        <Headers song={song} laid={shown} x={x} />
        {energy && <EnergyLane song={song} laid={shown} x={x} width={width} />}
        <Lane song={song} laid={shown} x={x} />
        <Surface
          song={song}
          laid={laid}
          shown={shown}
          x={x}
          width={width}
          woven={woven}
          heights={heights}
          gap={GAP}
        >
          <ClothCanvasWindow
            cloth={woven}
            rowHeights={heights}
            gap={GAP}
            joins={joins}
            stems
            width={width}
            seen={seen}
            inset={NAMES}
            scroller={scroller}
            label={`${song.name}: ${songBars(song)} bars by ${woven.rows.length} kit pieces`}
          />
        </Surface>
        <BarNumbers song={song} laid={shown} x={x} width={width} height={BARS} />
        {guideRoom > 0 && (
          <Box sx={{ position: 'relative', height: GUIDE - 4 }}>
            <Box sx={{ position: 'absolute' }} style={{ left: first }}>
              <GuideLine
                guides={placedGuides(song)}
                from={(first / width) * woven.length}
                to={(last / width) * woven.length}
                x={x}
                width={last - first}
                height={GUIDE - 4}
              />
            </Box>
          </Box>
        )}
      </Box>
    </Box>
  );
}

/** Which pixels of a wide cloth are seen, with a little more at both sides, in coarse steps. */
function useSeenPart(scroller: RefObject<HTMLElement | null>, seen: number, width: number) {
  const [step, setStep] = useState(0);
  const stride = Math.max(1, seen / 4);
  useEffect(() => {
    const box = scroller.current;
    if (!box) return;
    const onScroll = () => setStep(Math.floor(box.scrollLeft / stride));
    onScroll();
    box.addEventListener('scroll', onScroll, { passive: true });
    return () => box.removeEventListener('scroll', onScroll);
  }, [scroller, stride]);
  return useMemo(() => {
    const left = Math.min(step * stride, Math.max(0, width - seen));
    return { from: left - 0.1 * seen, to: left + 1.35 * seen };
  }, [step, stride, seen, width]);
}

/** What is in the middle stays there when bars get wider or narrower. */
function useKeepMiddle(scroller: RefObject<HTMLElement | null>, seen: number, width: number): void {
  const before = useRef(width);
  useLayoutEffect(() => {
    const box = scroller.current;
    const old = before.current;
    before.current = width;
    if (!box || old === width) return;
    box.scrollTo({ left: ((box.scrollLeft + seen / 2) / old) * width - seen / 2 });
  }, [scroller, seen, width]);
}

/** Scrolls the chosen bars or place into sight, and keeps them there when bars get wider or narrower. */
function useChosenInSight(
  scroller: RefObject<HTMLElement | null>,
  laid: readonly LaidPlace[],
  width: number,
  length: number,
): void {
  const bars = useWorkbench((state) => state.bars);
  const placeId = useWorkbench((state) => state.placeId);
  const place = laid.find(({ place: { id } }) => id === placeId);
  const [from, to] = bars ? [bars.from, bars.to] : [place?.start, place?.end];
  useLayoutEffect(() => {
    const box = scroller.current;
    if (!box || from === undefined || to === undefined) return;
    if (box.scrollWidth <= box.clientWidth) return;
    const room = box.clientWidth - NAMES;
    const [left, right] = [from, to].map((tick) => (tick / length) * width);
    const margin = Math.max(0, Math.min(room * 0.1, (room - (right - left)) / 2));
    if (left < box.scrollLeft || right - left > room) box.scrollTo({ left: left - margin });
    else if (right > box.scrollLeft + room) box.scrollTo({ left: right - room + margin });
  }, [scroller, from, to, width, length]);
}

/** While it plays, what is heard stays in sight, as long as it was. */
function useFollow(scroller: RefObject<HTMLElement | null>, width: number, length: number): void {
  const playing = useWorkbench((state) => state.playing && state.hear === 'song' && state.follow);
  useEffect(() => {
    if (!playing) return;
    let inside = true;
    const timer = setInterval(() => {
      const box = scroller.current;
      if (!box || box.scrollWidth <= box.clientWidth) return;
      const at = (playhead() / length) * width - box.scrollLeft;
      const room = box.clientWidth - NAMES;
      const isInside = at >= 0 && at <= room;
      if (inside && !isInside) box.scrollBy({ left: at - room * 0.1 });
      inside = isInside || inside;
    }, 100);
    return () => clearInterval(timer);
  }, [playing, scroller, width, length]);
}

/** Rows with many hits are taller: that is where there is something to see. */
function rowHeights(woven: Cloth, room: number): number[] {
  const most = Math.max(1, ...woven.rows.map((row) => row.hits.length));
  const weights = woven.rows.map((row) => 1 + 1.4 * Math.sqrt(row.hits.length / most));
  const sum = weights.reduce((a, b) => a + b, 0);
  const free = room - GAP * woven.rows.length;
  return weights.map((weight) => Math.max(20, Math.min(88, Math.floor((free * weight) / sum))));
}
