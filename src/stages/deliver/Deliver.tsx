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
import TextField from '@mui/material/TextField';
import Typography from '@mui/material/Typography';
import { useState } from 'react';
import type { ExportOptions, Song } from '@/core';
import { EACH, midiFiles, USUAL_NAMES, type MidiFile } from '@/core/deliver';
import { contentsOf } from '@/core/midi';
import { layoutOf } from '@/core/model';
import { meterName } from '@/core/time';
import { bpmAt, heardPasses, laidPlaces, placeName, shelfOf } from '@/core/weave';
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
  const [names, setNames] = useState(USUAL_NAMES);
  const pattern = song.patterns.find((p) => p.id === idOf(what, 'pattern'));
  const origin = pattern ? (pattern.origin ?? song.origin) : song.origin;
  const ppq = resolution === OWN ? own : Number(resolution);
  const whole = what === 'song';
  const cycle = pattern ? heardPasses(pattern) : 1;
  const present = layoutOf(song);
  const tracks = layout === 'present' ? present : layout;
  const options: ExportOptions = { ppq, layout: tracks, guides: whole && withGuides };
  const files = midiFiles(song, {
    place: idOf(what, 'place'),
    pattern: pattern?.id,
    passes: once ? 1 : undefined,
    each: EACH.find((each) => what === each),
    names,
  });
  const [first] = files;
  const contents = contentsOf(first?.song ?? song, { ...options, ...partOfFile(first) });
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
            ...(song.places.length > 1 ? [['sections', 'each section, a file each'] as const] : []),
            ['patterns', 'each pattern of the shelf, a file each'],
            ...laidPlaces(song).map(
              (laid) => [`place ${laid.place.id}`, `section: ${placeName(song, laid)}`] as const,
            ),
            ...shelfOf(song).map((p) => [`pattern ${p.id}`, p.name] as const),
          ]}
        />
        {EACH.some((each) => each === what) && (
          <TextField
            size="small"
            label="names of the files"
            helperText="{song}, {part} and {nn}, its number"
            value={names}
            onChange={(event) => setNames(event.target.value.slice(0, 200))}
          />
        )}
        <ChoiceField
          label="tracks"
          value={layout}
          onChange={(value) => setLayout(value as typeof layout)}
          options={[
            ['one', 'one track (type 0)'],
            ['pieces', 'one named track a kit piece (type 1)'],
            ['present', `as in Balance: ${present.name} (type 1)`],
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
        {whole && song.guides.length > 0 && (
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
          disabled={files.length < 2 && contents.hits === 0}
          onClick={() => saveMidi(files, options)}
          sx={{ justifySelf: 'start' }}
        >
          {files.length === 1 ? 'save MIDI file' : `save ${files.length} MIDI files`}
        </Button>
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          A printable chart will be here too; it is not built yet. The song as a file: Ctrl S.
        </Typography>
      </Box>
      <Box component="section" aria-label="what will be written">
        {files.length === 1 ? (
          <>
            <Typography variant="h3" sx={{ mb: 0.5, overflowWrap: 'anywhere' }}>
              {fileName(first.name, 'mid')}
            </Typography>
            {contents.hits === 0 ? (
              <Typography sx={{ color: 'text.secondary' }}>
                {pattern
                  ? 'This pattern has no hits yet: write some in Shape.'
                  : 'The song is empty: put patterns in a row in Weave, or choose a pattern on the left.'}
              </Typography>
            ) : (
              <Contents contents={contents} song={first.song} />
            )}
          </>
        ) : (
          <Files files={files} options={options} />
        )}
      </Box>
    </>
  );
}

/** The id behind a kind of thing that is chosen. */
function idOf(what: string, kind: 'pattern' | 'place'): string | undefined {
  return what.startsWith(`${kind} `) ? what.slice(kind.length + 1) : undefined;
}

const partOfFile = (file: MidiFile | undefined) =>
  file && { pattern: file.pattern, ...(file.passes !== undefined && { passes: file.passes }) };

/** Several files: what each is called, and what is in it. */
function Files({ files, options }: { files: readonly MidiFile[]; options: ExportOptions }) {
  return (
    <Table size="small">
      <TableHead>
        <TableRow>
          <TableCell>file</TableCell>
          <TableCell align="right">tracks</TableCell>
          <TableCell align="right">bars</TableCell>
          <TableCell align="right">hits</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {files.map((file) => {
          const { tracks, bars, hits } = contentsOf(file.song, { ...options, ...partOfFile(file) });
          return (
            <TableRow key={file.name}>
              <TableCell sx={{ overflowWrap: 'anywhere' }}>{fileName(file.name, 'mid')}</TableCell>
              <TableCell align="right">{tracks.length}</TableCell>
              <TableCell align="right">{Math.round(bars * 100) / 100}</TableCell>
              <TableCell align="right">{hits === 0 ? 'none' : hits.toLocaleString('en')}</TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
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
