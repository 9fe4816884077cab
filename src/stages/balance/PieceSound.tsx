'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import FormControlLabel from '@mui/material/FormControlLabel';
import Switch from '@mui/material/Switch';
import type { KeyboardEvent } from 'react';
import { DESIGN_LIMITS, type KitPiece, type PieceDesign } from '@/core/model';
import { ChoiceField } from '@/look/ChoiceField';
import { IN_PERCENT } from '@/look/TypedValue';
import { keyOf } from '@/state/acts';
import * as pieces from '@/state/balance/pieces';
import { chooseFilesFor } from '@/state/balance/samples';
import { useWorkbench } from '@/state/store';
import { percent } from './ChainParts';
import { Dial } from './Dial';
import { FileDrop } from './FileDrop';
import { Layer } from './Layer';
import { ResponseCurve } from './ResponseCurve';

const cents = (tune: number) =>
  tune === 0 ? 'as it is' : `${tune > 0 ? '+' : '−'}${Math.abs(tune)} ct`;
const decibels = (db: number) => `${db > 0 ? '+' : db < 0 ? '−' : ''}${Math.abs(db)} dB`;

/** How the sounds of a piece are made: which they are, how they are tuned and answer, what is layered. */
export function PieceSound({ piece }: { piece: KitPiece }) {
  const all = useWorkbench((state) => state.allOfFamily);
  const family = useWorkbench(
    (state) =>
      state.history!.song.kit.pieces.filter((one) => one.family === piece.family).length > 1,
  );
  const {
    tune = 0,
    damping = 0,
    edge = 0,
    alternates = 4,
    bare,
    layers = [],
  }: PieceDesign = piece.design ?? {};
  const slide = (change: Parameters<typeof pieces.slideDesign>[1]) =>
    pieces.slideDesign(piece, change);
  const choke = piece.articulations[0].choke ?? 0;
  return (
    <FileDrop piece={piece}>
      <SoundChoice piece={piece} />
      {family && (
        <FormControlLabel
          control={<Switch size="small" checked={all} onChange={pieces.toggleFamily} />}
          label={`set all ${piece.family} together`}
          slotProps={{ typography: { sx: { fontSize: 13 } } }}
        />
      )}
      <Dial
        label="tuned"
        name={`${piece.name}: tuned`}
        value={tune}
        usual={0}
        min={-1200}
        max={1200}
        step={10}
        says={cents}
        onSlide={(to) => slide({ tune: to })}
      />
      <Dial
        label="damping"
        name={`${piece.name}: damping`}
        value={damping}
        usual={0}
        typed={IN_PERCENT}
        min={0}
        max={1}
        step={0.02}
        says={percent}
        onSlide={(to) => slide({ damping: to })}
      />
      <Dial
        label="attack"
        name={`${piece.name}: edge`}
        value={edge}
        usual={0}
        min={DESIGN_LIMITS.edge[0]}
        max={DESIGN_LIMITS.edge[1]}
        step={0.5}
        says={decibels}
        onSlide={(to) => slide({ edge: to })}
      />
      <ResponseCurve piece={piece} />
      <Box sx={{ display: 'flex', gap: 1, pt: 0.5 }}>
        <ChoiceField
          label="round robins"
          value={String(alternates)}
          options={['1', '2', '3', '4'].map((n) => [n, n === '1' ? '1 stroke' : `${n} strokes`])}
          width={112}
          onChange={(n) => pieces.setDesign(piece, { alternates: Number(n) })}
        />
        <ChoiceField
          label="choke group"
          value={String(choke)}
          options={Array.from({ length: pieces.CHOKE_GROUPS + 1 }, (_, n) => [
            String(n),
            n === 0 ? 'none' : String(n),
          ])}
          width={112}
          onChange={(group) => pieces.setChoke(piece, Number(group))}
        />
      </Box>
      {layers.slice(0, SHOWN).map((layer) => (
        <Layer key={layer.id} piece={piece} layer={layer} />
      ))}
      {layers.length > SHOWN && (
        <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
          and {layers.length - SHOWN} more layers
        </Box>
      )}
      {layers.length > 0 && (
        <FormControlLabel
          control={<Switch size="small" checked={!bare} onChange={() => pieces.toggleOwn(piece)} />}
          label="its own sound is heard too"
          slotProps={{ typography: { sx: { fontSize: 13 } } }}
        />
      )}
      <Box sx={{ display: 'flex', flexWrap: 'wrap', gap: 0.5, pt: 0.5 }}>
        <Button
          title={`one more sound on the piece (${keyOf('add-layer')})`}
          onClick={() => pieces.addLayer(piece)}
        >
          add a layer
        </Button>
        <Button
          title={`sound files as a layer (${keyOf('layer-from-files')}); they can be dropped here, too`}
          onClick={() => void chooseFilesFor(piece.id, 'layer')}
        >
          from files
        </Button>
      </Box>
    </FileDrop>
  );
}

/** So many layers are shown one by one. */
const SHOWN = 8;

/** Which sound the piece has: arrow keys go through those that it can have, each heard in place. */
function SoundChoice({ piece }: { piece: KitPiece }) {
  const sounds = pieces.soundsFor(piece);
  const { bare, layers = [] }: PieceDesign = piece.design ?? {};
  // A piece of which only its layers are heard has none of the sounds that are offered.
  const only = bare ? layers.map(({ name }) => name).join(', ') || 'none' : undefined;
  const at = only === undefined ? pieces.soundNow(piece, sounds) : -1;
  const press = (event: KeyboardEvent) => {
    const by = ({ ArrowUp: -1, ArrowDown: 1 } as const)[event.key as 'ArrowUp'];
    if (!by) return;
    event.preventDefault();
    event.stopPropagation();
    pieces.stepSound(by, piece);
  };
  return (
    <Box
      onKeyDownCapture={press}
      title={`up and down go through them (${keyOf('previous-sound')} and ${keyOf('next-sound')} anywhere)`}
    >
      <ChoiceField
        label="sound"
        value={String(at)}
        options={[
          ...(only === undefined ? [] : [[String(-1), only] as const]),
          ...sounds.map(({ name }, n) => [String(n), name] as const),
        ]}
        onChange={(n) => Number(n) >= 0 && pieces.chooseSound(piece, sounds[Number(n)])}
      />
    </Box>
  );
}
