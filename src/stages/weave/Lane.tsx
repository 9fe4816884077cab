'use client';

import Box from '@mui/material/Box';
import { useRef, useState, type PointerEvent } from 'react';
import { findPattern, type Song } from '@/core';
import { spokenPiece } from '@/core/model';
import { positionAt, stackOf, type LaidPlace, type LaidSpan, type SpanAddress } from '@/core/weave';
import { PPQ } from '@/core/time';
import { preview, commitGesture } from '@/state/session/edit';
import { useWorkbench } from '@/state/store';
import { selectPlace } from '@/state/weave/choosing';
import { chooseLaid } from '@/state/weave/laying';
import { openInPlace } from '@/state/weave/weave';

/** Height of the lane, without the gap below it. */
export const LANE = 15;
/** What is laid is slid and made longer by half beats; with Shift freely. */
const GRID = PPQ / 2;
/** How near an end the pointer has to be to move only that. */
const EDGE = 5;

interface LaneProps {
  song: Song;
  laid: readonly LaidPlace[];
  x: (tick: number) => number;
}

/** What is laid over the sections: fills and changes. Press one to choose it, drag it or its ends. */
export function Lane({ song, laid, x }: LaneProps) {
  return (
    <Box
      role="list"
      aria-label="what is laid over the sections"
      sx={{ position: 'relative', height: LANE, mb: '3px' }}
    >
      {laid.flatMap((place) =>
        stackOf(place)
          .filter(({ span, overlay }) => overlay || span.role !== 'groove')
          .map((lies) => (
            <Tab
              key={`${place.place.id}/${lies.overlay}/${lies.span.id}`}
              song={song}
              laid={place}
              lies={lies}
              left={x(place.start + lies.from)}
              width={x(lies.to) - x(lies.from)}
              perTick={x(1) - x(0)}
            />
          )),
      )}
    </Box>
  );
}

interface TabProps {
  song: Song;
  laid: LaidPlace;
  lies: LaidSpan;
  left: number;
  width: number;
  perTick: number;
}

function addressOf({ place, section }: LaidPlace, { overlay, span }: LaidSpan): SpanAddress {
  return {
    of: overlay ? 'place' : 'section',
    id: overlay ? place.id : section.id,
    span: span.id,
  };
}

function Tab({ song, laid, lies, left, width, perTick }: TabProps) {
  const { span, overlay } = lies;
  const address = addressOf(laid, lies);
  const chosen = useWorkbench(
    ({ laid: one }) => one?.span === span.id && one.id === address.id && one.of === address.of,
  );
  const pattern = findPattern(song, span.pattern);
  const [moved, setMoved] = useState(false);
  const moving = useRef<{ x: number; edge: 'all' | 'start' | 'end'; lies: LaidSpan }>(null);
  if (!pattern) return null;
  const [from, to] = [lies.from, lies.to - 1].map((at) => positionAt(song, laid.start + at));
  const covers =
    span.pieces === 'all'
      ? 'all pieces'
      : span.pieces.map((id) => spokenPiece(id, song.kit)).join(', ');
  const says = `${pattern.name}, ${from.bar}.${from.beat} to ${to.bar}.${to.beat}: ${span.mode === 'replace' ? 'takes over' : 'adds to'} ${covers}${overlay ? ', here only' : ''}`;
  const onPointerDown = (event: PointerEvent<HTMLElement>) => {
    if (event.button !== 0) return;
    event.stopPropagation();
    selectPlace(laid.place.id);
    chooseLaid(address);
    const { left: begins, width: long } = event.currentTarget.getBoundingClientRect();
    const at = event.clientX - begins;
    const edge = long < 3 * EDGE ? 'all' : at < EDGE ? 'start' : at > long - EDGE ? 'end' : 'all';
    moving.current = { x: event.clientX, edge, lies };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const onPointerMove = (event: PointerEvent<HTMLElement>) => {
    const start = moving.current;
    if (!start) return;
    const raw = (event.clientX - start.x) / perTick;
    const by = event.shiftKey ? raw : Math.round(raw / GRID) * GRID;
    if (by === 0 && Math.abs(event.clientX - start.x) < 3) return;
    const { from: first, to: last } = start.lies;
    const total = laid.end - laid.start;
    const bounded = Math.max(-first, Math.min(total - last, by));
    setMoved(true);
    preview(
      [
        {
          type: 'reshape span',
          ...address,
          from: Math.max(
            0,
            first + (start.edge === 'all' ? bounded : start.edge === 'start' ? by : 0),
          ),
          to: Math.max(1, last + (start.edge === 'all' ? bounded : start.edge === 'end' ? by : 0)),
        },
      ],
      'slide',
    );
  };
  const onPointerUp = () => {
    if (moving.current) commitGesture();
    moving.current = null;
    setMoved(false);
  };
  return (
    <Box
      role="listitem"
      sx={{ position: 'absolute', top: 0, height: LANE }}
      style={{ left, width: Math.max(3, width - 1) }}
    >
      <Box
        component="button"
        type="button"
        tabIndex={-1}
        aria-label={says}
        aria-pressed={chosen}
        title={`${says}. Drag it, or its ends; press twice to open it in Shape.`}
        onPointerDown={onPointerDown}
        onPointerMove={onPointerMove}
        onPointerUp={onPointerUp}
        onPointerCancel={onPointerUp}
        onDoubleClick={() => openInPlace(laid.start + lies.from)}
        sx={{
          width: '100%',
          height: LANE,
          p: 0,
          px: width > 24 ? 0.5 : 0,
          fontSize: 12,
          lineHeight: `${LANE - 2}px`,
          fontFamily: 'var(--figures)',
          textAlign: 'left',
          overflow: 'hidden',
          whiteSpace: 'nowrap',
          textOverflow: 'ellipsis',
          cursor: width > 3 * EDGE ? 'ew-resize' : 'grab',
          touchAction: 'none',
          border: '1px solid',
          borderStyle: overlay ? 'dashed' : 'solid',
          borderColor: chosen ? 'var(--accent)' : `var(--dye-${pattern.dye})`,
          outline: chosen ? '1px solid var(--accent)' : 'none',
          bgcolor: `color-mix(in srgb, var(--dye-${pattern.dye}) 26%, var(--paper))`,
          color: 'var(--ink)',
        }}
      >
        {width > 34 ? pattern.name.replace(/^Fill, /i, '') : ''}
      </Box>
      {moved && (
        <Box
          role="status"
          sx={{
            position: 'absolute',
            top: LANE + 4,
            left: 0,
            zIndex: 4,
            px: 1,
            py: 0.25,
            fontSize: 12,
            whiteSpace: 'nowrap',
            bgcolor: 'var(--ink)',
            color: 'var(--paper)',
          }}
        >
          {says}
        </Box>
      )}
    </Box>
  );
}
