'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import { useState } from 'react';
import { useShallow } from 'zustand/react/shallow';
import { bouncesIn, whyNotBounced, type BouncedHere } from '@/core/bounce';
import { layoutOf, type Song } from '@/core/model';
import { hitsPerTrack } from '@/core/tracks';
import { laidPlaces, placeName } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { editOrSay } from '@/state/session/edit';
import { useWorkbench } from '@/state/store';
import { bounceHere, stopBouncing } from '@/state/weave/bouncing';
import { chosenPlaces, saidPlaces } from '@/state/weave/choosing';

/** A place, or a track in it, becomes a sound; what became one is turned round, or taken back. */
export function BounceDialog() {
  const open = useWorkbench((state) => state.dialog === 'bounce');
  const close = () => {
    stopBouncing();
    closeDialog();
  };
  return (
    <WhileOpen open={open} onClose={close} maxWidth="sm" fullWidth aria-labelledby="bounce-title">
      <Body close={close} />
    </WhileOpen>
  );
}

const ALL = '*';

function Body({ close }: { close: () => void }) {
  const song = useWorkbench((state) => state.history!.song);
  const placeId = useWorkbench((state) => state.placeId);
  const share = useWorkbench((state) => state.bouncing);
  const chosen = useWorkbench(useShallow(chosenPlaces));
  const laid = laidPlaces(song).find(({ place }) => place.id === placeId);
  const [track, setTrack] = useState(ALL);
  if (!laid) return <DialogContent>Choose a section first: press its header.</DialogContent>;
  const { place } = laid;
  const here = bouncesIn(song, place.id);
  const of = { place: place.id, ...(track !== ALL && { track }) };
  // Of several, those where nothing is struck are passed over.
  const whys = chosen.map((one) => whyNotBounced(song, { ...of, place: one }));
  const why = whys.includes(undefined) ? undefined : whys[0];
  const busy = share !== undefined;
  return (
    <>
      <DialogTitle id="bounce-title">
        {chosen.length > 1
          ? `Bounce to audio: each of ${saidPlaces(chosen.length)}`
          : `Bounce to audio: ${placeName(song, laid)}`}
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2, pt: '8px !important' }}>
        <ChoiceField
          label="what of it"
          value={track}
          options={[
            [ALL, 'all that is struck'],
            ...sounding(song, chosen).map(({ id, name }) => [id, `only ${name}`] as const),
          ]}
          onChange={setTrack}
        />
        <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
          {why ??
            'It is rendered as it is heard here, with its tone, rooms and echoes, and played by one stroke. What is there now lies under it, and other places stay as they are.'}
        </Box>
        {busy && (
          <LinearProgress
            variant="determinate"
            value={100 * share}
            aria-label="the sound being rendered"
          />
        )}
        {here.map((one) => (
          <Bounced key={one.pattern.id} bounced={one} />
        ))}
      </DialogContent>
      <DialogActions>
        <Button onClick={close}>{busy ? 'cancel' : 'done'}</Button>
        <Button
          variant="contained"
          disabled={busy || why !== undefined}
          onClick={() => void bounceHere(of.track)}
        >
          bounce
        </Button>
      </DialogActions>
    </>
  );
}

/** The tracks of the layout in use that are struck in some places. */
function sounding(song: Song, chosen: readonly string[]) {
  const places = song.places.filter(({ id }) => chosen.includes(id));
  const hits = hitsPerTrack({ ...song, places, guides: [] });
  return layoutOf(song).tracks.filter(({ id }) => (hits.get(id) ?? 0) > 0);
}

/** A sound that was bounced here: some bars of it are turned round, or it is taken back. */
function Bounced({ bounced: { pattern, piece, laid } }: { bounced: BouncedHere }) {
  const { bars } = laid.section;
  const [from, setFrom] = useState(1);
  const [to, setTo] = useState(bars);
  const at = { place: laid.place.id, pattern: pattern.id };
  return (
    <Box
      role="group"
      aria-label={pattern.name}
      sx={{ display: 'grid', gap: 1, borderTop: '1px solid var(--line)', pt: 1.5 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <Box sx={{ flex: 1, fontWeight: 600 }}>{pattern.name}</Box>
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
          {piece.articulations.length === 1
            ? 'in one part'
            : `in ${piece.articulations.length} parts`}
        </Box>
      </Box>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
        <NumberField label="from bar" value={from} min={1} max={bars} integer onChange={setFrom} />
        <NumberField label="to bar" value={to} min={1} max={bars} integer onChange={setTo} />
        <Button
          disabled={from > to}
          onClick={() =>
            editOrSay({ type: 'reverse bounce', ...at, from: from - 1, to }, 'turn round')
          }
        >
          turn round
        </Button>
        <Box sx={{ flex: 1 }} />
        <Button onClick={() => editOrSay({ type: 'take bounce back', ...at }, 'take back')}>
          take back
        </Button>
      </Box>
    </Box>
  );
}
