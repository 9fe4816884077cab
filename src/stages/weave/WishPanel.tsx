'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Slider from '@mui/material/Slider';
import Switch from '@mui/material/Switch';
import TextField from '@mui/material/TextField';
import Autocomplete from '@mui/material/Autocomplete';
import { useDeferredValue, useState } from 'react';
import { canKeepTime, wishesFor } from '@/core/draft';
import {
  BACKBEAT_STROKES,
  BACKBEATS,
  FILL_RATES,
  findPattern,
  pieceOf,
  WISH_LIMITS,
  type DraftWishes,
  type FeelWish,
  type Song,
} from '@/core/model';
import { shelfOf } from '@/core/weave';
import { ChoiceField, plainOptions } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { keyOf } from '@/state/acts';
import { moreLikeSection } from '@/state/gather/drafted';
import { useWorkbench } from '@/state/store';
import { chosenPlace } from '@/state/weave/choosing';
import { toggleLock } from '@/state/weave/weave';
import {
  ask,
  draftAnew,
  rollAgain,
  rollPart,
  rollRow,
  rollSection,
  saidOf,
  setOf,
} from '@/state/weave/drafting';
import { useDrafting } from '@/state/weave/draftState';

const LENGTHS = [
  ['0.5', 'half a beat'],
  ['1', 'a beat'],
  ['2', 'two beats'],
  ['4', 'a bar'],
  ['8', 'two bars'],
] as const;

/** What is asked of the draft: for the song, or for the chosen section otherwise. */
export function WishPanel() {
  // What is drafted is heard and seen first.
  const song = useDeferredValue(useWorkbench((state) => state.history!.song));
  const here = useWorkbench(chosenPlace);
  const { of } = useDrafting();
  const section = of === 'section' ? here?.section : undefined;
  const wishes = wishesFor(song, section);
  const { title, says } = saidOf(song, of === 'section' ? here : undefined);
  return (
    <Box
      component="section"
      aria-label="wishes for the draft"
      sx={{
        borderLeft: '1px solid var(--line)',
        bgcolor: 'var(--paper)',
        p: 1.5,
        display: 'grid',
        gap: 1.25,
        alignContent: 'start',
        overflowY: 'auto',
        minHeight: 0,
      }}
    >
      <Box>
        <Box component="h2" sx={{ fontSize: 16, fontWeight: 600, m: 0 }}>
          {title}
        </Box>
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>{says}</Box>
      </Box>
      <Box
        role="group"
        aria-label={`wishes of (${keyOf('draft-of')})`}
        sx={{ display: 'flex', gap: 0.75 }}
      >
        <Choice on={of === 'song'} says="the song" onPress={() => setOf('song')} />
        <Choice
          on={of === 'section'}
          says={here?.section.name ?? 'a section'}
          disabled={!here}
          onPress={() => setOf('section')}
        />
      </Box>
      <Wishes song={song} wishes={wishes} />
      <Box>
        <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>roll anew only</Box>
        <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5 }}>
          <Button
            onClick={section ? rollSection : rollAgain}
            title={keyOf(section ? 'roll-section' : 'roll-draft')}
          >
            {section ? section.name : 'all'}
          </Button>
          <Button onClick={() => rollPart('fills')} title={keyOf('roll-fills')}>
            fills
          </Button>
          <Button onClick={() => rollPart('turns')} title={keyOf('roll-turns')}>
            turns
          </Button>
          <RowRoll song={song} />
        </Box>
      </Box>
      {here && !here.section.locked && (
        <Button
          onClick={draftAnew}
          title={`${keyOf('draft-anew')}: whatever the chosen sections play; it stays on the shelf`}
        >
          draft “{here.section.name}” anew
        </Button>
      )}
      {here && (
        <Button onClick={moreLikeSection} title={keyOf('more-like-section')}>
          eight more like “{here.section.name}”
        </Button>
      )}
      {here && (
        <Button onClick={() => toggleLock('section')} title={keyOf('lock')}>
          {here.section.locked ? `unlock “${here.section.name}”` : `lock “${here.section.name}”`}
        </Button>
      )}
    </Box>
  );
}

function RowRoll({ song }: { song: Song }) {
  const row = useWorkbench((state) => state.row);
  return (
    <Button
      onClick={() => (row ? rollRow() : rollPart('kick'))}
      title={`${keyOf('roll-row')}: the chosen row`}
    >
      {row ? pieceOf(row, song.kit).name.toLowerCase() : 'kick'}
    </Button>
  );
}

function Choice(props: { on: boolean; says: string; disabled?: boolean; onPress: () => void }) {
  const { on, says, disabled, onPress } = props;
  return (
    <Button
      variant={on ? 'contained' : 'outlined'}
      aria-pressed={on}
      disabled={disabled}
      onClick={onPress}
      sx={{
        flex: 1,
        minWidth: 0,
        whiteSpace: 'nowrap',
        overflow: 'hidden',
        textOverflow: 'ellipsis',
        display: 'block',
      }}
    >
      {says}
    </Button>
  );
}

