'use client';

import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { WhileOpen } from '@/look/WhileOpen';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import IconButton from '@mui/material/IconButton';
import Slider from '@mui/material/Slider';
import Switch from '@mui/material/Switch';
import Typography from '@mui/material/Typography';
import { useRef, useState } from 'react';
import type { Guide } from '@/core';
import { guideStart, laidPlaces, placeName, positionAt, songBars, tickOfBar } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { closeDialog } from '@/state/dialogs/dialogs';
import { commitGesture, edit, preview } from '@/state/session/edit';
import { dropComingGuide, readGuideFile, takeGuide, useComingGuide } from '@/state/session/guides';
import { useWorkbench } from '@/state/store';

/** The parts that are played against: a bass line, a riff. They are heard, and never a drum. */
export function GuidesDialog() {
  const open = useWorkbench((state) => state.dialog === 'guides' && state.status === 'ready');
  const close = () => {
    dropComingGuide();
    closeDialog();
  };
  return (
    <WhileOpen open={open} onClose={close} maxWidth="sm" fullWidth aria-labelledby="guides-title">
      <Body close={close} />
    </WhileOpen>
  );
}

function Body({ close }: { close: () => void }) {
  const guides = useWorkbench((state) => state.history!.song.guides);
  const coming = useComingGuide();
  const field = useRef<HTMLInputElement>(null);
  return (
    <>
      <DialogTitle id="guides-title">Reference parts</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 2 }}>
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          A bass line or a riff to play against. It is heard with the drums and drawn under the
          kick; a MIDI file has it only when you ask for it in Deliver.
        </Typography>
        {guides.map((guide) => (
          <Row key={guide.id} guide={guide} />
        ))}
        {coming.read && coming.name ? (
          <Choose name={coming.name} />
        ) : (
          <Button onClick={() => field.current?.click()} sx={{ justifySelf: 'start' }}>
            take a part of a MIDI file …
          </Button>
        )}
        <input
          ref={field}
          type="file"
          hidden
          accept=".mid,.midi,.smf,.rmi,.kar,audio/midi"
          aria-label="choose a MIDI file with a reference part"
          onChange={(event) => {
            const file = event.target.files?.[0];
            event.target.value = '';
            if (file) void readGuideFile(file);
          }}
        />
      </DialogContent>
      <DialogActions>
        <Button variant="contained" onClick={close}>
          close
        </Button>
      </DialogActions>
    </>
  );
}

function Row({ guide }: { guide: Guide }) {
  const song = useWorkbench((state) => state.history!.song);
  const { id, name, notes, level, muted, place } = guide;
  const home = laidPlaces(song).find((laid) => laid.place.id === place);
  const { bar } = positionAt(song, guideStart(song, guide));
  return (
    <Box
      role="group"
      aria-label={name}
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) 88px 120px auto auto',
        alignItems: 'center',
        gap: 2,
      }}
    >
      <Box sx={{ minWidth: 0 }}>
        <Box sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>{name}</Box>
        <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
          {notes.length} notes
        </Box>
      </Box>
      <NumberField
        label="from bar"
        name={name}
        value={bar}
        min={1}
        max={Math.max(1, songBars(song))}
        integer
        width={88}
        onChange={(next) => edit({ type: 'move reference part', id, tick: tickOfBar(song, next) })}
      />
      <Slider
        size="small"
        aria-label={`level of ${name}`}
        value={level}
        min={0}
        max={1}
        step={0.01}
        onChange={(_, next) =>
          preview(
            [{ type: 'change reference part', id, level: next as number }],
            'level of a reference part',
          )
        }
        onChangeCommitted={() => commitGesture()}
      />
      <Button
        aria-pressed={muted ?? false}
        onClick={() => edit({ type: 'change reference part', id, muted: !muted })}
      >
        {muted ? 'muted' : 'mute'}
      </Button>
      <IconButton
        aria-label={`take ${name} away`}
        onClick={() => edit({ type: 'remove reference part', id })}
      >
        <CloseIcon fontSize="small" />
      </IconButton>
      <FormControlLabel
        sx={{ gridColumn: '1 / -1', ml: 0, mt: -1.5 }}
        label={
          home
            ? `moves along with ${placeName(song, home)}`
            : 'moves along with the section it starts in'
        }
        control={
          <Switch
            size="small"
            checked={home !== undefined}
            onChange={(_, next) =>
              edit({ type: 'anchor reference part', id, to: next ? 'place' : 'song' })
            }
          />
        }
      />
    </Box>
  );
}

/** Which part of the file, and from which bar on. */
function Choose({ name }: { name: string }) {
  const song = useWorkbench((state) => state.history!.song);
  const sources = useComingGuide((state) => state.read?.sources ?? []);
  const [source, setSource] = useState(sources[0]?.id ?? '');
  const [bar, setBar] = useState(1);
  const chosen = sources.find(({ id }) => id === source);
  const last = Math.max(1, songBars(song));
  return (
    <Box sx={{ display: 'grid', gap: 1.5, p: 1.5, border: '1px solid var(--line)' }}>
      <Box sx={{ fontWeight: 600, overflowWrap: 'anywhere' }}>{name}</Box>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 100px', gap: 1 }}>
        <ChoiceField
          label="part"
          value={source}
          options={sources.map(
            ({ id, name: part, channel, notes }) =>
              [id, `${part}, channel ${channel + 1}: ${notes} notes`] as const,
          )}
          onChange={setSource}
        />
        <NumberField
          label="from bar"
          value={bar}
          min={1}
          max={last}
          integer
          onChange={setBar}
          width={100}
        />
      </Box>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Button
          variant="contained"
          disabled={!chosen}
          onClick={() => takeGuide(source, chosen?.name ?? name, tickOfBar(song, bar))}
        >
          use it as a reference part
        </Button>
        <Button onClick={dropComingGuide}>another file</Button>
      </Box>
    </Box>
  );
}
