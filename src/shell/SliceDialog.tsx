'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import Slider from '@mui/material/Slider';
import { SLICE_KINDS, type Slice, type SliceKind } from '@/core/loops';
import { MAX_BPM, MIN_BPM } from '@/core/time';
import { ChoiceField } from '@/look/ChoiceField';
import { EditableText } from '@/look/EditableText';
import { NumberField } from '@/look/NumberField';
import { Waveform } from '@/look/Waveform';
import { WhileOpen } from '@/look/WhileOpen';
import * as loop from '@/state/balance/loop';
import { useWorkbench } from '@/state/store';

const RATE = 48_000;

/** A recorded loop on its way into the song: where it is cut, what each slice is, and how long it is in music. */
export function SliceDialog() {
  const open = useWorkbench((state) => state.dialog === 'slice' && state.slicing !== undefined);
  return (
    <WhileOpen
      open={open}
      onClose={loop.discardLoop}
      maxWidth="md"
      fullWidth
      aria-labelledby="slice-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const slicing = useWorkbench((state) => state.slicing);
  if (!slicing) return null;
  const { name, outline, seconds, threshold, finding, bars, bpm, slices } = slicing;
  return (
    <>
      <DialogTitle id="slice-title">
        Cut the loop{' '}
        <EditableText
          value={name}
          label="loop"
          onChange={loop.nameLoop}
          sx={{ display: 'inline' }}
        />
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <Waveform
          label={`waveform of ${name}, double press to set a mark`}
          outline={outline}
          seconds={seconds}
          height={112}
          stretches={slices.map(({ from }, n) => ({ id: `${n}`, start: from / RATE }))}
          onMove={(id, start) => loop.moveMark(Number(id), start)}
          onPress={loop.addMark}
        />
        <Box sx={{ height: 4 }}>{finding && <LinearProgress aria-label="finding strokes" />}</Box>
        <Box sx={{ display: 'flex', flexWrap: 'wrap', alignItems: 'center', gap: 2 }}>
          <Box component="span" id="slice-threshold">
            threshold
          </Box>
          <Slider
            aria-labelledby="slice-threshold"
            value={threshold}
            min={0}
            max={1}
            step={0.02}
            onChange={(_, value) => loop.setThreshold(value)}
            sx={{ width: 180 }}
          />
          <Box className="figures" sx={{ minWidth: 76 }}>
            {finding ? 'looking …' : slices.length === 1 ? '1 slice' : `${slices.length} slices`}
          </Box>
          <NumberField
            label="bars of 4/4"
            value={bars}
            min={1}
            max={64}
            integer
            live
            width={84}
            onChange={loop.setBars}
          />
          <NumberField
            label="tempo"
            value={Math.round(bpm * 100) / 100}
            min={MIN_BPM}
            max={MAX_BPM}
            width={92}
            onChange={loop.setLoopTempo}
          />
          <Button onClick={loop.takeItsTempo}>give the song this tempo</Button>
        </Box>
        <Box
          component="ol"
          aria-label="slices"
          sx={{
            m: 0,
            p: 0,
            listStyle: 'none',
            display: 'grid',
            gridTemplateColumns: 'repeat(auto-fill, minmax(260px, 1fr))',
            gap: '12px 16px',
            pt: 1,
            maxHeight: 284,
            overflowY: 'auto',
          }}
        >
          {slices.map((slice, n) => (
            <SliceRow key={slice.from} slice={slice} index={n} />
          ))}
        </Box>
        {slices.length === 0 && !finding && (
          <Box>No stroke stands out: lower the threshold, or press twice where one begins.</Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={loop.discardLoop}>cancel</Button>
        <Button disabled={slices.length === 0} onClick={() => void loop.takeSliced(true)}>
          take what is played, for the kit
        </Button>
        <Button
          variant="contained"
          disabled={slices.length === 0}
          onClick={() => void loop.takeSliced(false)}
        >
          take it with its sound
        </Button>
      </DialogActions>
    </>
  );
}

const KIND_OPTIONS = SLICE_KINDS.map((kind) => [kind, kind] as const);

function SliceRow({ slice, index }: { slice: Slice; index: number }) {
  return (
    <Box component="li" sx={{ display: 'flex', alignItems: 'center', gap: 1 }}>
      <Button
        aria-label={`hear slice ${index + 1}`}
        onClick={() => loop.hearSlice(index)}
        sx={{ minWidth: 34, px: 0.5, fontFamily: 'var(--figures)' }}
      >
        {index + 1}
      </Button>
      <NumberField
        label="at, ms"
        name={`slice ${index + 1}`}
        value={Math.round((slice.from / RATE) * 10_000) / 10}
        min={0}
        max={600_000}
        width={80}
        onChange={(ms) => loop.moveMark(index, ms / 1000)}
      />
      <ChoiceField
        label="is a"
        value={slice.kind}
        options={KIND_OPTIONS}
        width={92}
        onChange={(kind) => loop.setKind(index, kind as SliceKind)}
      />
      <Button
        aria-label={`merge slice ${index + 1} with the one before`}
        disabled={index === 0}
        onClick={() => loop.removeMark(index)}
        sx={{ minWidth: 0 }}
      >
        merge
      </Button>
    </Box>
  );
}