function Wishes({ song, wishes }: { song: Song; wishes: DraftWishes }) {
  const pieces = song.kit.pieces;
  const called = (id: string) => pieces.find((piece) => piece.id === id)?.name.toLowerCase() ?? id;
  const named = canKeepTime(song.kit).map(({ id }) => [id, called(id)] as const);
  return (
    <>
      <FeelField song={song} feel={wishes.feel} />
      <ChoiceField
        label="keeps time"
        value={wishes.time}
        options={[['feel', 'as the feel has it'], ...named]}
        onChange={(time) => ask({ time })}
      />
      <ChoiceField
        label="at high energy"
        value={wishes.highTime ?? 'feel'}
        options={[['feel', 'the same piece'], ...named]}
        onChange={(piece) => ask({ highTime: piece === 'feel' ? undefined : piece })}
      />
      <FormControlLabel
        control={
          <Switch
            size="small"
            checked={wishes.opens}
            onChange={(event) => ask({ opens: event.target.checked })}
          />
        }
        label="hats open with energy"
        slotProps={{ typography: { sx: { fontSize: 13 } } }}
        sx={{ ml: 0 }}
      />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        <ChoiceField
          label="backbeat"
          value={wishes.backbeat}
          options={plainOptions(BACKBEATS)}
          onChange={(backbeat) => ask({ backbeat: backbeat as DraftWishes['backbeat'] })}
        />
        <ChoiceField
          label="played on"
          value={wishes.stroke}
          options={plainOptions(BACKBEAT_STROKES)}
          onChange={(stroke) => ask({ stroke: stroke as DraftWishes['stroke'] })}
        />
        <ChoiceField
          label="fills"
          value={wishes.fills}
          options={FILL_RATES.map(
            (rate) => [rate, rate.startsWith('every') ? `${rate} bars` : rate] as const,
          )}
          onChange={(fills) => ask({ fills: fills as DraftWishes['fills'] })}
        />
        <ChoiceField
          label="up to"
          value={String(wishes.longest)}
          options={LENGTHS}
          onChange={(longest) => ask({ longest: Number(longest) })}
        />
      </Box>
      <Share
        label={
          song.guides.length > 0
            ? `kick follows ${song.guides[0].name.toLowerCase()}`
            : 'kick follows the reference part'
        }
        value={wishes.follow}
        onChange={(follow) => ask({ follow })}
      />
      <Share label="humanize" value={wishes.loose} onChange={(loose) => ask({ loose })} />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        <NumberField
          label="behind the beat, ms"
          value={wishes.late}
          min={WISH_LIMITS.late[0]}
          max={WISH_LIMITS.late[1]}
          integer
          width={118}
          onChange={(late) => ask({ late })}
        />
        <NumberField
          label="seed"
          value={wishes.seed}
          min={WISH_LIMITS.seed[0]}
          max={WISH_LIMITS.seed[1]}
          integer
          width={100}
          onChange={(seed) => ask({ seed })}
        />
      </Box>
      <Autocomplete
        multiple
        size="small"
        limitTags={2}
        options={pieces.map(({ id }) => id)}
        value={[...wishes.without]}
        getOptionLabel={called}
        onChange={(_, without) => ask({ without })}
        renderInput={(params) => <TextField {...params} label="leave out" />}
      />
    </>
  );
}

/** A share that is set by sliding: what it is counts when it is let go. */
function Share({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number;
  onChange: (value: number) => void;
}) {
  const [moved, setMoved] = useState<number>();
  const shown = moved ?? value;
  return (
    <Box>
      <Box sx={{ display: 'flex', fontSize: 12, color: 'text.secondary' }}>
        <Box
          sx={{
            flex: 1,
            minWidth: 0,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
          }}
        >
          {label}
        </Box>
        <Box className="figures">{Math.round(shown * 100)} %</Box>
      </Box>
      <Slider
        size="small"
        aria-label={label}
        min={0}
        max={1}
        step={0.05}
        value={shown}
        valueLabelFormat={(share) => `${Math.round(share * 100)} %`}
        onChange={(_, next) => setMoved(next as number)}
        onChangeCommitted={(_, next) => {
          setMoved(undefined);
          onChange(next as number);
        }}
        sx={{ py: 1 }}
      />
    </Box>
  );
}

interface FeelOption {
  label: string;
  group: string;
  feel: FeelWish;
}

/** The feel: a family of the library, or a groove of the shelf. */
function FeelField({ song, feel }: { song: Song; feel: FeelWish }) {
  const { families } = useDrafting();
  const options: FeelOption[] = [
    ...shelfOf(song)
      .filter(({ kind, drafted }) => kind === 'groove' && !drafted)
      .map(({ id, name }) => ({
        label: name,
        group: 'like a groove of the shelf',
        feel: { of: 'shelf' as const, pattern: id },
      })),
    ...families.map(({ name, own }) => ({
      label: name,
      group: own ? 'families of your own' : 'families of the library',
      feel: { of: 'family' as const, family: name },
    })),
  ];
  const value: FeelOption = options.find(
    (option) => JSON.stringify(option.feel) === JSON.stringify(feel),
  ) ?? {
    label: saidFeel(song, feel),
    group: 'now',
    feel,
  };
  return (
    <Autocomplete
      size="small"
      disableClearable
      options={options.includes(value) ? options : [value, ...options]}
      value={value}
      groupBy={({ group }) => group}
      isOptionEqualToValue={(a, b) => JSON.stringify(a.feel) === JSON.stringify(b.feel)}
      getOptionKey={(option) => JSON.stringify(option.feel)}
      onChange={(_, option) => ask({ feel: option.feel })}
      renderInput={(params) => <TextField {...params} label="feel" />}
    />
  );
}

function saidFeel(song: Song, feel: FeelWish): string {
  if (feel.of === 'family') return feel.family;
  if (feel.of === 'groove') return `like “${feel.groove.name}”`;
  return findPattern(song, feel.pattern)?.name ?? 'a groove that is gone';
}
