'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import type { Pattern } from '@/core';
import { turnBar } from '@/core/pattern';
import { keyOf } from '@/state/acts';
import { songBefore } from '@/state/session/edit';
import { useWorkbench } from '@/state/store';
import {
  closeTurns,
  dismissTurn,
  hearTurn,
  offered,
  otherTurns,
  takeTurn,
} from '@/state/shape/turns';

/** Changes for the last bar of a pattern that has grown: heard, taken or dismissed. */
export function Turns({ pattern }: { pattern: Pattern }) {
  const turn = useWorkbench((state) => state.turn);
  const heard = turn?.heard;
  const suggestions = offered(turn, useWorkbench(songBefore));
  return (
    <Box role="group" aria-label="changes for the turn" sx={{ display: 'grid', gap: 1.5 }}>
      <Box>
        <Typography variant="h3">The turn: bar {turnBar(pattern) + 1}</Typography>
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          {suggestions.length > 0
            ? `Hear a change (${keyOf('hear-turn')}), take it (${keyOf('take-turn')}) or dismiss it; or write your own.`
            : 'Nothing more to offer: write your own, or roll again.'}
        </Typography>
      </Box>
      {suggestions.map(({ kind, says }) => (
        <Box key={kind} sx={{ borderTop: '1px solid var(--line)', pt: 1 }}>
          <Box sx={{ mb: 0.75 }}>{says}</Box>
          <Box sx={{ display: 'flex', gap: 0.75 }}>
            <Button
              size="small"
              aria-label={`hear ${kind}`}
              aria-pressed={heard === kind}
              variant={heard === kind ? 'contained' : undefined}
              onClick={() => hearTurn(kind)}
            >
              hear
            </Button>
            <Button size="small" aria-label={`take ${kind}`} onClick={() => takeTurn(kind)}>
              take
            </Button>
            <Button size="small" aria-label={`dismiss ${kind}`} onClick={() => dismissTurn(kind)}>
              dismiss
            </Button>
          </Box>
        </Box>
      ))}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        <Button onClick={otherTurns}>roll again</Button>
        <Button onClick={closeTurns}>done</Button>
      </Box>
    </Box>
  );
}
