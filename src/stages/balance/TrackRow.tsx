'use client';

import Box from '@mui/material/Box';
import ToggleButton from '@mui/material/ToggleButton';
import Tooltip from '@mui/material/Tooltip';
import { useDraggable, useDroppable } from '@dnd-kit/core';
import type { Track } from '@/core/model';
import { layoutOf, pieceOf } from '@/core/model';
import {
  hitsPerTrack,
  isSilent,
  mixOf,
  nameOfParts,
  partsOf,
  saidPan,
  stripOf,
  stripsOf,
} from '@/core/tracks';
import { Fader, type FaderProps } from '@/look/Fader';
import { gripOf } from '@/look/grip';
import { AS_PAN, IN_PERCENT, TypedValue } from '@/look/TypedValue';
import { PieceSign } from '@/look/Notehead';
import { keyOf } from '@/state/acts';
import * as balance from '@/state/balance/balance';
import { mixShown } from '@/state/balance/compared';
import { carryTrack, trackTarget } from '@/state/gather/carrying';
import { useWorkbench } from '@/state/store';
import { cancelGesture } from '@/state/session/edit';
import { percent } from './ChainParts';
import { Level } from './Level';

/** Name, level, pan, room, echo, mute and solo. */
export const COLUMNS = {
  xs: '124px minmax(110px, 1fr) 68px 48px 48px 62px',
  lg: '152px minmax(160px, 1fr) 92px 72px 72px 62px',
};

/** One track: press it to open it, drag its sign onto another to join the two. */
export function TrackRow({ track, chosen }: { track: Track; chosen: boolean }) {
  const song = useWorkbench(mixShown);
  const layout = layoutOf(song);
  const { buses } = mixOf(song);
  const strip = stripOf(song, track.id);
  const parts = partsOf(layout, song.kit).get(track.id) ?? [];
  const hits = hitsPerTrack(song).get(track.id) ?? 0;
  const silent = isSilent(strip, stripsOf(song));
  const head = parts[0] && pieceOf(parts[0].piece, song.kit).articulations[0].head;
  const { setNodeRef: setDrop, isOver } = useDroppable({
    id: `track ${track.id}`,
    data: { target: trackTarget(track.id) },
  });
  const { setNodeRef: setGrip, listeners } = useDraggable({
    id: `join ${track.id}`,
    data: { carry: () => carryTrack(track.id) },
  });
  const holds = nameOfParts(parts, song.kit);
  const says = holds.toLowerCase() === track.name.toLowerCase() ? '' : `${holds.toLowerCase()} · `;
  return (
    <Box
      ref={setDrop}
      role="listitem"
      aria-current={chosen}
      data-track={track.id}
      onClick={() => balance.chooseTrack(track.id)}
      sx={{
        display: 'grid',
        gridTemplateColumns: COLUMNS,
        columnGap: { xs: 1.75, lg: 2 },
        alignItems: 'center',
        minHeight: 43,
        px: 1,
        mb: '3px',
        bgcolor: chosen ? 'var(--paper)' : 'var(--panel)',
        outline: isOver || chosen ? '2px solid var(--accent)' : 'none',
        outlineOffset: '-2px',
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minWidth: 0 }}>
        <Tooltip title={`drag onto another track to merge the two (${keyOf('join-track')})`}>
          <Box ref={setGrip} {...gripOf(listeners)} sx={{ cursor: 'grab', touchAction: 'none' }}>
            <PieceSign head={head ?? 'dot'} size={14} />
          </Box>
        </Tooltip>
        <Box sx={{ minWidth: 0, '& > *': { overflow: 'hidden', textOverflow: 'ellipsis' } }}>
          <Box sx={{ fontWeight: 600, whiteSpace: 'nowrap', lineHeight: '19px' }}>{track.name}</Box>
          <Box
            className="figures"
            sx={{ fontSize: 12, color: 'text.secondary', whiteSpace: 'nowrap' }}
          >
            {says}
            {hits === 1 ? '1 hit' : `${hits} hits`}
          </Box>
        </Box>
      </Box>
      <Level
        label={track.name}
        level={strip.level}
        meter={layout.tracks.findIndex(({ id }) => id === track.id)}
        silent={silent}
        onSlide={(decibels) => balance.slideLevel(track.id, decibels)}
        onDone={balance.slideDone}
        onCancel={cancelGesture}
      />
      <Small
        name={`pan of ${track.name}`}
        value={strip.pan}
        min={-1}
        step={0.05}
        says={saidPan}
        onSlide={(pan) => balance.slidePan(track.id, pan)}
        look={{ track: false, marks: [{ value: 0 }] }}
      />
      {(['room', 'echo'] as const).map((kind) => {
        const bus = buses.find((one) => one.kind === kind);
        if (!bus) return <span key={kind} />;
        return (
          <Small
            key={kind}
            name={`${kind} of ${track.name}`}
            value={strip.sends.find((send) => send.bus === bus.id)?.level ?? 0}
            min={0}
            step={0.02}
            says={percent}
            onSlide={(level) => balance.slideSend(track.id, bus.id, level)}
          />
        );
      })}
      <Box sx={{ display: 'flex', gap: 0.5 }}>
        {(['mute', 'solo'] as const).map((mark) => (
          <Tooltip key={mark} title={`${mark} (${keyOf(`${mark}-track`)})`}>
            <ToggleButton
              value={mark}
              size="small"
              selected={strip[mark] === true}
              aria-label={`${mark} ${track.name}`}
              onClick={(event) => {
                event.stopPropagation();
                balance.toggleMark(mark, track.id);
              }}
              sx={{ width: 28, height: 28, fontSize: 13, textTransform: 'none' }}
            >
              {mark[0]}
            </ToggleButton>
          </Tooltip>
        ))}
      </Box>
    </Box>
  );
}

/** A value of a row: a line, and below it the number, which is pressed to type it. */
function Small(
  props: Pick<FaderProps, 'name' | 'value' | 'min' | 'step' | 'says' | 'onSlide' | 'look'>,
) {
  const { name, value, min, says, onSlide } = props;
  const set = (to: number) => {
    onSlide(to);
    balance.slideDone();
  };
  return (
    <Box sx={{ display: 'grid', justifyItems: 'center', fontSize: 11, lineHeight: '14px' }}>
      <Box sx={{ width: '100%', '& .MuiSlider-root': { py: '6px' } }}>
        <Fader
          {...props}
          max={1}
          usual={0}
          onDone={balance.slideDone}
          onCancel={cancelGesture}
          shiftIsListed
        />
      </Box>
      <TypedValue
        {...{ name, value, min, max: 1, says }}
        typed={min < 0 ? AS_PAN : IN_PERCENT}
        onType={set}
      />
    </Box>
  );
}
