'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Slider from '@mui/material/Slider';
import Switch from '@mui/material/Switch';
import { Fragment, useEffect, useState } from 'react';
import type { KitPiece, SampleLayer, SoundLayer } from '@/core/model';
import { decibelsOf, levelOf, saidLevel } from '@/core/tracks';
import { ChoiceField } from '@/look/ChoiceField';
import { IN_MS, ON_LOGARITHM, TypedValue } from '@/look/TypedValue';
import { Waveform } from '@/look/Waveform';
import { slideDone } from '@/state/balance/balance';
import * as pieces from '@/state/balance/pieces';
import { outlineOfFile } from '@/state/balance/samples';
import { Dial } from './Dial';

const RATE = 48_000;
const seconds = (value: number) =>
  value < 1 ? `${Math.round(value * 1000)} ms` : `${value.toFixed(2)} s`;

/** One layer of a piece: how loud, at which velocities, and for a file what of it is heard. */
export function Layer({ piece, layer }: { piece: KitPiece; layer: SoundLayer }) {
  const [open, setOpen] = useState(false);
  const slide = (change: Partial<SoundLayer>) =>
    pieces.slideLayer(piece, { ...layer, ...change } as SoundLayer);
  return (
    <Box data-layer={layer.id} sx={{ borderTop: '1px solid var(--line)', pt: 0.5 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 0.5 }}>
        <Box
          sx={{
            flex: 1,
            minWidth: 0,
            fontSize: 13,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            whiteSpace: 'nowrap',
          }}
          title={layer.name}
        >
          {layer.name}
        </Box>
        <Button onClick={() => setOpen(!open)} aria-expanded={open}>
          {open ? 'less' : 'more'}
        </Button>
        <Button
          aria-label={`remove ${layer.name}`}
          onClick={() => pieces.removeLayer(piece, layer.id)}
        >
          remove
        </Button>
      </Box>
      <Dial
        label="level"
        name={`level of ${layer.name}`}
        value={decibelsOf(layer.level)}
        usual={0}
        min={-36}
        max={12}
        step={0.5}
        says={(db) => saidLevel(levelOf(db))}
        onSlide={(db) => slide({ level: levelOf(db) })}
      />
      <Velocities layer={layer} onSlide={(velocities) => slide({ velocities })} />
      {open && <More piece={piece} layer={layer} />}
    </Box>
  );
}

function Velocities(props: {
  layer: SoundLayer;
  onSlide(velocities: readonly [number, number]): void;
}) {
  const { layer, onSlide } = props;
  const [from, to] = layer.velocities;
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '72px minmax(0, 1fr) 54px',
        alignItems: 'center',
        columnGap: 1.25,
        fontSize: 13,
      }}
    >
      velocities
      <Slider
        getAriaLabel={(n) => `${n === 0 ? 'softest' : 'hardest'} of ${layer.name}`}
        value={[from, to]}
        min={1}
        max={127}
        onChange={(_, value) => onSlide(value as [number, number])}
        onChangeCommitted={slideDone}
      />
      <Box component="span" className="figures" sx={{ textAlign: 'right' }}>
        {(
          [
            ['softest', from, 1, to, (value: number) => [value, to]],
            ['hardest', to, from, 127, (value: number) => [from, value]],
          ] as const
        ).map(([end, value, min, max, range], n) => (
          <Fragment key={end}>
            {n > 0 && '–'}
            <TypedValue
              name={`${end} of ${layer.name}`}
              {...{ value, min, max }}
              says={String}
              onType={(typed) => {
                onSlide(range(Math.round(typed)) as [number, number]);
                slideDone();
              }}
            />
          </Fragment>
        ))}
      </Box>
    </Box>
  );
}

function More({ piece, layer }: { piece: KitPiece; layer: SoundLayer }) {
  const slide = (change: Partial<SoundLayer>) =>
    pieces.slideLayer(piece, { ...layer, ...change } as SoundLayer);
  return (
    <>
      {layer.from === 'kit' && <OfKit piece={piece} layer={layer} />}
      <Dial
        label="tuned"
        name={`tuning of ${layer.name}`}
        value={layer.tune}
        usual={0}
        min={-2400}
        max={2400}
        step={10}
        says={(ct) => `${ct} ct`}
        onSlide={(tune) => slide({ tune })}
      />
      {piece.articulations.length > 1 && (
        <ChoiceField
          label="heard with"
          value={layer.articulation ?? ''}
          options={[
            ['', 'every stroke'],
            ...piece.articulations.map(({ id, name }) => [id, name] as const),
          ]}
          onChange={(id) => {
            const { articulation: _, ...rest } = layer;
            pieces.setLayer(piece, { ...rest, ...(id && { articulation: id }) } as SoundLayer);
          }}
        />
      )}
      {layer.from === 'files' && <File piece={piece} layer={layer} />}
    </>
  );
}

