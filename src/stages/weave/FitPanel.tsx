'use client';

import { BarController, BarElement, CategoryScale, Chart, LinearScale, Tooltip } from 'chart.js';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect, useMemo, useRef } from 'react';
import { alongside, type Alongside, type Fitting } from '@/core/guide';
import { pieceOf } from '@/core/model';
import { barOfSong, cloth, REACH_NAMES, tickOfBar } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { useTokens } from '@/look/LookProvider';
import { FIGURES } from '@/look/theme';
import type { Tokens } from '@/look/tokens';
import { openDialog } from '@/state/dialogs/dialogs';
import { cancelGesture } from '@/state/session/edit';
import { useWorkbench } from '@/state/store';
import { chooseBars, saidPlaces, spotsNow } from '@/state/weave/choosing';
import { fitNow, fittedGuide, useFitted } from '@/state/weave/views';
import { Card } from './Card';
import { PanelHead } from './FindingList';

Chart.register(BarController, BarElement, CategoryScale, LinearScale, Tooltip);

const FITS: readonly (readonly [Fitting, string, string])[] = [
  ['take out alone', 'take out those alone', 'strokes that the reference part has no note for'],
  [
    'add at accents',
    'add at accents',
    'a stroke where the reference part has an accent and none is there',
  ],
  ['pull near', 'pull near ones', 'strokes that are near a note, onto its timing'],
  ['follow', 'follow the reference part', 'the strand anew, a stroke for each note'],
];

/** A strand beside a guide, bar by bar, and what brings the two together. */
export function FitPanel() {
  const song = useWorkbench((state) => state.history!.song);
  const bars = useWorkbench((state) => state.bars);
  const ids = useWorkbench((state) => state.placeIds);
  const reach = useWorkbench((state) => state.reach);
  const { piece } = useFitted();
  const guide = fittedGuide(song);
  const found = useMemo(
    () => (guide ? alongside(song, guide, piece) : undefined),
    [song, guide, piece],
  );
  useEffect(() => cancelGesture, []);
  if (!guide || !found) {
    return (
      <Card label="fit">
        <PanelHead
          title="Fit"
          says="There is no reference part yet to play against: a bass or a riff."
        />
        <Box>
          <Button variant="contained" onClick={() => openDialog('guides')}>
            reference parts …
          </Button>
        </Box>
      </Card>
    );
  }
  const name = pieceOf(piece, song.kit).name.toLowerCase();
  const where = bars
    ? `bars ${barOfSong(song, bars.from).bar + 1} to ${barOfSong(song, bars.to - 1).bar + 1}`
    : ids.length > 0
      ? saidPlaces(spotsNow().length)
      : 'the whole song';
  return (
    <Card label="fit">
      <PanelHead title="Fit" says={`In ${where}; reach: ${REACH_NAMES[reach]}.`}>
        <Counts found={found} name={name} />
        <ChoiceField
          label="strand"
          value={piece}
          options={cloth(song).rows.map((row) => [row.piece, pieceOf(row.piece, song.kit).name])}
          width={120}
          onChange={(next) => useFitted.setState({ piece: next })}
        />
        <ChoiceField
          label="reference part"
          value={guide}
          options={song.guides.map(({ id, name: called }) => [id, called] as const)}
          width={130}
          onChange={(next) => useFitted.setState({ guide: next })}
        />
      </PanelHead>
      <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center' }}>
        {FITS.map(([how, words, says]) => (
          <Button
            key={how}
            title={`${says}: seen and heard while the pointer is on it`}
            onMouseEnter={() => fitNow(how, true)}
            onMouseLeave={cancelGesture}
            onFocus={() => fitNow(how, true)}
            onBlur={cancelGesture}
            onClick={() => fitNow(how, false)}
          >
            {words}
          </Button>
        ))}
        <Box sx={{ fontSize: 12, color: 'text.secondary', ml: 1 }}>
          <Near found={found} from={bars?.from} to={bars?.to} />
        </Box>
      </Box>
      <FitChart found={found} />
    </Card>
  );
}

