'use client';

import { PATTERN_KINDS, DEFAULT_KIT, pieceOf } from '@/core/model';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import TextField from '@mui/material/TextField';
import { memo, useDeferredValue, useMemo } from 'react';
import type { Groove } from '@/core/library';
import { meterName } from '@/core/time';
import { ChoiceField, plainOptions, type ChoiceFieldProps } from '@/look/ChoiceField';
import { keyOf } from '@/state/acts';
import { clearFilter, hearFirst, setFilter, useGather } from '@/state/gather/gather';
import type { FilterName } from '@/state/gather/gathering';

const ANY: readonly [string, string] = ['any', 'any'];
const some = (value: string) => (value === 'any' ? undefined : value);

/** A filter that the palette knows by its label. */
const Choice = (props: ChoiceFieldProps & { label: FilterName }) => <ChoiceField {...props} />;

/** The filters of the list. */
export function Filters() {
  return <FiltersOf grooves={useDeferredValue(useGather((state) => state.grooves))} />;
}

const FiltersOf = memo(function FiltersOf({ grooves }: { grooves: readonly Groove[] }) {
  const filter = useGather((state) => state.filter);
  const showPassed = useGather((state) => state.showPassed);
  const { families, meters, resolutions } = useMemo(() => {
    const names = new Map<string, number>();
    for (const { family } of grooves) names.set(family, (names.get(family) ?? 0) + 1);
    return {
      families: [...names].sort(([a], [b]) => a.localeCompare(b)),
      resolutions: [...new Set(grooves.map(({ ppq }) => ppq ?? 0))]
        .sort((a, b) => a - b)
        .map((ppq) => [String(ppq), ppq === 0 ? 'written as text' : String(ppq)] as const),
      meters: [...new Set(grooves.map(({ meter }) => meterName(meter)))].sort(),
    };
  }, [grooves]);
  const used = Object.keys(filter).length > 0;
  return (
    <Box
      component="aside"
      aria-label="filters"
      sx={{
        bgcolor: 'var(--panel)',
        borderRight: '1px solid var(--line)',
        display: 'flex',
        flexDirection: 'column',
        gap: 1.25,
        p: 1.5,
        overflowY: 'auto',
        overflowX: 'hidden',
        minHeight: 0,
      }}
    >
      <TextField
        label={`search (${keyOf('search')})`}
        value={filter.text ?? ''}
        onChange={(event) => setFilter({ text: event.target.value })}
        onKeyDown={(event) => {
          // Back to the list, with what was found.
          if (!['Enter', 'Escape', 'ArrowDown'].includes(event.key)) return;
          if (event.key === 'Escape') setFilter({ text: undefined });
          else hearFirst();
          document.querySelector<HTMLElement>('[role=listbox][aria-label=grooves]')?.focus();
          event.preventDefault();
          event.stopPropagation();
        }}
        slotProps={{ htmlInput: { 'aria-label': 'search the library', autoComplete: 'off' } }}
      />
      <Choice
        label="family"
        value={filter.family ?? 'any'}
        options={[ANY, ...families.map(([name, n]) => [name, `${name} (${n})`] as const)]}
        onChange={(family) => setFilter({ family: some(family) })}
      />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(2, minmax(0, 1fr))', gap: 1 }}>
        <Choice
          label="kind"
          value={filter.kind ?? 'any'}
          options={[ANY, ...plainOptions(PATTERN_KINDS)]}
          onChange={(kind) => setFilter({ kind: some(kind) as typeof filter.kind })}
        />
        <Choice
          label="meter"
          value={filter.meter ?? 'any'}
          options={[ANY, ...plainOptions(meters)]}
          onChange={(meter) => setFilter({ meter: some(meter) })}
        />
        <Choice
          label="with"
          value={filter.uses?.[0] ?? 'any'}
          options={[ANY, ...PIECES]}
          onChange={(piece) => setFilter({ uses: some(piece) ? [piece] : [] })}
        />
        <Choice
          label="without"
          value={filter.lacks?.[0] ?? 'any'}
          options={[ANY, ...PIECES]}
          onChange={(piece) => setFilter({ lacks: some(piece) ? [piece] : [] })}
        />
      </Box>
      <Range
        label="complexity"
        value={filter.busyness}
        low={0}
        high={100}
        onChange={(busyness) => setFilter({ busyness })}
      />
      <Range
        label="tempo"
        value={filter.bpm}
        low={40}
        high={240}
        onChange={(bpm) => setFilter({ bpm })}
      />
      <Range
        label="swing, %"
        value={filter.swing}
        low={50}
        high={75}
        onChange={(swing) => setFilter({ swing })}
      />
      <Range
        label="hits a beat"
        value={filter.perBeat}
        low={0}
        high={16}
        onChange={(perBeat) => setFilter({ perBeat })}
      />
      <Range
        label={`late by, ms${filter.uses ? `: ${pieceOf(filter.uses[0]).name.toLowerCase()}` : ''}`}
        value={filter.push}
        low={-30}
        high={30}
        onChange={(push) => setFilter({ push })}
      />
      <Range
        label="bars"
        value={filter.bars}
        low={0}
        high={16}
        onChange={(bars) => setFilter({ bars })}
      />
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(2, minmax(0, 1fr))', gap: 1 }}>
        <Choice
          label="stars"
          value={String(filter.stars ?? 'any')}
          options={[ANY, ...[1, 2, 3, 4, 5].map((n) => [String(n), `${n} or more`] as const)]}
          onChange={(stars) => setFilter({ stars: Number(stars) || undefined })}
        />
        <Choice
          label="resolution"
          value={String(filter.ppq ?? 'any')}
          options={[ANY, ...resolutions]}
          onChange={(ppq) => setFilter({ ppq: ppq === 'any' ? undefined : Number(ppq) })}
        />
      </Box>
      <Button
        size="small"
        aria-pressed={!showPassed}
        onClick={() => useGather.setState({ showPassed: !showPassed })}
      >
        {showPassed ? 'hide rejected' : 'show rejected'}
      </Button>
      <Button size="small" disabled={!used} title={keyOf('clear-filter')} onClick={clearFilter}>
        list everything
      </Button>
    </Box>
  );
});

