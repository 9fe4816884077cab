'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { useEffect, type ReactNode } from 'react';
import { saveSongFile, saveStored } from '@/state/session/files';
import { enterStage } from '@/state/entering';
import { bringOpenBack, openSong } from '@/state/session/session';
import { songsPrepared } from '@/state/session/songsList';
import { useWorkbench, type Stage } from '@/state/store';
import { connectPlayer } from '@/state/transport/transport';
import { Carrying } from './Carrying';
import { DropSays } from './DropSays';
import { asksForFreshDemo } from './freshDemo';
import { firstViewShown } from './firstView';
import { Header } from './Header';
import { Opening } from './Opening';
import { PageLink } from './PageLink';
import { Ribbon } from './Ribbon';
import { StageBoundary } from './StageBoundary';

/** Header above, song ribbon below, and a stage between them, for one song. */
export function SongFrame({
  id,
  stage,
  stages,
}: {
  id: string;
  stage: Stage;
  stages: Readonly<Record<Stage, ReactNode>>;
}) {
  const status = useWorkbench((state) => (state.songId === id ? state.status : 'loading'));

  useEffect(() => {
    void songsPrepared(asksForFreshDemo).then(() => openSong(id));
  }, [id]);
  useEffect(firstViewShown, []);
  useEffect(() => (status === 'ready' ? connectPlayer() : undefined), [status]);
  useEffect(() => {
    if (status === 'ready') enterStage(stage);
  }, [stage, status]);

  if (status === 'problem') return <Unopened id={id} />;
  if (status !== 'ready') return <Opening />;
  return (
    <Carrying>
      <Box sx={{ height: '100%', overflow: 'auto' }}>
        <Box
          sx={{
            height: '100%',
            minWidth: LEAST_WIDTH,
            minHeight: LEAST_HEIGHT,
            display: 'grid',
            gridTemplateRows: 'auto auto minmax(0, 1fr) auto',
          }}
        >
          <Header />
          <Banner />
          <Box
            component="main"
            data-work
            tabIndex={-1}
            sx={{ minHeight: 0, overflow: 'hidden', '&:focus': { outline: 'none' } }}
          >
            <StageBoundary key={stage} name={stage}>
              {stages[stage]}
            </StageBoundary>
          </Box>
          <Ribbon />
          <DropSays />
        </Box>
      </Box>
    </Carrying>
  );
}

/** In a smaller window, or at a larger zoom, the workbench keeps this size and is scrolled, in px. */
const LEAST_WIDTH = 1000;
const LEAST_HEIGHT = 600;

/** What stays true until it changes: another tab has the song or deleted it, or it cannot be saved. */
function Banner() {
  const readOnly = useWorkbench((state) => state.readOnly);
  const gone = useWorkbench((state) => state.gone);
  const saving = useWorkbench((state) => state.saving);
  const text = gone
    ? 'This song was deleted in another tab. Here it can still be looked at and heard.'
    : readOnly
      ? 'This song is open in another tab. Here it can be looked at and heard; changes are made there.'
      : saving.state === 'failed'
        ? saving.why
        : undefined;
  return (
    <Box
      role="status"
      sx={
        text
          ? {
              display: 'flex',
              alignItems: 'center',
              gap: 2,
              px: 2.5,
              py: 0.75,
              bgcolor: 'var(--accent)',
              color: 'var(--on-accent)',
            }
          : {}
      }
    >
      {text && <Box sx={{ flex: 1 }}>{text}</Box>}
      {gone && (
        <Button size="small" sx={onBanner} onClick={() => void bringOpenBack()}>
          bring it back
        </Button>
      )}
      {text && (gone || !readOnly) && (
        <Button size="small" sx={onBanner} onClick={() => saveSongFile()}>
          save as a file
        </Button>
      )}
    </Box>
  );
}

const onBanner = {
  flex: 'none',
  color: 'inherit',
  borderColor: 'currentcolor',
  bgcolor: 'transparent',
} as const;

function Unopened({ id }: { id: string }) {
  const problem = useWorkbench((state) => state.problem);
  return (
    <Stack
      sx={{ height: '100%', alignItems: 'center', justifyContent: 'center', gap: 2, px: 3 }}
      component="main"
    >
      <Typography variant="h1">This song cannot be opened</Typography>
      <Typography role="alert" sx={{ maxWidth: 560, textAlign: 'center' }}>
        {problem}
      </Typography>
      <Stack direction="row" sx={{ gap: 1 }}>
        <Button variant="contained" component={PageLink} href="/">
          go to the songs
        </Button>
        <Button onClick={() => void saveStored(id)}>save the stored copy</Button>
      </Stack>
    </Stack>
  );
}
