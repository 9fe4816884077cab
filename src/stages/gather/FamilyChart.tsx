'use client';

import Box from '@mui/material/Box';
import { Chart, Legend, LinearScale, PointElement, Tooltip, type ChartData } from 'chart.js';
import { memo, useMemo } from 'react';
import { Scatter } from 'react-chartjs-2';
import { useShallow } from 'zustand/react/shallow';
import type { Groove } from '@/core/library';
import { useTokens } from '@/look/LookProvider';
import { FIGURES, SANS } from '@/look/theme';
import { chooseGroove, useGather } from '@/state/gather/gather';

Chart.register(LinearScale, PointElement, Tooltip, Legend);

/** Where a groove stands in its family: busyness across, swing up. Press a point to hear it. */
export const FamilyChart = memo(function FamilyChart({ groove }: { groove: Groove }) {
  const tokens = useTokens();
  const family = useGather(
    useShallow(({ grooves }) =>
      grooves.filter(({ family: name }) => name === groove.family).slice(0, MOST_POINTS),
    ),
  );
  const data = useMemo<ChartData<'scatter'>>(
    () => ({
      datasets: [
        {
          data: family.map(({ busyness, swing }) => ({ x: busyness, y: swing })),
          pointBackgroundColor: family.map(({ id }) =>
            id === groove.id ? tokens.accent : 'transparent',
          ),
          pointBorderColor: family.map(({ id }) => (id === groove.id ? tokens.accent : tokens.ink)),
          pointRadius: family.map(({ id }) => (id === groove.id ? 5 : 3.5)),
          pointStyle: family.map(({ kind }) => (kind === 'groove' ? 'circle' : 'triangle')),
          pointHoverRadius: 6,
        },
      ],
    }),
    [family, groove.id, tokens],
  );
  const scale = (title: string) => ({
    title: { display: true, text: title, color: tokens.softInk, font: { size: 12, family: SANS } },
    ticks: { color: tokens.softInk, font: { size: 12, family: FIGURES }, maxTicksLimit: 6 },
    grid: { color: tokens.fineLine },
    border: { color: tokens.line },
  });
  return (
    <Box>
      <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>
        in its family, {groove.family}: fills and ends are triangles
      </Box>
      <Box sx={{ height: 124 }}>
        <Scatter
          data={data}
          aria-label={`${groove.name} in its family: complexity ${Math.round(groove.busyness)}, swing ${Math.round(groove.swing)} percent`}
          role="img"
          options={{
            animation: false,
            maintainAspectRatio: false,
            onClick: (_, [point]) => {
              if (point) void chooseGroove(family[point.index].id);
            },
            plugins: {
              legend: { display: false },
              tooltip: {
                callbacks: {
                  label: ({ dataIndex }) => family[dataIndex].name,
                },
              },
            },
            scales: {
              x: scale('complexity'),
              y: { ...scale('swing, %'), suggestedMin: 49, suggestedMax: 60 },
            },
          }}
        />
      </Box>
    </Box>
  );
});

const MOST_POINTS = 500;