function OfKit({ piece, layer }: { piece: KitPiece; layer: Extract<SoundLayer, { from: 'kit' }> }) {
  const sounds = pieces.soundsFor(piece);
  const at = sounds.findIndex(
    ({ character, sound }) => character === layer.character && sound === layer.sound,
  );
  return (
    <ChoiceField
      label="which"
      value={String(at)}
      options={sounds.map(({ name }, n) => [String(n), name])}
      onChange={(n) => pieces.setLayer(piece, { ...layer, ...sounds[Number(n)] })}
    />
  );
}

/** What of a file is heard, and how. */
function File({ piece, layer }: { piece: KitPiece; layer: SampleLayer }) {
  const [{ hash }] = layer.files;
  const [drawn, setDrawn] = useState<Awaited<ReturnType<typeof outlineOfFile>> | 'missing'>();
  useEffect(() => {
    let gone = false;
    void outlineOfFile(hash, 400).then((found) => {
      if (!gone) setDrawn(found ?? 'missing');
    });
    return () => {
      gone = true;
    };
  }, [hash]);
  const slide = (change: Partial<SampleLayer>) => pieces.slideLayer(piece, { ...layer, ...change });
  if (drawn === 'missing') {
    return (
      <Box sx={{ fontSize: 13, color: 'error.main' }}>
        The file is not in this browser: drop “{layer.files[0].name}” here again.
      </Box>
    );
  }
  if (!drawn) return null;
  const end = layer.end ?? Math.round(drawn.seconds * RATE);
  return (
    <>
      <Waveform
        label={`waveform of ${layer.name}`}
        outline={drawn.outline}
        seconds={drawn.seconds}
        height={72}
        stretches={[{ id: layer.id, start: layer.start / RATE, end: end / RATE }]}
        onMove={(_, from, to) => {
          slide({ start: Math.max(0, Math.round(from * RATE)), end: Math.round(to * RATE) });
          slideDone();
        }}
      />
      <Dial
        label="starts at"
        name={`start of ${layer.name}`}
        value={layer.start / RATE}
        usual={0}
        typed={IN_MS}
        min={0}
        max={drawn.seconds}
        step={0.001}
        says={seconds}
        onSlide={(from) => slide({ start: Math.min(end, Math.round(from * RATE)) })}
      />
      <Dial
        label="ends at"
        name={`end of ${layer.name}`}
        value={end / RATE}
        usual={drawn.seconds}
        typed={IN_MS}
        min={0}
        max={drawn.seconds}
        step={0.001}
        says={seconds}
        onSlide={(to) => slide({ end: Math.max(layer.start, Math.round(to * RATE)) })}
      />
      {(['fadeIn', 'fadeOut'] as const).map((name) => (
        <Dial
          key={name}
          label={name === 'fadeIn' ? 'fades in' : 'fades out'}
          name={`${name === 'fadeIn' ? 'fade in' : 'fade out'} of ${layer.name}`}
          value={layer[name]}
          usual={0}
          typed={IN_MS}
          min={0}
          max={Math.min(5, drawn.seconds)}
          step={0.001}
          says={seconds}
          onSlide={(value) => slide({ [name]: value })}
        />
      ))}
      <Dial
        label="decay"
        name={`decay of ${layer.name}`}
        value={layer.decay ?? LONGEST}
        usual={LONGEST}
        typed={IN_MS}
        min={0.02}
        max={LONGEST}
        step={0.02}
        says={(value) => (value >= LONGEST ? 'as it is' : seconds(value))}
        onSlide={(decay) => slide({ decay: decay >= LONGEST ? undefined : decay })}
      />
      <Dial
        label="low-pass"
        name={`low-pass of ${layer.name}`}
        value={Math.log(layer.lowpass ?? HIGHEST)}
        usual={Math.log(HIGHEST)}
        typed={ON_LOGARITHM}
        min={Math.log(100)}
        max={Math.log(HIGHEST)}
        step={0.02}
        says={(value) => (value >= Math.log(HIGHEST) ? 'all' : `${Math.round(Math.exp(value))} Hz`)}
        onSlide={(value) =>
          slide({ lowpass: value >= Math.log(HIGHEST) ? undefined : Math.exp(value) })
        }
      />
      <FormControlLabel
        control={
          <Switch
            size="small"
            checked={layer.reverse === true}
            onChange={() =>
              pieces.setLayer(piece, { ...layer, reverse: layer.reverse ? undefined : true })
            }
          />
        }
        label="played backwards"
        slotProps={{ typography: { sx: { fontSize: 13 } } }}
      />
    </>
  );
}

const LONGEST = 4;
const HIGHEST = 20_000;
