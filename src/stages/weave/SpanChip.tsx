'use client';

import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import { findPattern, type Song } from '@/core';
import { spokenPiece } from '@/core/model';
import { barAt } from '@/core/time';
import type { LaidPlace, LaidSpan } from '@/core/weave';
import { DyeSwatch } from '@/look/DyeSwatch';
import { takeOut } from '@/state/weave/laying';
import { openInPlace } from '@/state/weave/weave';

/** One pattern that plays here: open it in its place with a press, take it out with its cross. */
export function SpanChip(props: { song: Song; laid: LaidPlace; lies: LaidSpan }) {
  const { song, laid, lies } = props;
  const { span, overlay, from, to } = lies;
  const pattern = findPattern(song, span.pattern);
  if (!pattern) return null;
  const [first, last] = [from, to - 1].map((at) => barAt(laid.section.meters, at).bar + 1);
  const where = first === last ? `bar ${first}` : `bars ${first} to ${last}`;
  const pieces =
    span.pieces === 'all' || span.pieces.length > 3
      ? ''
      : `, ${span.pieces.map((id) => spokenPiece(id, song.kit)).join(' and ')} only`;
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 0.5,
        border: '1px solid',
        borderStyle: overlay ? 'dashed' : 'solid',
        borderColor: 'var(--line)',
        pl: 0.5,
        maxWidth: 320,
      }}
    >
      <DyeSwatch dye={pattern.dye} size={16} />
      <Tooltip title={`open “${pattern.name}” in Shape, in its place`}>
        <Button
          variant="text"
          onClick={() => openInPlace(laid.start + from)}
          sx={{
            px: 0.5,
            py: 0.125,
            fontSize: 12,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            display: 'block',
          }}
        >
          {pattern.name} · {where}
          {pieces}
          {overlay && ', here only'}
        </Button>
      </Tooltip>
      <IconButton
        size="small"
        aria-label={`take out ${pattern.name}`}
        onClick={() =>
          takeOut({
            of: overlay ? 'place' : 'section',
            id: overlay ? laid.place.id : laid.section.id,
            span: span.id,
          })
        }
        sx={{ p: 0.25 }}
      >
        <CloseIcon sx={{ fontSize: 14 }} />
      </IconButton>
    </Box>
  );
}
