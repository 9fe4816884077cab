'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { ExportOptions, Song } from '@/core';
import { contentsOf } from '@/core/midi';
import { layoutOf } from '@/core/model';
import { meterName } from '@/core/time';
import { bpmAt, heardPasses, shelfOf } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { fileName } from '@/state/session/fileName';
import { saveMidi } from '@/state/session/files';
import { openNumbers } from '@/state/balance/numbers';
import { showHanded } from '@/state/deliver/audio';
import { HANDED, type Handed } from '@/state/deliver/slice';
import { useWorkbench } from '@/state/store';
import { Audio } from './Audio';

const OWN = 'own';

/** Files out. What will be written is shown before it is written. */
export function Deliver() {
  const handed = useWorkbench((state) => state.handed);
  return (
    <Box sx={{ height: '100%', overflowY: 'auto' }}>
      <Box sx={{ maxWidth: 1040, mx: 'auto', px: 3, pt: 2 }}>
        <ToggleButtonGroup
          exclusive
          size="small"
          value={handed}
          aria-label="what is handed over"
          onChange={(_, to: Handed | null) => to && showHanded(to)}
        >
          {HANDED.map((one) => (
            <ToggleButton key={one} value={one} sx={{ textTransform: 'none', px: 2 }}>
              {HANDED_NAMES[one]}
            </ToggleButton>
          ))}
        </ToggleButtonGroup>
      </Box>
      <Box
        sx={{
          maxWidth: 1040,
          mx: 'auto',
          p: 3,
          display: 'grid',
          gridTemplateColumns: '300px minmax(0, 1fr)',
          gap: 4,
        }}
      >
        {handed === 'midi' ? <Midi /> : <Audio />}
      </Box>
    </Box>
  );
}

const HANDED_NAMES: Readonly<Record<Handed, string>> = { midi: 'MIDI', audio: 'sound' };

function Midi() {
  const song = useWorkbench((state) => state.history!.song);
  const [what, setWhat] = useState('song');
  const [layout, setLayout] = useState<'one' | 'pieces' | 'present'>('one');
  const [resolution, setResolution] = useState('960');
  const [own, setOwn] = useState(480);
  const [withGuides, setWithGuides] = useState(false);
  const [once, setOnce] = useState(false);
  const pattern = song.patterns.find((p) => p.id === what);
  const origin = pattern ? (pattern.origin ?? song.origin) : song.origin;
  const ppq = resolution === OWN ? own : Number(resolution);
  const guides = !pattern && withGuides;
  const cycle = pattern ? heardPasses(pattern) : 1;
  const passes = once ? 1 : cycle;
  const present = layoutOf(song);
  const tracks = layout === 'present' ? present : layout;
  const options: ExportOptions = { ppq, layout: tracks, pattern: pattern?.id, passes, guides };
  const contents = contentsOf(song, options);
  const name = pattern ? `${song.name}, ${pattern.name}` : song.name;
  return (
    <>
      <Box component="section" sx={{ display: 'grid', gap: 2.5, alignContent: 'start' }}>
        <Typography variant="h2">Take the MIDI with you</Typography>
        <ChoiceField
          label="what"
          value={what}
          onChange={setWhat}
          options={[
            ['song', `the whole song (${song.name})`],
            ...shelfOf(song).map((p) => [p.id, p.name] as const),
          ]}
        />
        <ChoiceField
          label="tracks"
          value={layout}
          onChange={(value) => setLayout(value as typeof layout)}
          options={[
            ['one', 'one track (type 0)'],
            ['pieces', 'one named track a kit piece (type 1)'],
          ]}
        />
        <Box>
          <Box sx={{ fontSize: 13, color: 'text.secondary', mb: 0.5 }}>
            which note each stroke has
          </Box>
          <Button onClick={openNumbers}>note map: {song.noteMap.name}</Button>
        </Box>
        <ChoiceField
          label="resolution"
          value={resolution}
          onChange={setResolution}
          options={[
            ['960', '960 ticks a quarter note'],
            ...(origin && origin.ppq !== 960
              ? [[String(origin.ppq), `${origin.ppq}, as in “${origin.file}”`] as const]
              : []),
            [OWN, 'another'],
          ]}
        />
        {resolution === OWN && (
          <NumberField
            label="ticks a quarter note"
            value={own}
            min={24}
            max={15360}
            integer
            width={180}
            onChange={setOwn}
          />
        )}
        {cycle > 1 && (
          <ChoiceField
            label="its cycles"
            value={once ? 'once' : 'all'}
            onChange={(value) => setOnce(value === 'once')}
            options={[
              ['all', `written out: ${cycle} passes until all of it was heard`],
              ['once', 'the first pass only'],
            ]}
          />
        )}
        {!pattern && song.guides.length > 0 && (
          <FormControlLabel
            control={
              <Checkbox
                checked={withGuides}
                onChange={(_, checked) => setWithGuides(checked)}
                size="small"
              />
            }
            label="the guides too, on channels of their own"
          />
        )}
        <Button
          variant="contained"
          disabled={contents.hits === 0}
          onClick={() => saveMidi(options, name)}
          sx={{ justifySelf: 'start' }}
        >
          save MIDI file
        </Button>
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          A printable chart will be here too; it is not built yet. The song as a file: Ctrl S.
        </Typography>
      </Box>
      <Box component="section" aria-label="what will be written">
        <Typography variant="h3" sx={{ mb: 0.5, overflowWrap: 'anywhere' }}>
          {fileName(name, 'mid')}
        </Typography>
        {contents.hits === 0 ? (
          <Typography sx={{ color: 'text.secondary' }}>
            {pattern
              ? 'This pattern has no hits yet: write some in Shape.'
              : 'The song is empty: put patterns in a row in Weave, or choose a pattern on the left.'}
          </Typography>
        ) : (
          <Contents contents={contents} song={song} />
        )}
      </Box>
    </>
  );
}

function Contents({ contents, song }: { contents: ReturnType<typeof contentsOf>; song: Song }) {
  const { tracks, hits, bars, tempos, meters, markers } = contents;
  return (
    <>
      <Typography className="figures" sx={{ mb: 2 }}>
        {hits.toLocaleString('en')} hits · {bars} bars · {meters.map(meterName).join(', ')} ·{' '}
        {Math.round(bpmAt(song, 0) * 100) / 100} bpm
        {tempos > 1 && ` and ${tempos - 1} more tempo changes`} · markers: {markers.join(', ')}
      </Typography>
      <Table size="small">
        <TableHead>
          <TableRow>
            <TableCell>track</TableCell>
            <TableCell>notes</TableCell>
            <TableCell align="right">channel</TableCell>
            <TableCell align="right">hits</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {tracks.map((track) => (
            <TableRow key={`${track.name} ${track.channels.join()}`}>
              <TableCell>
                {track.name}
                {track.guide && ' (guide)'}
              </TableCell>
              <TableCell className="figures">{track.notes.join(', ')}</TableCell>
              <TableCell align="right">{track.channels.map((c) => c + 1).join(', ')}</TableCell>
              <TableCell align="right">{track.hits.toLocaleString('en')}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </>
  );
}
