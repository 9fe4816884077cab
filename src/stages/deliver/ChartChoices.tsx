'use client';

import Button from '@mui/material/Button';
import PrintIcon from '@mui/icons-material/PrintOutlined';
import type { Delivery } from '@/core/deliver';
import { PAPERS, type Density, type Paper, type Percussion } from '@/core/notation';
import { ChoiceField, plainOptions } from '@/look/ChoiceField';
import * as wishes from '@/state/deliver/wishes';
import { printChart } from '@/state/deliver/writing';

/** How a chart is set. */
export function ChartChoices({ chart }: { chart: Delivery['chart'] }) {
  return (
    <>
      <ChoiceField
        label="as"
        value={chart.form}
        options={[
          ['pages', 'pages (SVG, or printed)'],
          ['musicxml', 'a score for other programs (MusicXML)'],
        ]}
        onChange={(form) => wishes.wishChart({ form: form as typeof chart.form })}
      />
      {chart.form === 'pages' && <OfPages chart={chart} />}
    </>
  );
}

/** What a score has not: it holds every note, and its reader sets the pages. */
function OfPages({ chart }: { chart: Delivery['chart'] }) {
  return (
    <>
      <ChoiceField
        label="density"
        value={chart.density}
        options={[
          ['full', 'every note'],
          ['cues', 'slashes, with cues'],
          ['form', 'the form only'],
        ]}
        onChange={(density) => wishes.wishChart({ density: density as Density })}
      />
      <ChoiceField
        label="paper"
        value={chart.paper}
        options={plainOptions(Object.keys(PAPERS) as Paper[])}
        onChange={(paper) => wishes.wishChart({ paper: paper as Paper })}
      />
      <ChoiceField
        label="hand percussion"
        value={chart.percussion}
        options={[
          ['line', 'on a line of its own'],
          ['none', 'left out'],
        ]}
        onChange={(percussion) => wishes.wishChart({ percussion: percussion as Percussion })}
      />
      <Button
        startIcon={<PrintIcon />}
        onClick={() => void printChart()}
        sx={{ justifySelf: 'start' }}
      >
        print, or save as PDF
      </Button>
    </>
  );
}
