'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { lazy, Suspense, useEffect, useState, useSyncExternalStore } from 'react';
import { BEEN_HERE, type FirstSong } from '@/state/session/firstVisit';
import { FirstRow } from './FirstRow';
import { firstView } from './firstView';
import { Logo } from './Logo';
import { SchemeButton } from './SchemeButton';
import { SONGS } from './SongFacts';

/** What reads this browser's songs and draws them; until it is there, those of a first visit are. */
const SongList = lazy(async () => ({ default: (await import('./SongList')).SongList }));

/** What is pressed is loaded when it is, or once the list is there. */
const acts = () => import('@/state/acts');

/** Gets sound ready while the list is looked at. */
async function warmUp(): Promise<void> {
  await firstView;
  const { warmUpSound } = await import('@/state/transport/transport');
  if ('requestIdleCallback' in window) requestIdleCallback(warmUpSound, { timeout: 1000 });
  else warmUpSound();
}

/** A first visit goes on to the demo, as long as nothing else was chosen. */
async function goOn(): Promise<void> {
  await firstView;
  const { openFirst } = await import('@/state/session/firstSteps');
  if (window.location.pathname === '/') await openFirst();
}

/** Which keys acts have, once they are loaded. */
function useKeyOf(): (act: string) => string {
  const [keyOf, setKeyOf] = useState(() => (_: string) => '');
  useEffect(() => {
    void firstView.then(acts).then((loaded) => setKeyOf(() => loaded.keyOf));
  }, []);
  return keyOf;
}

/** Whether this is the browser never changes. */
const NEVER = () => () => {};

/** All songs of this browser, and the ways to a new one. @param first those of a first visit */
export function Songs({ first }: { first: readonly FirstSong[] }) {
  const keyOf = useKeyOf();
  // The server tells the songs of a first visit, and no more.
  const isHere = useSyncExternalStore(
    NEVER,
    () => true,
    () => false,
  );
  const told = (
    <Box component="ul" aria-label="songs" sx={SONGS}>
      {first.map((one) => (
        <FirstRow key={one.head.id} first={one} />
      ))}
    </Box>
  );
  useEffect(() => {
    document.cookie = `${BEEN_HERE}=yes; path=/; max-age=31536000; SameSite=Lax`;
    void warmUp();
    if (first.length > 0) void goOn();
  }, [first]);
  const run = (id: string) => void acts().then(({ findAct }) => findAct(id)!.run());
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
            <Button onClick={() => run('palette')}>commands</Button>
          </Tooltip>
          <SchemeButton />
        </Box>
        <Typography sx={{ color: 'text.secondary', mb: 3 }}>
          Write drum grooves, weave them into songs, and take the MIDI with you.
        </Typography>
        <Box sx={{ display: 'flex', gap: 1, mb: 2 }}>
          <Tooltip title={keyOf('new-song')}>
            <Button
              variant="contained"
              onClick={() => void acts().then(({ startSong }) => startSong())}
            >
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
        {isHere ? (
          <Suspense fallback={told}>
            <SongList first={first} />
          </Suspense>
        ) : (
          told
        )}
      </Box>
    </Box>
  );
}
