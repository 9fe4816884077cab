'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Collapse from '@mui/material/Collapse';
import TextField from '@mui/material/TextField';
import { useMemo, useState } from 'react';
import {
  MAX_PPQ,
  MIN_PPQ,
  type Delivery,
  type Lengths,
  type MidiWish,
  type Tracking,
  resolutionOf,
  rounded,
} from '@/core/deliver';
import { findPattern, layoutOf, type Song } from '@/core/model';
import { heardPasses } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { openNumbers } from '@/state/balance/numbers';
import * as wishes from '@/state/deliver/wishes';
import { Check } from './Check';

const OWN = 'own';

/** How MIDI is written. */
export function MidiChoices({ song, delivery }: { song: Song; delivery: Delivery }) {
  const { midi, what } = delivery;
  const pattern = what.pattern === undefined ? undefined : findPattern(song, what.pattern);
  const cycle = pattern ? heardPasses(pattern) : 1;
  const whole = what.each === undefined && what.place === undefined && !pattern;
  const [more, setMore] = useState(false);
  return (
    <>
      <ChoiceField
        label="tracks"
        value={midi.tracks}
        onChange={(tracks) => wishes.wishMidi({ tracks: tracks as Tracking })}
        options={[
          ['one', 'one track (type 0)'],
          ['pieces', 'one named track a kit piece (type 1)'],
          ['present', `as in Balance: ${layoutOf(song).name} (type 1)`],
        ]}
      />
      <Box>
        <Box sx={{ fontSize: 13, color: 'text.secondary', mb: 0.5 }}>
          the MIDI note of each stroke
        </Box>
        <Button onClick={openNumbers}>note map: {song.noteMap.name}</Button>
      </Box>
      <Resolution song={song} delivery={delivery} />
      {cycle > 1 && (
        <ChoiceField
          label="times through"
          value={what.passes === 1 ? 'once' : 'all'}
          onChange={(value) =>
            wishes.wish({
              what: { pattern: what.pattern, ...(value === 'once' && { passes: 1 }) },
            })
          }
          options={[
            ['all', `written out: ${cycle} times through, until all of it was heard`],
            ['once', 'once through'],
          ]}
        />
      )}
      <Box>
        {midi.tracks !== 'one' && (
          <Check
            label="each track as a file of its own"
            checked={midi.apart}
            onChange={(apart) => wishes.wishMidi({ apart })}
          />
        )}
        {whole && song.guides.length > 0 && !(midi.apart && midi.tracks !== 'one') && (
          <Check
            label="reference parts too, on channels of their own"
            checked={midi.guides}
            onChange={(guides) => wishes.wishMidi({ guides })}
          />
        )}
        <Check
          label="leave out what is muted"
          checked={midi.mutes}
          onChange={(mutes) => wishes.wishMidi({ mutes })}
        />
      </Box>
      <Button aria-expanded={more} onClick={() => setMore(!more)} sx={{ justifySelf: 'start' }}>
        {more ? 'less' : 'lengths, tempo steps, words …'}
      </Button>
      <Collapse in={more} unmountOnExit>
        <Further midi={midi} />
      </Collapse>
    </>
  );
}

function Resolution({ song, delivery }: { song: Song; delivery: Delivery }) {
  const { midi, what } = delivery;
  const pattern = what.pattern === undefined ? undefined : findPattern(song, what.pattern);
  const origin = pattern?.origin ?? song.origin;
  const came = origin?.ppq ?? 960;
  const now = resolutionOf(song, midi, what.pattern);
  const known = now === came || now === 960;
  const [own, setOwn] = useState(!known);
  const { hits, most } = useMemo(() => rounded(song, now), [song, now]);
  return (
    <>
      <ChoiceField
        label="resolution"
        value={own ? OWN : String(now)}
        onChange={(value) => {
          setOwn(value === OWN);
          if (value !== OWN) wishes.wishMidi({ ppq: Number(value) });
        }}
        options={[
          ...(origin && came !== 960
            ? [[String(came), `${came}, as in “${origin.file}”`] as const]
            : []),
          ['960', '960 ticks a quarter note'],
          [OWN, 'another'],
        ]}
      />
      {own && (
        <NumberField
          label="ticks a quarter note"
          value={now}
          min={MIN_PPQ}
          max={MAX_PPQ}
          integer
          width={180}
          onChange={(ppq) => wishes.wishMidi({ ppq })}
        />
      )}
      {hits > 0 && (
        <Box role="note" sx={{ fontSize: 13, color: 'text.secondary' }}>
          {hits === 1 ? '1 hit of the song moves' : `${hits} hits of the song move`}, by{' '}
          {most < 0.1 ? 'less than 0.1' : Math.round(most * 10) / 10} ms at most: {now} ticks a
          quarter note are too few for them.
        </Box>
      )}
    </>
  );
}

/** What few need: how long notes are, how glides are stepped, what the file says. */
function Further({ midi }: { midi: MidiWish }) {
  return (
    <Box sx={{ display: 'grid', gap: 2 }}>
      <ChoiceField
        label="note length"
        value={midi.lengths}
        onChange={(lengths) => wishes.wishMidi({ lengths: lengths as Lengths })}
        options={[
          ['played', 'as played, else short'],
          ['fixed', 'all the same'],
          ['next', 'up to the next of their kind'],
        ]}
      />
      {midi.lengths === 'fixed' && (
        <NumberField
          label="ticks of 960 a quarter note"
          value={midi.fixed}
          min={1}
          max={15_360}
          integer
          width={180}
          onChange={(fixed) => wishes.wishMidi({ fixed })}
        />
      )}
      <ChoiceField
        label="a tempo ramp, as steps of a"
        value={String(midi.glideStep)}
        onChange={(step) => wishes.wishMidi({ glideStep: Number(step) })}
        options={[
          ['60', '64th note'],
          ['120', '32nd note'],
          ['240', '16th note'],
          ['480', 'eighth note'],
          ['960', 'quarter note'],
        ]}
      />
      <TextField
        size="small"
        label="copyright"
        value={midi.copyright}
        onChange={(event) => wishes.wishMidi({ copyright: event.target.value.slice(0, 2000) })}
      />
      <TextField
        size="small"
        label="words in the file"
        multiline
        maxRows={4}
        value={midi.text}
        onChange={(event) => wishes.wishMidi({ text: event.target.value.slice(0, 2000) })}
      />
    </Box>
  );
}
