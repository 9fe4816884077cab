'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import LinearProgress from '@mui/material/LinearProgress';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { ReactNode } from 'react';
import WarningIcon from '@mui/icons-material/WarningAmberOutlined';
import {
  soundBytes,
  type AudioWish,
  type Delivery,
  type Packing,
  type PlannedFile,
} from '@/core/deliver';
import { decibelsOf } from '@/core/tracks';
import { ChoiceField } from '@/look/ChoiceField';
import type { HandedOver, Heard } from '@/state/deliver/slice';
import * as wishes from '@/state/deliver/wishes';
import * as writing from '@/state/deliver/writing';
import { useWorkbench } from '@/state/store';
import { startDrag } from './startDrag';

interface FilesProps {
  files: readonly PlannedFile[];
  delivery: Delivery;
  /** The path of the one that is shown. */
  chosen: string | undefined;
}

/** The files of a delivery: what is in each, and what its reader will miss. */
export function Files({ files, delivery, chosen }: FilesProps) {
  const busy = useWorkbench((state) => state.writing);
  const over = useWorkbench((state) => state.handedOver);
  const foretold = useWorkbench((state) => state.foretold);
  const worth = files.filter(writing.isWorthIt).length;
  const sound = delivery.handed === 'audio';
  return (
    <Box
      component="section"
      aria-label="what will be written"
      sx={{ display: 'grid', gap: 1.5, alignContent: 'start' }}
    >
      <Box
        sx={{ display: 'flex', flexWrap: 'wrap', gap: 1.5, alignItems: 'center', minHeight: 40 }}
      >
        <Typography variant="h2" sx={{ flex: 1, whiteSpace: 'nowrap' }}>
          Files
        </Typography>
        {worth > 1 && <Packed packing={delivery.packing} />}
        {!busy && (
          <Button
            variant="contained"
            disabled={worth === 0}
            data-hand-over
            onClick={() => void writing.handOver()}
            sx={{ whiteSpace: 'nowrap' }}
          >
            {worth > 1 ? `write ${worth} files` : 'write the file'}
          </Button>
        )}
      </Box>
      {busy && <Working />}
      {sound && <LevelReached files={files} delivery={delivery} />}
      {sound && delivery.audio.stems && <AddingUp files={files} delivery={delivery} />}
      {files.length === 0 ? (
        <Typography sx={{ color: 'text.secondary' }}>
          Choose on the left what is exported: the mix, one file per track, or both.
        </Typography>
      ) : (
        <Table size="small" sx={{ '& td, & th': { px: 0.75 } }}>
          <TableHead>
            <TableRow>
              <TableCell>file</TableCell>
              {!sound && <TableCell align="right">tracks</TableCell>}
              <TableCell align="right">bars</TableCell>
              <TableCell align="right">hits</TableCell>
              <TableCell align="right">time</TableCell>
              <TableCell align="right">size</TableCell>
              {sound && <TableCell align="right">peak</TableCell>}
            </TableRow>
          </TableHead>
          <TableBody>
            {files.map((file) => {
              const { path } = file;
              return (
                <FileRow
                  key={path}
                  file={file}
                  path={path}
                  written={over?.find((one) => one.path === path)}
                  heard={over?.find((one) => one.path === path) ?? foretold.get(path)}
                  chosen={path === chosen}
                  delivery={delivery}
                />
              );
            })}
          </TableBody>
        </Table>
      )}
    </Box>
  );
}

interface RowProps {
  file: PlannedFile;
  path: string;
  written: HandedOver | undefined;
  /** What it sounds like, where that is known. */
  heard: Partial<Heard> | undefined;
  chosen: boolean;
  delivery: Delivery;
}

function FileRow({ file, path, written, heard, chosen, delivery }: RowProps) {
  const { tracks, bars, hits, bytes } = file;
  const warnings = [...file.warnings, ...heardWarnings(heard, delivery.audio)];
  // Once it was listened to, its length with what rings out is known, and with it its size.
  const size =
    written?.bytes ?? (heard?.seconds ? soundBytes(delivery.sound, heard.seconds) : bytes);
  return (
    <>
      <TableRow
        hover
        selected={chosen}
        draggable
        onDragStart={(event) => startDrag(event, file, delivery)}
        onClick={() => wishes.showFile(path)}
        sx={{ cursor: 'pointer', ...(warnings.length > 0 && { '& td': { borderBottom: 0 } }) }}
      >
        <TableCell sx={{ overflowWrap: 'anywhere' }}>
          <Box
            component="button"
            type="button"
            aria-pressed={chosen}
            onClick={() => wishes.showFile(path)}
            sx={{ all: 'unset', cursor: 'pointer', '&:focus-visible': { outline: '2px solid' } }}
          >
            {path}
          </Box>
        </TableCell>
        {!file.audio && <TableCell align="right">{tracks}</TableCell>}
        <TableCell align="right">{Math.round(bars * 100) / 100}</TableCell>
        <TableCell align="right">{hits === 0 ? 'none' : hits.toLocaleString('en')}</TableCell>
        <TableCell align="right">{saidTime(heard?.seconds ?? file.seconds)}</TableCell>
        <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
          {size === undefined ? '' : saidSize(size)}
        </TableCell>
        {file.audio && (
          <TableCell align="right" sx={{ whiteSpace: 'nowrap' }}>
            {heard?.peak === undefined ? '' : saidPeak(heard.peak)}
          </TableCell>
        )}
      </TableRow>
      {warnings.length > 0 && (
        <TableRow>
          <TableCell colSpan={6} sx={{ pt: 0 }}>
            {warnings.map((warning) => (
              <Box key={warning} sx={{ display: 'flex', gap: 0.75, fontSize: 13, py: 0.25 }}>
                <WarningIcon sx={{ fontSize: 16, color: 'primary.main', mt: '2px' }} />
                {warning}
              </Box>
            ))}
          </TableCell>
        </TableRow>
      )}
    </>
  );
}

