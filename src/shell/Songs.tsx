'use client';

import ContentCopyIcon from '@mui/icons-material/ContentCopy';
import DeleteOutlinedIcon from '@mui/icons-material/DeleteOutlined';
import SaveAltIcon from '@mui/icons-material/SaveAlt';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { useEffect, useMemo } from 'react';
import { clothByFamily, laidPlaces } from '@/core/weave';
import { saidBars } from '@/core/time';
import { ClothCanvas } from '@/look/ClothCanvas';
import { EditableText } from '@/look/EditableText';
import { findAct, keyOf, startSong } from '@/state/acts';
import { openDialog } from '@/state/dialogs/dialogs';
import { songPath } from '@/state/routes';
import { deleteSong, duplicateSong, renameSong } from '@/state/session/session';
import { backUpInto, saveBackup, stopBackingUp } from '@/state/session/backups';
import { platform } from '@/state/platform';
import { saveListedSong } from '@/state/session/files';
import {
  headOf,
  useBackupFolder,
  useBackupReminder,
  useBin,
  useRoom,
  useSongList,
  useStoredSong,
  type SongHead,
} from '@/state/session/songsList';
import { useWorkbench } from '@/state/store';
import { warmUpSound } from '@/state/transport/transport';
import { sayWhen } from './sayWhen';
import { Logo } from './Logo';
import { asksForFreshDemo } from './freshDemo';
import { PageLink } from './PageLink';
import { SchemeButton } from './SchemeButton';

/** Gets sound ready while the list is looked at. */
function whenIdle(): (() => void) | undefined {
  if (!('requestIdleCallback' in window)) {
    warmUpSound();
    return undefined;
  }
  const asked = requestIdleCallback(warmUpSound, { timeout: 1000 });
  return () => cancelIdleCallback(asked);
}

/** All songs of this browser, and the ways to a new one. */
export function Songs() {
  const { songs, problem } = useSongList(asksForFreshDemo);
  const unsaved = useWorkbench((state) => state.unsaved);
  const trouble = problem ?? unsaved[0]?.why;
  // New songs that storage had no room for live in this tab, and are listed like the others.
  const inTab = unsaved.filter(({ song }) => !songs?.some(({ id }) => id === song.id));
  const listed = [...inTab.map(({ song }) => headOf(song)), ...(songs ?? [])];
  useEffect(whenIdle, []);
  const run = (id: string) => findAct(id)!.run();
  return (
    <Box sx={{ height: '100%', overflowY: 'auto' }}>
      <Box
        component="main"
        data-work
        tabIndex={-1}
        sx={{ maxWidth: 1040, mx: 'auto', px: 3, py: 4, '&:focus': { outline: 'none' } }}
      >
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.5, mb: 0.5 }}>
          <Logo size={32} />
          <Typography variant="h1" sx={{ flex: 1 }}>
            Verse Loom
          </Typography>
          <Tooltip title={keyOf('palette')}>
            <Button onClick={() => openDialog('palette')}>commands</Button>
          </Tooltip>
          <SchemeButton />
        </Box>
        <Typography sx={{ color: 'text.secondary', mb: 3 }}>
          Write drum grooves, weave them into songs, and take the MIDI with you.
        </Typography>
        {trouble && (
          <Typography role="alert" sx={{ mb: 2, p: 1.5, border: '1px solid var(--accent)' }}>
            {trouble} New songs still work, as long as this tab is open.
          </Typography>
        )}
        <Box sx={{ display: 'flex', gap: 1, mb: 2 }}>
          <Tooltip title={keyOf('new-song')}>
            <Button variant="contained" onClick={() => void startSong()}>
              new song
            </Button>
          </Tooltip>
          <Tooltip title={`${keyOf('import')}: MIDI, or a saved song; or drop it anywhere`}>
            <Button onClick={() => run('import')}>open a file</Button>
          </Tooltip>
          <Box sx={{ flex: 1 }} />
          <Button variant="text" onClick={() => run('demo')}>
            restore the demo songs
          </Button>
        </Box>
        {songs && listed.length === 0 && (
          <Typography sx={{ py: 6, textAlign: 'center', color: 'text.secondary' }}>
            No songs here. Start a new one, open a file, or restore the demo songs.
          </Typography>
        )}
        <Box
          component="ul"
          aria-label="songs"
          sx={{ listStyle: 'none', m: 0, p: 0, display: 'grid', gap: 1 }}
        >
          {listed.map((song) => (
            <SongRow key={song.id} song={song} />
          ))}
        </Box>
        <Foot songs={songs} />
      </Box>
    </Box>
  );
}

