'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useDeferredValue } from 'react';
import { reportOf, saidApart, saidLeft, saidReport, whyAt, wishesFor } from '@/core/draft';
import { keyOf } from '@/state/acts';
import { useWorkbench } from '@/state/store';
import { useDrafting } from '@/state/weave/draftState';
import { askWhy } from '@/state/weave/draftWhy';
import { useFindings } from '@/state/weave/views';
import { Card } from './Card';

/** How far the draft is, which bars the next one changes, and why something is there. */
export function DraftFoot() {
  // What is drafted is seen and heard first, and counted then.
  const song = useDeferredValue(useWorkbench((state) => state.history!.song));
  const findings = useFindings(({ findings: found }) => found);
  const { says, why: spot } = useDrafting();
  const why = spot && whyAt(song, spot);
  const report = reportOf(song);
  const { drafted, empty } = report.counts;
  const wrong = findings?.wrong.length ?? 0;
  const facts = [
    saidReport(report),
    ...(findings ? [wrong === 0 ? 'playable' : `${wrong} not playable`] : []),
    ...(findings ? [`${Math.round(findings.same.share * 100)} % repeated bars`] : []),
  ];
  return (
    <Card label="state of the draft">
      <Box sx={{ display: 'flex', gap: 2, alignItems: 'baseline', minWidth: 0 }}>
        <Box className="figures" aria-live="polite" sx={{ flex: 1, minWidth: 0 }}>
          {facts.join(' · ')}
        </Box>
        <Box className="figures" sx={{ fontSize: 13, color: 'text.secondary' }}>
          seed {wishesFor(song).seed}
        </Box>
      </Box>
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
        {saidLeft(report)} {saidApart(song)}
        {drafted + empty === 0 &&
          ` To hear a draft of a section, choose it and have it drafted anew (${keyOf('draft-anew')}).`}
      </Box>
      {says.length > 0 && drafted > 0 && (
        <Box role="status" sx={{ fontSize: 13, color: 'var(--accent)' }}>
          {says.join(' ')}
        </Box>
      )}
      {why ? (
        <Box role="status" aria-label="why" sx={{ minWidth: 0 }}>
          <Box sx={{ fontWeight: 600 }}>{why.asks}</Box>
          <Box sx={{ fontSize: 14 }}>{why.says.join(' ')}</Box>
        </Box>
      ) : (
        <Box sx={{ display: 'flex', gap: 1, alignItems: 'baseline', fontSize: 13 }}>
          <Button onClick={askWhy} title={keyOf('why')}>
            why is it so?
          </Button>
          <Box component="span" sx={{ color: 'text.secondary' }}>
            or press a stroke in the cloth
          </Box>
        </Box>
      )}
    </Card>
  );
}
