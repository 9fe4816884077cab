'use client';

import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import Popover from '@mui/material/Popover';
import Switch from '@mui/material/Switch';
import { useState } from 'react';
import { MAX_BPM, MIN_BPM } from '@/core/time';
import {
  bpmAt,
  laidPlaces,
  placedTempos,
  placeName,
  placesOf,
  positionAt,
  songTicks,
  type PlacedTempo,
} from '@/core/weave';
import { NumberField } from '@/look/NumberField';
import { keyOf } from '@/state/acts';
import { edit } from '@/state/session/edit';
import { tapTempo } from '@/state/session/tap';
import { useWorkbench } from '@/state/store';
import {
  isTempoAlone,
  removeTempoHere,
  setGlideHere,
  setTempoHere,
  slowToEnd,
} from '@/state/weave/tempos';

/** The tempo of the song, and the tempos that sections and places have of their own. */
export function TempoField() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const bpm = useWorkbench(({ history }) => rounded(bpmAt(history!.song, 0)));
  const changes = useWorkbench(({ history }) => placedTempos(history!.song).length > 0);
  return (
    <>
      <Box
        component="button"
        type="button"
        className="figures"
        aria-label={`tempo: ${bpm} bpm${changes ? ' at first' : ''}. Press to change it.`}
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{
          p: 0,
          border: 0,
          background: 'none',
          color: 'inherit',
          fontSize: 12,
          cursor: 'pointer',
          borderBottom: '1px dotted var(--soft-ink)',
        }}
      >
        {bpm} bpm
      </Box>
      <Popover
        open={!!anchor}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        anchorOrigin={{ vertical: 'bottom', horizontal: 'left' }}
        slotProps={{ paper: { sx: { p: 2, display: 'grid', gap: 1.5, maxHeight: 420 } } }}
      >
        <Tempos />
      </Popover>
    </>
  );
}

function Tempos() {
  const song = useWorkbench((state) => state.history!.song);
  const own = placedTempos(song);
  return (
    <>
      <NumberField
        label="tempo of the song (bpm)"
        autoFocus
        value={song.bpm}
        min={MIN_BPM}
        max={MAX_BPM}
        unit="bpm"
        width={168}
        onChange={(value) => edit({ type: 'set tempo', bpm: value })}
      />
      {own.map((change, i) => (
        <OwnTempo
          key={`${change.place} ${change.at}`}
          change={change}
          leads={
            i + 1 < own.length ||
            (change.place !== song.places.at(-1)?.id && change.tick < songTicks(song))
          }
        />
      ))}
      <OwnTempoHere />
      {song.places.length > 0 && own.at(-1)?.tick !== songTicks(song) && (
        <Button sx={{ justifySelf: 'start' }} onClick={slowToEnd}>
          slow down to the end of the song
        </Button>
      )}
      <OnlyHere />
      <Button
        sx={{ justifySelf: 'start' }}
        title={`a quarter note a tap, three and more (${keyOf('tap-tempo')})`}
        onClick={() => tapTempo()}
      >
        tap
      </Button>
    </>
  );
}

const rounded = (bpm: number) => Math.round(bpm * 100) / 100;

/** A tempo that a section has of its own, from a beat of it on. @param leads another one follows it */
function OwnTempo({ change, leads }: { change: PlacedTempo; leads: boolean }) {
  const song = useWorkbench((state) => state.history!.song);
  const { place, at, tick, bpm, glide } = change;
  const laid = laidPlaces(song).find(({ place: { id } }) => id === place);
  const { bar, beat } = positionAt(song, tick);
  const where =
    tick === songTicks(song)
      ? 'at the end of the song'
      : `from bar ${bar}${beat > 1 ? `, beat ${beat}` : ''}`;
  return (
    <Box role="group" aria-label={where} sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
      <NumberField
        label={`${where} (bpm)`}
        value={bpm}
        min={MIN_BPM}
        max={MAX_BPM}
        unit="bpm"
        width={168}
        onChange={(value) => {
          if (laid) setTempoHere(laid, at, value);
        }}
      />
      <Box sx={{ flex: 1, minWidth: 168 }}>
        {leads && (
          <FormControlLabel
            sx={{ ml: 0.5 }}
            label="glides to the next"
            control={
              <Switch
                size="small"
                checked={glide ?? false}
                onChange={(_, next) => laid && setGlideHere(laid, at, next)}
              />
            }
          />
        )}
      </Box>
      <IconButton
        size="small"
        aria-label={`take away the tempo ${where}`}
        onClick={() => laid && removeTempoHere(laid, at)}
      >
        <CloseIcon fontSize="small" />
      </IconButton>
    </Box>
  );
}

/** Gives the selected section a tempo of its own, from its start or from the chosen bar on. */
function OwnTempoHere() {
  const song = useWorkbench((state) => state.history!.song);
  const placeId = useWorkbench((state) => state.placeId);
  const bars = useWorkbench((state) => state.bars);
  // Drawn anew with the reach: the label names the places that get the tempo.
  useWorkbench((state) => state.reach);
  const here = laidPlaces(song).find(({ place }) => place.id === placeId);
  if (!here) return null;
  const inside = bars && bars.from > here.start && bars.from < here.end;
  const from = inside ? bars.from - here.start : 0;
  if (here.tempos.some(({ at }) => at === from)) return null;
  const bpm = rounded(bpmAt(song, here.start + from));
  const count = placesOf(song, here.section.id);
  const of = isTempoAlone(here) ? placeName(song, here) : `“${here.section.name}”, ${count} places`;
  return (
    <Button sx={{ justifySelf: 'start' }} onClick={() => setTempoHere(here, from, bpm)}>
      {inside
        ? `another tempo from bar ${positionAt(song, bars.from).bar} on in ${of}`
        : `a tempo of its own for ${of}`}
    </Button>
  );
}

/** Whether the tempos of the selected place are those of its section, or its own. */
function OnlyHere() {
  const song = useWorkbench((state) => state.history!.song);
  const placeId = useWorkbench((state) => state.placeId);
  const here = laidPlaces(song).find(({ place }) => place.id === placeId);
  if (!here || (placesOf(song, here.section.id) === 1 && !here.place.tempos)) return null;
  return (
    <FormControlLabel
      sx={{ ml: 0.5 }}
      label={`tempos only of ${placeName(song, here)}, not of all its places`}
      control={
        <Switch
          size="small"
          checked={here.place.tempos !== undefined}
          onChange={(_, own) => edit({ type: 'own tempos', place: here.place.id, own })}
        />
      }
    />
  );
}
