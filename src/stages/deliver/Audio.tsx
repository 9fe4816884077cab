'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import LinearProgress from '@mui/material/LinearProgress';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { audioParts, DEPTHS, RATES, type AudioWish } from '@/core/deliver';
import { layoutOf, type Song } from '@/core/model';
import { decibelsOf } from '@/core/tracks';
import { laidPlaces, placeName, shelfOf } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import * as audio from '@/state/deliver/audio';
import { fileName } from '@/state/session/fileName';
import { useWorkbench } from '@/state/store';

const DEPTH_NAMES = {
  '16': '16 bits, with dither',
  '24': '24 bits, with dither',
  float: '32 bits, floating point',
} as const;

/** Files of sound: all together, and each track by itself, as they are heard. */
export function Audio() {
  const song = useWorkbench((state) => state.history!.song);
  const wish = useWorkbench((state) => state.audioWish);
  const form = useWorkbench((state) => state.audioForm);
  const zip = useWorkbench((state) => state.audioZip);
  const writing = useWorkbench((state) => state.writing);
  const parts = audioParts(song, wish);
  return (
    <>
      <Box component="section" sx={{ display: 'grid', gap: 2, alignContent: 'start' }}>
        <Typography variant="h2">Take the sound with you</Typography>
        <What song={song} wish={wish} />
        <ChoiceField
          label="depth"
          value={form.depth}
          options={DEPTHS.map((depth) => [depth, DEPTH_NAMES[depth]])}
          onChange={(depth) => audio.formAudio({ depth: depth as typeof form.depth })}
        />
        <ChoiceField
          label="samples a second"
          value={String(form.rate)}
          options={RATES.map((rate) => [String(rate), `${rate / 1000} kHz`])}
          onChange={(rate) => audio.formAudio({ rate: Number(rate) })}
        />
        <Box>
          <Wish name="mix" label="all together, in one file" />
          <Wish name="stems" label={`a file a track (${layoutOf(song).name})`} />
          <Wish name="effects" label="with rooms and echoes" />
          <Wish name="bus" label="through what all drums go through" />
          <Wish name="mutes" label="without what is muted" />
          <Wish name="guides" label="the guides too, in the mix" />
          <Wish name="tail" label="let it ring out after the last bar" />
          <Check label="several files in one zip" checked={zip} onChange={audio.toggleZip} />
        </Box>
        {wish.stems && wish.bus && (
          <Typography variant="body2" sx={{ color: 'text.secondary' }}>
            Each file goes through the bus of all drums by itself. Without it the files add up to
            the mix exactly.
          </Typography>
        )}
        {writing ? (
          <Working />
        ) : (
          <Button
            variant="contained"
            disabled={parts.every(({ hits }) => hits === 0)}
            onClick={() => void audio.writeAudio()}
            sx={{ justifySelf: 'start' }}
          >
            write {parts.length === 1 ? 'the file' : `${parts.length} files`}
          </Button>
        )}
      </Box>
      <Listed />
    </>
  );
}

const WHOLE = 'song';

/** Which part of the song. */
function What({ song, wish }: { song: Song; wish: AudioWish }) {
  const value = wish.place
    ? `place ${wish.place}`
    : wish.pattern
      ? `pattern ${wish.pattern}`
      : WHOLE;
  return (
    <ChoiceField
      label="what"
      value={value}
      options={[
        [WHOLE, `the whole song (${song.name})`],
        ...laidPlaces(song).map(
          (laid) => [`place ${laid.place.id}`, placeName(song, laid)] as const,
        ),
        ...shelfOf(song).map(({ id, name }) => [`pattern ${id}`, `pattern: ${name}`] as const),
      ]}
      onChange={(chosen) => {
        const [kind, id] = [chosen.split(' ')[0], chosen.slice(chosen.indexOf(' ') + 1)];
        audio.wishAudio({
          place: kind === 'place' ? id : undefined,
          pattern: kind === 'pattern' ? id : undefined,
        });
      }}
    />
  );
}

type Switch = {
  [K in keyof AudioWish]-?: boolean extends AudioWish[K] ? K : never;
}[keyof AudioWish];

function Wish({ name, label }: { name: Switch; label: string }) {
  const checked = useWorkbench((state) => state.audioWish[name]);
  return (
    <Check label={label} checked={checked} onChange={() => audio.wishAudio({ [name]: !checked })} />
  );
}

function Check(props: { label: string; checked: boolean; onChange: () => void }) {
  const { label, checked, onChange } = props;
  return (
    <FormControlLabel
      sx={{ display: 'flex' }}
      control={<Checkbox checked={checked} onChange={onChange} size="small" sx={{ py: 0.5 }} />}
      label={label}
    />
  );
}

/** How far it is, and how long it still takes. */
function Working() {
  const writing = useWorkbench((state) => state.writing)!;
  const { part, of, share, passed } = writing;
  const done = (part + share) / of;
  const left = done > 0.03 ? Math.ceil((passed / done) * (1 - done)) : undefined;
  return (
    <Box sx={{ display: 'grid', gap: 1 }}>
      <LinearProgress variant="determinate" value={100 * done} aria-label="files being written" />
      <Box role="status" className="figures" sx={{ fontSize: 13 }}>
        file {part + 1} of {of}
        {left !== undefined && ` · about ${left} s left`}
      </Box>
      <Button onClick={audio.stopWriting} sx={{ justifySelf: 'start' }}>
        call it off
      </Button>
    </Box>
  );
}

/** What will be written, and how loud what was written came out. */
function Listed() {
  const song = useWorkbench((state) => state.history!.song);
  const wish = useWorkbench((state) => state.audioWish);
  const form = useWorkbench((state) => state.audioForm);
  const written = useWorkbench((state) => state.handedOver);
  const parts = audioParts(song, wish);
  return (
    <Box component="section" aria-label="what will be written">
      {parts.length === 0 ? (
        <Typography sx={{ color: 'text.secondary' }}>
          Choose on the left what is written: all together, a file a track, or both.
        </Typography>
      ) : (
        <Table size="small">
          <TableHead>
            <TableRow>
              <TableCell>file</TableCell>
              <TableCell align="right">hits</TableCell>
              <TableCell align="right">seconds</TableCell>
              <TableCell align="right">MB</TableCell>
              <TableCell align="right">peak</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {parts.map((part) => {
              const name = fileName(part.name, 'wav');
              const done = written?.find((one) => one.name === name);
              return (
                <TableRow key={name}>
                  <TableCell sx={{ overflowWrap: 'anywhere' }}>{name}</TableCell>
                  <TableCell align="right">{part.hits.toLocaleString('en')}</TableCell>
                  <TableCell align="right">{(done?.seconds ?? part.seconds).toFixed(1)}</TableCell>
                  <TableCell align="right">
                    {((done?.bytes ?? audio.bytesOf(part, form)) / 1e6).toFixed(1)}
                  </TableCell>
                  <TableCell align="right">{done ? saidPeak(done.peak) : ''}</TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      )}
    </Box>
  );
}

const saidPeak = (peak: number) =>
  peak === 0
    ? 'silent'
    : peak > 1
      ? 'over full scale'
      : `${decibelsOf(peak).toFixed(1).replace('-', '−')} dB`;
