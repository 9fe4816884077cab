'use client';

import Autocomplete from '@mui/material/Autocomplete';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { useState } from 'react';
import { EACH, HANDED, type Delivery, type Handed, type What } from '@/core/deliver';
import { findPattern, type Song } from '@/core/model';
import { laidPlaces, placeName, shelfOf } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import * as wishes from '@/state/deliver/wishes';
import { AudioChoices } from './AudioChoices';
import { ChartChoices } from './ChartChoices';
import { Check } from './Check';
import { LiveChoices } from './Live';
import { MidiChoices } from './MidiChoices';

const NAMES: Readonly<Record<Handed, string>> = {
  midi: 'MIDI',
  audio: 'audio',
  chart: 'chart',
  text: 'text',
  project: 'song file',
  live: 'live',
};

interface ChoicesProps {
  song: Song;
  delivery: Delivery;
}

/** What is handed over, and how. */
export function Choices({ song, delivery }: ChoicesProps) {
  const { handed, what } = delivery;
  return (
    <Box
      component="section"
      aria-label="what is exported"
      sx={{ display: 'grid', gap: 2, alignContent: 'start' }}
    >
      <ToggleButtonGroup
        exclusive
        size="small"
        value={handed}
        aria-label="kind"
        onChange={(_, to: Handed | null) => to && wishes.showHanded(to)}
        sx={{ display: 'grid', gridTemplateColumns: 'repeat(3, 1fr)' }}
      >
        {HANDED.map((one) => (
          <ToggleButton
            key={one}
            value={one}
            sx={{ textTransform: 'none', px: 0.5, whiteSpace: 'nowrap' }}
          >
            {NAMES[one]}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {handed !== 'live' && <Kept />}
      {handed !== 'project' && handed !== 'live' && (
        <>
          <Parts song={song} what={what} />
          {what.each !== undefined && (
            <TextField
              size="small"
              label="names of the files"
              helperText="{song}, {part} and {nn}, its number; / makes a folder"
              value={delivery.names}
              onChange={(event) => wishes.wish({ names: event.target.value.slice(0, 200) })}
            />
          )}
        </>
      )}
      {handed === 'midi' && <MidiChoices song={song} delivery={delivery} />}
      {handed === 'audio' && <AudioChoices song={song} delivery={delivery} />}
      {handed === 'chart' && <ChartChoices chart={delivery.chart} />}
      {handed === 'live' && <LiveChoices song={song} />}
      {handed === 'text' && (
        <ChoiceField
          label="as"
          value={delivery.text}
          options={[
            ['tab', 'drum tablature'],
            ['csv', 'a table of all hits (CSV)'],
          ]}
          onChange={(text) => wishes.wish({ text: text as Delivery['text'] })}
        />
      )}
    </Box>
  );
}

/** Deliveries by name: taken, kept and forgotten. */
function Kept() {
  const { ready, kept } = wishes.useDeliveries();
  const [name, setName] = useState('');
  const all = [...kept, ...ready];
  const found = all.find((one) => one.name === name.trim());
  const own = kept.find((one) => one.name === name.trim());
  return (
    <Box sx={{ display: 'grid', gap: 0.75 }}>
      <Autocomplete
        freeSolo
        size="small"
        options={all.map((one) => one.name)}
        inputValue={name}
        onInputChange={(_, value) => setName(value)}
        onChange={(_, value) => {
          const chosen = all.find((one) => one.name === value);
          if (chosen) wishes.takeDelivery(chosen);
        }}
        renderInput={(params) => <TextField {...params} label="export preset" />}
      />
      {name.trim() !== '' && (
        <Box sx={{ display: 'flex', gap: 0.75 }}>
          <Button disabled={!found} onClick={() => found && wishes.takeDelivery(found)}>
            use
          </Button>
          <Button onClick={() => void wishes.keepDeliveryAs(name)}>
            {own ? 'overwrite' : 'keep'}
          </Button>
          {own && <Button onClick={() => void wishes.forgetKeptDelivery(own)}>forget</Button>}
        </Box>
      )}
    </Box>
  );
}

const WHOLE = 'song';
const CHOSEN = 'chosen';

/** Which part of the song, or which of its parts by themselves. */
function Parts({ song, what }: { song: Song; what: What }) {
  // A delivery that was kept may be for a part of another song: of this one it is all.
  const place = song.places.find(({ id }) => id === what.place);
  const pattern = findPattern(song, what.pattern ?? '');
  const value = what.places
    ? CHOSEN
    : (what.each ?? (place ? `place ${place.id}` : pattern ? `pattern ${pattern.id}` : WHOLE));
  return (
    <>
      <ChoiceField
        label="what"
        value={value}
        options={[
          ...(song.places.length > 0 || song.patterns.length === 0
            ? ([[WHOLE, 'the whole song']] as const)
            : []),
          ...(song.places.length > 1
            ? ([
                [CHOSEN, 'some sections'],
                ['sections', 'each section, a file each'],
              ] as const)
            : []),
          ['patterns', 'each pattern of the shelf, a file each'],
          ...laidPlaces(song).map(
            (laid) => [`place ${laid.place.id}`, `section: ${placeName(song, laid)}`] as const,
          ),
          ...shelfOf(song).map(({ id, name }) => [`pattern ${id}`, `pattern: ${name}`] as const),
        ]}
        onChange={(chosen) => wishes.wish({ what: whatOf(chosen, song) })}
      />
      {what.places && <Sections song={song} what={what} places={what.places} />}
    </>
  );
}

/** Several sections, in one file or in one each. */
function Sections({ song, what, places }: { song: Song; what: What; places: readonly string[] }) {
  const laid = laidPlaces(song);
  const chosen = laid.filter(({ place }) => places.includes(place.id));
  return (
    <Box>
      <Autocomplete
        multiple
        disableCloseOnSelect
        size="small"
        limitTags={4}
        options={laid}
        value={chosen}
        getOptionLabel={(one) => placeName(song, one)}
        getOptionKey={({ place }) => place.id}
        isOptionEqualToValue={(a, b) => a.place.id === b.place.id}
        onChange={(_, all) =>
          wishes.wish({ what: { ...what, places: all.map(({ place }) => place.id) } })
        }
        renderInput={(params) => (
          <TextField
            {...params}
            label="which sections"
            helperText={chosen.length === 0 ? 'none is chosen: it is the whole song' : undefined}
          />
        )}
      />
      <Check
        label="a file each"
        checked={what.each === 'sections'}
        onChange={(apart) => wishes.wish({ what: { places, ...(apart && { each: 'sections' }) } })}
      />
    </Box>
  );
}

function whatOf(chosen: string, song: Song): What {
  const each = EACH.find((one) => one === chosen);
  if (each) return { each };
  if (chosen === CHOSEN) return { places: song.places.slice(0, 1).map(({ id }) => id) };
  const id = chosen.slice(chosen.indexOf(' ') + 1);
  if (chosen.startsWith('place ')) return { place: id };
  return chosen.startsWith('pattern ') ? { pattern: id } : {};
}