/** How many are together, near and alone, each in the colour it has in the chart. */
function Counts({ found, name }: { found: Alongside; name: string }) {
  const tokens = useTokens();
  const colours = coloursOf(tokens);
  const counts = [
    ['together', found.together],
    ['near', found.near],
    [`${name} alone`, found.strandAlone],
    ['guide alone', found.guideAlone],
  ] as const;
  return counts.map(([label, count], i) => (
    <Box
      key={label}
      className="figures"
      sx={{ display: 'flex', gap: 0.5, alignItems: 'center', fontSize: 13, whiteSpace: 'nowrap' }}
    >
      <Box sx={{ width: 10, height: 10, bgcolor: colours[i] }} />
      {label} {count}
    </Box>
  ));
}

const coloursOf = (tokens: Tokens) => [
  tokens.dyes[3],
  tokens.dyes[2],
  tokens.accent,
  tokens.softInk,
];

/** The strokes of the chosen bars that are near a note, with by how much. */
function Near({
  found,
  from = 0,
  to = Infinity,
}: {
  found: Alongside;
  from?: number;
  to?: number;
}) {
  const near = found.bars
    .flatMap(({ meetings }) => meetings)
    .filter(({ is, tick }) => is === 'near' && tick >= from && tick < to);
  if (near.length === 0) return 'none is near';
  const shown = near.slice(0, 4).map(({ late }) => {
    const ms = Math.round(late ?? 0);
    return `${Math.abs(ms)} ms ${ms > 0 ? 'late' : 'early'}`;
  });
  return `near: ${shown.join(', ')}${near.length > 4 ? ` and ${near.length - 4} more` : ''}`;
}

const KINDS = ['together', 'near', 'strand alone', 'guide alone'] as const;

/** How many strokes and notes of each bar are together, near, or alone. */
function FitChart({ found }: { found: Alongside }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const tokens = useTokens();
  useEffect(() => {
    if (!canvas.current) return;
    const colours = coloursOf(tokens);
    const chart = new Chart(canvas.current, {
      type: 'bar',
      data: {
        labels: found.bars.map(({ bar }) => String(bar + 1)),
        datasets: KINDS.map((kind, i) => ({
          label: kind,
          data: found.bars.map(({ meetings }) => meetings.filter(({ is }) => is === kind).length),
          backgroundColor: colours[i],
          stack: 'all',
          barPercentage: 1,
          categoryPercentage: 0.86,
        })),
      },
      options: {
        animation: false,
        maintainAspectRatio: false,
        plugins: { legend: { display: false } },
        font: { family: FIGURES },
        scales: {
          x: {
            stacked: true,
            grid: { display: false },
            ticks: { color: tokens.softInk, font: { family: FIGURES, size: 12 }, maxRotation: 0 },
          },
          y: {
            stacked: true,
            grid: { color: tokens.fineLine },
            beginAtZero: true,
            ticks: {
              color: tokens.softInk,
              font: { family: FIGURES, size: 12 },
              precision: 0,
              maxTicksLimit: 3,
            },
          },
        },
        onClick: (_, [at]) => {
          if (!at) return;
          const { song } = useWorkbench.getState().history!;
          const { bar } = found.bars[at.index];
          chooseBars({ from: tickOfBar(song, bar + 1), to: tickOfBar(song, bar + 2) });
        },
      },
    });
    return () => chart.destroy();
  }, [found, tokens]);
  return (
    <Box sx={{ height: 64, position: 'relative' }}>
      <canvas
        ref={canvas}
        role="img"
        aria-label={`bar by bar: ${found.together} together, ${found.near} near, ${found.strandAlone} strokes alone, ${found.guideAlone} notes alone`}
      />
    </Box>
  );
}
