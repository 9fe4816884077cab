'use client';

import ContentCopyIcon from '@mui/icons-material/ContentCopy';
import DeleteOutlinedIcon from '@mui/icons-material/DeleteOutlined';
import SaveAltIcon from '@mui/icons-material/SaveAlt';
import Box from '@mui/material/Box';
import IconButton from '@mui/material/IconButton';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import dynamic from 'next/dynamic';
import { useEffect, useMemo, useState } from 'react';
import { clothByFamily, laidPlaces } from '@/core/weave';
import { ClothCanvas } from '@/look/ClothCanvas';
import { EditableText } from '@/look/EditableText';
import type { FirstSong } from '@/state/session/firstVisit';
import { headOf, useSongList, useStoredSong, type SongHead } from '@/state/session/songsList';
import { useWorkbench } from '@/state/store';
import { FirstRow } from './FirstRow';
import { firstViewShown, useFirstViewShown } from './firstView';
import { asksForFreshDemo } from './freshDemo';
import { Facts, OpenButton, row, SONGS, THUMBNAIL_HEIGHT } from './SongFacts';

const SongsFoot = dynamic(() => import('./SongsFoot').then((module) => module.SongsFoot), {
  ssr: false,
});

/** What is pressed is loaded when it is, or once the list is there. */
const session = () => import('@/state/session/session');
const files = () => import('@/state/session/files');

/** Whether the songs of this browser were shown already: those of a first visit are past then. */
let seen = false;

/** The songs of this browser. @param first those of a first visit, until it has them */
export function SongList({ first }: { first: readonly FirstSong[] }) {
  const { songs, problem } = useSongList(asksForFreshDemo);
  const unsaved = useWorkbench((state) => state.unsaved);
  const trouble = problem ?? unsaved[0]?.why;
  // New songs that storage had no room for live in this tab, and are listed like the others.
  const inTab = unsaved.filter(({ song }) => !songs?.some(({ id }) => id === song.id));
  const listed = [...inTab.map(({ song }) => headOf(song)), ...(songs ?? [])];
  const shown = useFirstViewShown();
  const [isFirst] = useState(() => !seen);
  useEffect(() => {
    if (songs) seen = true;
    // As soon as the pictures of the songs are drawn, or a while later where one cannot be.
    if (songs ?? trouble) setTimeout(firstViewShown, songs?.length ? 1500 : 0);
  }, [songs, trouble]);
  return (
    <>
      {trouble && (
        <Typography role="alert" sx={{ mb: 2, p: 1.5, border: '1px solid var(--accent)' }}>
          {trouble} New songs still work, as long as this tab is open.
        </Typography>
      )}
      {songs && listed.length === 0 && (
        <Typography sx={{ py: 6, textAlign: 'center', color: 'text.secondary' }}>
          No songs here. Start a new one, open a file, or restore the demo songs.
        </Typography>
      )}
      <Box component="ul" aria-label="songs" sx={SONGS}>
        {listed.map((song) => (
          <SongRow key={song.id} song={song} />
        ))}
        {isFirst &&
          !songs &&
          !trouble &&
          first.map((one) => <FirstRow key={one.head.id} first={one} />)}
      </Box>
      {shown && <SongsFoot songs={songs} />}
    </>
  );
}

function SongRow({ song }: { song: SongHead }) {
  const unsaved = useWorkbench((state) => state.unsaved.find((one) => one.song.id === song.id));
  const { id, name, changed } = song;
  return (
    <Box component="li" sx={row}>
      <Box sx={{ minWidth: 0 }}>
        <EditableText
          value={name}
          label="name of the song"
          onChange={(next) => void session().then(({ renameSong }) => renameSong(id, next))}
          sx={{ fontSize: 16, fontWeight: 600, maxWidth: '100%' }}
        />
        <Facts song={song}>
          {unsaved && (
            <Tooltip title={unsaved.why}>
              <Box component="span" sx={{ color: 'var(--accent)', fontWeight: 600 }}>
                {' '}
                · last changes not saved
              </Box>
            </Tooltip>
          )}
        </Facts>
      </Box>
      <Thumbnail id={id} changed={changed} />
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <OpenButton song={song} />
        <Tooltip title="duplicate">
          <IconButton
            size="small"
            aria-label={`duplicate ${name}`}
            onClick={() => void session().then(({ duplicateSong }) => duplicateSong(id))}
          >
            <ContentCopyIcon fontSize="small" />
          </IconButton>
        </Tooltip>
        <Tooltip title="save as a file">
          <IconButton
            size="small"
            aria-label={`save ${name} as a file`}
            onClick={() => void files().then(({ saveListedSong }) => saveListedSong(id))}
          >
            <SaveAltIcon fontSize="small" />
          </IconButton>
        </Tooltip>
        <Tooltip title="delete (it goes to the bin)">
          <IconButton
            size="small"
            aria-label={`delete ${name}`}
            onClick={() => void session().then(({ deleteSong }) => deleteSong(id))}
          >
            <DeleteOutlinedIcon fontSize="small" />
          </IconButton>
        </Tooltip>
      </Box>
    </Box>
  );
}

function Thumbnail({ id, changed }: { id: string; changed: number }) {
  const song = useStoredSong(id, changed);
  const joins = useMemo(() => (song ? laidPlaces(song).map(({ start }) => start) : []), [song]);
  const woven = song && clothByFamily(song);
  const heights = useMemo(
    () => woven?.rows.map(() => Math.floor((THUMBNAIL_HEIGHT + 1) / woven.rows.length) - 1) ?? [],
    [woven],
  );
  const isThere = song !== undefined;
  useEffect(() => {
    if (isThere) setTimeout(firstViewShown, 250);
  }, [isThere]);
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
