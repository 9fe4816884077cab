'use client';

import Box from '@mui/material/Box';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo, useRef } from 'react';
import { chartOf, type Chart, type Delivery, type PlannedFile } from '@/core/deliver';
import type { Song } from '@/core/model';
import type { Paper } from '@/core/notation';

interface ChartPagesProps {
  song: Song;
  file: PlannedFile;
  delivery: Delivery;
}

/** The page of a chart, as it will be on paper; of a score, its first. */
export function ChartPages({ song, file, delivery }: ChartPagesProps) {
  const score = file.ending === 'musicxml';
  const chart = useMemo(
    () =>
      chartOf(
        song,
        score ? { ...delivery.chart, density: 'full', percussion: 'line' } : delivery.chart,
      ),
    [song, score, delivery.chart],
  );
  return (
    <>
      <Page chart={chart} page={file.page ?? 0} paper={delivery.chart.paper} />
      {score && (
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          Drawn from the notation that is in the file. Each note also says when it really sounds and
          how hard it is struck, so that the file comes back hit for hit.
        </Typography>
      )}
    </>
  );
}

function Page({ chart, page, paper }: { chart: Chart; page: number; paper: Paper }) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    let gone = false;
    const into = box.current!;
    void (async () => {
      // The engraver is large: it comes when a page is looked at.
      const { drawPage, readyToDraw } = await import('@/look/chart');
      await readyToDraw();
      if (gone) return;
      into.replaceChildren();
      drawPage(into, chart.pages[page] ?? chart.pages[0], chart.notation, paper);
      into.dataset.drawn = 'yes';
    })();
    return () => {
      gone = true;
      delete into.dataset.drawn;
    };
  }, [chart, page, paper]);
  return (
    <Box
      ref={box}
      sx={{
        // Paper is white in both schemes: it is what will come out of the printer.
        bgcolor: '#fff',
        border: '1px solid var(--line)',
        '& svg': { width: '100%', height: 'auto', display: 'block' },
      }}
    />
  );
}