function SongRow({ song }: { song: SongHead }) {
  const unsaved = useWorkbench((state) => state.unsaved.find((one) => one.song.id === song.id));
  const { id, name, bpm, bars, patterns, changed, demo } = song;
  return (
    <Box
      component="li"
      sx={{
        display: 'grid',
        gridTemplateColumns: '280px minmax(0, 1fr) auto',
        alignItems: 'center',
        gap: 2,
        p: 1.5,
        bgcolor: 'var(--paper)',
        border: '1px solid var(--line)',
      }}
    >
      <Box sx={{ minWidth: 0 }}>
        <EditableText
          value={name}
          label="name of the song"
          onChange={(next) => void renameSong(id, next)}
          sx={{ fontSize: 16, fontWeight: 600, maxWidth: '100%' }}
        />
        <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
          {saidBars(bars)} · {Math.round(bpm * 100) / 100} bpm ·{' '}
          {patterns === 1 ? '1 pattern' : `${patterns} patterns`}
          <br />
          {demo ? 'demo' : `changed ${sayWhen(changed)}`}
          {unsaved && (
            <Tooltip title={unsaved.why}>
              <Box component="span" sx={{ color: 'var(--accent)', fontWeight: 600 }}>
                {' '}
                · last changes not saved
              </Box>
            </Tooltip>
          )}
        </Box>
      </Box>
      <Thumbnail id={id} changed={changed} />
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <Button
          variant="contained"
          component={PageLink}
          href={songPath(id, bars > 0 ? 'weave' : 'shape')}
          aria-label={`open ${name}`}
        >
          open
        </Button>
        <Tooltip title="duplicate">
          <IconButton
            size="small"
            aria-label={`duplicate ${name}`}
            onClick={() => void duplicateSong(id)}
          >
            <ContentCopyIcon fontSize="small" />
          </IconButton>
        </Tooltip>
        <Tooltip title="save as a file">
          <IconButton
            size="small"
            aria-label={`save ${name} as a file`}
            onClick={() => void saveListedSong(id)}
          >
            <SaveAltIcon fontSize="small" />
          </IconButton>
        </Tooltip>
        <Tooltip title="delete (it goes to the bin)">
          <IconButton
            size="small"
            aria-label={`delete ${name}`}
            onClick={() => void deleteSong(id)}
          >
            <DeleteOutlinedIcon fontSize="small" />
          </IconButton>
        </Tooltip>
      </Box>
    </Box>
  );
}

/** What room there is, and the bin. */
function Foot({ songs }: { songs: readonly SongHead[] | undefined }) {
  const room = useRoom(songs);
  const binned = useBin().length;
  const reminder = useBackupReminder();
  const folder = useBackupFolder();
  return (
    <Box
      className="figures"
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 2,
        mt: 2,
        fontSize: 12,
        color: 'text.secondary',
      }}
    >
      <Box sx={{ flex: 1 }}>
        {reminder && `${reminder} `}
        {room &&
          `${sayBytes(room.used)} of this browser’s storage used, ${sayBytes(room.most - room.used)} free${
            room.safe ? '; kept until you clear it' : ''
          }.`}
      </Box>
      <Tooltip title="all songs and your own library, as one file; it is opened like any other file">
        <Button size="small" variant="text" onClick={() => void saveBackup()}>
          save a backup
        </Button>
      </Tooltip>
      {folder && !folder.waits ? (
        <Tooltip title={`a file a day goes into “${folder.name}”, while the workbench is open`}>
          <Button size="small" variant="text" onClick={() => void stopBackingUp()}>
            stop backing up into “{folder.name}”
          </Button>
        </Tooltip>
      ) : (
        room &&
        platform.canOpenFolder() && (
          <Tooltip title="everything is saved into a folder of yours, whenever something has changed">
            <Button size="small" variant="text" onClick={() => void backUpInto()}>
              {folder ? `backups wait: choose “${folder.name}” again` : 'back up by itself …'}
            </Button>
          </Tooltip>
        )
      )}
      <Button size="small" variant="text" onClick={() => openDialog('bin')}>
        {binned === 0 ? 'the bin is empty' : binned === 1 ? 'bin: 1 song' : `bin: ${binned} songs`}
      </Button>
    </Box>
  );
}

/** "3.4 MB": bytes as people count them. */
function sayBytes(bytes: number): string {
  const steps = ['bytes', 'KB', 'MB', 'GB', 'TB'];
  const step = Math.min(4, Math.floor(Math.log(Math.max(1, bytes)) / Math.log(1000)));
  const value = bytes / 1000 ** step;
  return `${value < 10 && step > 0 ? value.toFixed(1) : Math.round(value)} ${steps[step]}`;
}

const THUMBNAIL_HEIGHT = 40;

function Thumbnail({ id, changed }: { id: string; changed: number }) {
  const song = useStoredSong(id, changed);
  const joins = useMemo(() => (song ? laidPlaces(song).map(({ start }) => start) : []), [song]);
  const woven = song && clothByFamily(song);
  const heights = useMemo(
    () => woven?.rows.map(() => Math.floor((THUMBNAIL_HEIGHT + 1) / woven.rows.length) - 1) ?? [],
    [woven],
  );
  if (!song) return <Box sx={{ height: THUMBNAIL_HEIGHT }} />;
  if (!woven || woven.rows.length === 0) {
    return (
      <Box
        sx={{
          height: THUMBNAIL_HEIGHT,
          color: 'text.secondary',
          fontSize: 12,
          display: 'flex',
          alignItems: 'center',
        }}
      >
        nothing in a row yet
      </Box>
    );
  }
  return (
    <Box sx={{ minWidth: 0, overflow: 'hidden' }}>
      <ClothCanvas
        cloth={woven}
        rowHeights={heights}
        gap={1}
        joins={joins}
        label={`cloth of ${song.name}`}
      />
    </Box>
  );
}