const PIECES = DEFAULT_KIT.pieces.map(({ id, name }) => [id, name] as const);

/** The highest value of a slider means "and more", so that it filters nothing. */
function Range(props: {
  label: string;
  value: readonly [number, number] | undefined;
  low: number;
  high: number;
  onChange: (range: [number, number] | undefined) => void;
}) {
  const { label, value, low, high, onChange } = props;
  const [from, to] = [Math.max(low, value?.[0] ?? low), Math.min(high, value?.[1] ?? high)];
  const said = (a: number, b: number) =>
    b === high ? `${a} and more` : a === low ? `up to ${b}` : `${a} to ${b}`;
  return (
    <Box>
      <Box sx={{ display: 'flex', fontSize: 12 }}>
        <Box sx={{ flex: 1, color: 'text.secondary' }}>{label}</Box>
        <Box className="figures" sx={{ fontWeight: 600 }}>
          {value ? said(from, to) : 'any'}
        </Box>
      </Box>
      <Box sx={{ px: 1, height: 22, mt: '-4px' }}>
        <Slider
          size="small"
          value={[from, to]}
          min={low}
          max={high}
          getAriaLabel={(index) => `${label}, ${index === 0 ? 'from' : 'to'}`}
          onChange={(_, next) => {
            const [a, b] = next as number[];
            // The ends of the slider stand for all that lies beyond them.
            const all = a === low && b === high;
            onChange(all ? undefined : [a === low ? -Infinity : a, b === high ? Infinity : b]);
          }}
        />
      </Box>
    </Box>
  );
}