/** More than this held back is heard, in decibels. */
const HELD = 0.5;
/** Less than this is not told. */
const LITTLE = 0.05;
/** More than full scale, but for what rounding leaves. */
const OVER = 1.001;

/** Warnings about one file after it was listened to. */
function heardWarnings(heard: Partial<Heard> | undefined, { level }: AudioWish): string[] {
  if (heard?.peak === undefined) return [];
  if (heard.peak === 0) return ['It is silent.'];
  const { limited = 0 } = heard;
  if (heard.peak > OVER) {
    return [
      'It is over full scale: a file of 16 or 24 bits cuts it. Turn it down in Balance, or choose a level.',
    ];
  }
  if (limited < HELD || level !== 'mixed') return [];
  return [
    `Its loudest strokes are over full scale: the limiter takes up to ${limited.toFixed(1)} dB off them. Turn it down in Balance if you do not want that.`,
  ];
}

/** How the level of all files comes out, where it is another one than was asked for or mixed. */
function LevelReached({ files, delivery }: Omit<FilesProps, 'chosen'>) {
  const foretold = useWorkbench((state) => state.foretold);
  const over = useWorkbench((state) => state.handedOver);
  const { level, loudness, addUp, stems } = delivery.audio;
  const heard = files
    .map(({ path }) => over?.find((one) => one.path === path) ?? foretold.get(path))
    .find((one) => one?.gain !== undefined);
  const { short = 0, gain = 1 } = heard ?? {};
  const said =
    level === 'loudness' && short > LITTLE
      ? `The mix reaches ${decibels(loudness - short)} LUFS, not ${decibels(loudness)}: louder, it would be over full scale.`
      : level === 'peak' && short > LITTLE
        ? `All files are ${decibels(short)} dB lower than asked, so that no stem is over full scale.`
        : level === 'mixed' && addUp && stems && gain < 1
          ? `All files are ${decibels(-decibelsOf(gain))} dB lower than they are mixed, so that none is over full scale.`
          : undefined;
  return said ? <Warning>{said}</Warning> : null;
}

function Warning({ children }: { children: ReactNode }) {
  return (
    <Box sx={{ flex: 1, display: 'flex', gap: 1, alignItems: 'center', fontSize: 14 }}>
      <WarningIcon sx={{ fontSize: 18, color: 'primary.main' }} />
      <Box sx={{ flex: 1 }}>{children}</Box>
    </Box>
  );
}

const decibels = (value: number) => value.toFixed(1).replace('-', '−').replace(/\.0$/, '');

/** Whether stems add up to their mix, and what keeps them from it. */
function AddingUp({ files, delivery }: Omit<FilesProps, 'chosen'>) {
  const foretold = useWorkbench((state) => state.foretold);
  const { audio } = delivery;
  const told = files.flatMap(({ path }) => foretold.get(path)?.apart ?? []);
  const apart = told.reduce((most, one) => (Math.abs(one) > Math.abs(most) ? one : most), 0);
  if (audio.addUp) return null;
  if (told.length > 0 && Math.abs(apart) < LITTLE) return null;
  const by =
    told.length === 0
      ? 'may not add up to the mix'
      : `are up to ${Math.abs(apart).toFixed(1)} dB ${apart > 0 ? 'louder' : 'softer'} together than the mix`;
  const why = audio.bus
    ? 'the drum bus works on each of them by itself'
    : 'the limiter works on each of them by itself';
  return (
    <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
      <Warning>
        The stems {by}: {why}.
      </Warning>
      <Button onClick={() => wishes.wishAddUp(true)}>make them add up</Button>
    </Box>
  );
}

const PACKINGS: readonly (readonly [Packing, string])[] = [
  ['zip', 'in one zip'],
  ['apart', 'one by one'],
  ['folder', 'into a folder'],
];

function Packed({ packing }: { packing: Packing }) {
  const canFolder = writing.canWriteFolder();
  return (
    <ChoiceField
      label="packed"
      value={packing}
      width={132}
      options={PACKINGS.filter(([value]) => value !== 'folder' || canFolder)}
      onChange={(value) => wishes.wish({ packing: value as Packing })}
    />
  );
}

/** How far it is, and how long it still takes. */
function Working() {
  const { done, of, share, passed } = useWorkbench((state) => state.writing)!;
  const left = share > 0.03 ? Math.ceil((passed / share) * (1 - share)) : undefined;
  return (
    <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center' }}>
      <Box sx={{ flex: 1 }}>
        <LinearProgress
          variant="determinate"
          value={100 * share}
          aria-label="files being written"
        />
        <Box role="status" className="figures" sx={{ fontSize: 13, mt: 0.5 }}>
          {done} of {of} written
          {left !== undefined && ` · about ${left} s left`}
        </Box>
      </Box>
      <Button onClick={writing.stopWriting}>cancel</Button>
    </Box>
  );
}

const saidPeak = (peak: number) =>
  peak === 0 ? 'silent' : `${decibelsOf(peak).toFixed(1).replace('-', '−')} dB`;

/** "3:07". */
const saidTime = (seconds: number) =>
  `${Math.floor(seconds / 60)}:${String(Math.floor(seconds % 60)).padStart(2, '0')}`;

function saidSize(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  return bytes < 1e6 ? `${(bytes / 1e3).toFixed(1)} kB` : `${(bytes / 1e6).toFixed(1)} MB`;
}
