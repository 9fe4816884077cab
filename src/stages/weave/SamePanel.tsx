'use client';

import Button from '@mui/material/Button';
import { laidPlaces, placeName, tickOfBar, type SameRun } from '@/core/weave';
import type { Song } from '@/core';
import { keyOf } from '@/state/acts';
import { useWorkbench } from '@/state/store';
import { goToFinding, hearHere, meanRun, useFindings, varyRun } from '@/state/weave/views';
import { Card } from './Card';
import { FindingList, PanelHead } from './FindingList';

const saidRange = (from: number, bars: number) =>
  bars === 1 ? `bar ${from + 1}` : `bars ${from + 1} to ${from + bars}`;

function nameAt(song: Song, bar: number): string {
  const tick = tickOfBar(song, bar + 1);
  const laid = laidPlaces(song).findLast(({ start }) => start <= tick);
  return laid ? placeName(song, laid) : '';
}

function saidRun(song: Song, { from, bars, as }: SameRun): string {
  const near = from - as < bars;
  return `${saidRange(from, bars)} of ${nameAt(song, from)}: ${near ? `bar ${as + 1} on, over and over` : `as ${saidRange(as, bars)} of ${nameAt(song, as)}`}`;
}

/** What comes twice alike, the longest first. */
export function SamePanel() {
  const song = useWorkbench((state) => state.history!.song);
  const same = useFindings((state) => state.findings?.same);
  const finding = useWorkbench((state) => state.finding);
  const runs = same?.runs.filter(({ meant }) => !meant) ?? [];
  const meant = (same?.runs.length ?? 0) - runs.length;
  return (
    <Card label="repeated bars">
      <PanelHead
        title="Repeated bars"
        says={
          same
            ? `${same.same} of ${same.sounding} bars are the same to the note as bars before them, in ${runs.length} runs${meant > 0 ? `; ${meant} more are meant` : ''}.`
            : 'Looking …'
        }
      >
        <Button onClick={hearHere} title={keyOf('hear-here')}>
          hear it
        </Button>
        <Button onClick={meanRun}>keep as intended</Button>
        <Button variant="contained" onClick={varyRun} title={keyOf('vary')}>
          vary these ({keyOf('vary')})
        </Button>
      </PanelHead>
      <FindingList
        label="runs that come again"
        items={runs.map((run) => saidRun(song, run))}
        chosen={finding}
        empty="No bar is the same as another one before it."
        onChoose={goToFinding}
      />
    </Card>
  );
}
