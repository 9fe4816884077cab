'use client';

import FiberManualRecordIcon from '@mui/icons-material/FiberManualRecord';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Tooltip from '@mui/material/Tooltip';
import { useEffect, useState, type PointerEvent } from 'react';
import { articulationOf, FAMILIES, DEFAULT_KIT, pieceOf } from '@/core/model';
import { toVelocity } from '@/core/time';
import { NumberField } from '@/look/NumberField';
import { PieceSign } from '@/look/Notehead';
import { FIGURES } from '@/look/theme';
import { keyOf } from '@/state/acts';
import {
  assignPad,
  connectController,
  KEY_STRENGTHS,
  PAD_KEYS,
  setLatency,
  setQuantizeIn,
  setRecordMode,
  strikePad,
  togglePads,
  toggleRecording,
} from '@/state/shape/pads';
import { kitOf, useWorkbench, type PadSound, type Pads as PadState } from '@/state/store';

/** What is printed on the keys of a keyboard, where they are Latin ones. */
const keySign = (code: string) => (code === 'Comma' ? ',' : code.replace('Key', ''));

/** A pad controller on screen, and how what is played on it is written down. */
export function Pads() {
  const pads = useWorkbench((state) => state.pads);
  const struck = usePadKeys();
  const [assigned, setAssigned] = useState<{ index: number; anchor: HTMLElement }>();
  return (
    <Box
      component="section"
      aria-label="pads"
      sx={{
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr) auto',
        gap: 2,
        p: 1.5,
        borderTop: '1px solid var(--line)',
        bgcolor: 'var(--panel)',
      }}
    >
      <Box sx={{ display: 'grid', gridTemplateColumns: 'repeat(8, minmax(0, 1fr))', gap: 0.75 }}>
        {pads.sounds.map((sound, index) => (
          <Pad
            key={index}
            index={index}
            sound={sound}
            lit={struck === index}
            onAssign={(anchor) => setAssigned({ index, anchor })}
          />
        ))}
      </Box>
      <Recording pads={pads} />
      <PadMenu
        anchor={assigned?.anchor ?? null}
        onClose={() => setAssigned(undefined)}
        onChoose={(piece, articulation) => {
          if (assigned) assignPad(assigned.index, piece, articulation);
          setAssigned(undefined);
        }}
      />
    </Box>
  );
}

/** Plays the pads with keys while they are shown. @returns the pad that was struck last */
function usePadKeys(): number | undefined {
  const [struck, setStruck] = useState<number>();
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout>;
    const onKeyDown = (event: KeyboardEvent) => {
      const index = (PAD_KEYS as readonly string[]).indexOf(event.code);
      const target = event.target as HTMLElement;
      const busy = target.closest?.('input, textarea, [role=menu], [role=listbox], [role=dialog]');
      const { dialog, incoming, menu } = useWorkbench.getState();
      if (index < 0 || event.ctrlKey || event.metaKey || busy || dialog || incoming || menu) return;
      event.preventDefault();
      event.stopImmediatePropagation();
      if (event.repeat) return;
      const strength = event.shiftKey ? 'hard' : event.altKey ? 'ghost' : 'usual';
      strikePad(index, KEY_STRENGTHS[strength], event.timeStamp || undefined);
      setStruck(index);
      clearTimeout(timer);
      timer = setTimeout(() => setStruck(undefined), 120);
    };
    // Before the commands: while pads are shown, their keys play.
    window.addEventListener('keydown', onKeyDown, { capture: true });
    return () => {
      window.removeEventListener('keydown', onKeyDown, { capture: true });
      clearTimeout(timer);
    };
  }, []);
  return struck;
}

function Pad(props: {
  index: number;
  sound: PadSound;
  lit: boolean;
  onAssign: (anchor: HTMLElement) => void;
}) {
  const { index, sound, lit, onAssign } = props;
  const kit = useWorkbench(kitOf);
  const { name, articulations } = pieceOf(sound.piece, kit);
  const way = articulationOf(sound.piece, sound.articulation, kit);
  const full = articulations.length > 1 ? `${name}, ${way.name}` : name;
  const onPointerDown = (event: PointerEvent<HTMLButtonElement>) => {
    if (event.button !== 0) return;
    const { top, height } = event.currentTarget.getBoundingClientRect();
    strikePad(index, toVelocity(127 * (1 - (event.clientY - top) / height)), event.timeStamp);
  };
  return (
    <Box
      component="button"
      type="button"
      aria-label={`pad ${index + 1}: ${full}`}
      aria-keyshortcuts={keySign(PAD_KEYS[index])}
      title={`${full}: higher is louder; right press gives it another sound`}
      onPointerDown={onPointerDown}
      onContextMenu={(event: React.MouseEvent<HTMLElement>) => {
        event.preventDefault();
        onAssign(event.currentTarget);
      }}
      onKeyDown={(event: React.KeyboardEvent<HTMLElement>) => {
        if (event.key === 'Enter') strikePad(index, KEY_STRENGTHS.usual);
        else if (event.key === 'F2') onAssign(event.currentTarget);
      }}
      sx={{
        height: { xs: 64, lg: 58 },
        minWidth: 0,
        py: 0.5,
        px: { xs: 0.5, lg: 0.75 },
        display: 'grid',
        // Where there is little room, the name stands below the sign and the key.
        gridTemplateColumns: { xs: 'minmax(0, 1fr)', lg: 'auto minmax(0, 1fr)' },
        columnGap: 0.75,
        alignContent: 'start',
        textAlign: 'left',
        font: 'inherit',
        fontSize: 12,
        lineHeight: { xs: '13px', lg: '15px' },
        color: lit ? 'var(--on-accent)' : 'var(--ink)',
        bgcolor: lit ? 'var(--accent)' : 'var(--paper)',
        border: '1px solid var(--line)',
        borderRadius: '3px',
        cursor: 'pointer',
        touchAction: 'none',
        userSelect: 'none',
        overflow: 'hidden',
      }}
    >
      <Box
        sx={{
          display: { xs: 'flex', lg: 'grid' },
          justifyContent: 'space-between',
          justifyItems: 'center',
        }}
      >
        <PieceSign head={way.head} />
        <b className="figures">{keySign(PAD_KEYS[index])}</b>
      </Box>
      <Box
        sx={{
          overflow: 'hidden',
          fontFamily: { xs: FIGURES, lg: 'inherit' },
        }}
      >
        <Box>{name}</Box>
        {articulations.length > 1 && <Box sx={{ opacity: 0.8 }}>{way.name}</Box>}
      </Box>
    </Box>
  );
}

function Recording({ pads }: { pads: PadState }) {
  return (
    <Box sx={{ display: 'grid', gap: 1, width: 292 }}>
      <Box sx={{ display: 'flex', gap: 1 }}>
        <Tooltip title={keyOf('record')}>
          <Button
            variant={pads.recording ? 'contained' : undefined}
            aria-pressed={pads.recording}
            aria-label={pads.recording ? 'stop recording' : 'record'}
            startIcon={
              <FiberManualRecordIcon sx={{ color: pads.recording ? 'inherit' : 'var(--accent)' }} />
            }
            onClick={toggleRecording}
          >
            {pads.recording ? 'stop' : 'record'}
          </Button>
        </Tooltip>
        <ToggleButtonGroup
          exclusive
          value={pads.mode}
          aria-label="what recording does to what is there"
          onChange={(_, mode: PadState['mode'] | null) => mode && setRecordMode(mode)}
        >
          <ToggleButton value="overdub">overdub</ToggleButton>
          <ToggleButton value="replace">replace</ToggleButton>
        </ToggleButtonGroup>
      </Box>
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'start' }}>
        <NumberField
          label="quantize %"
          value={pads.quantize}
          min={0}
          max={100}
          width={88}
          onChange={setQuantizeIn}
        />
        <NumberField
          label="latency ms"
          value={pads.latency}
          min={-200}
          max={500}
          width={88}
          onChange={setLatency}
        />
        <Tooltip title={pads.controller ?? keyOf('controller')}>
          <Button onClick={() => void connectController()}>
            {pads.controller ? 'listening' : 'controller'}
          </Button>
        </Tooltip>
      </Box>
      <Box sx={{ display: 'flex', fontSize: 12, color: 'text.secondary' }}>
        <Box sx={{ flex: 1 }}>Shift strikes hard, Alt soft. Letters play while pads are shown.</Box>
        <Button size="small" variant="text" onClick={togglePads} aria-label="hide the pads">
          hide
        </Button>
      </Box>
    </Box>
  );
}

function PadMenu(props: {
  anchor: HTMLElement | null;
  onClose: () => void;
  onChoose: (piece: string, articulation: string) => void;
}) {
  const { anchor, onClose, onChoose } = props;
  return (
    <Menu
      open={anchor !== null}
      anchorEl={anchor}
      onClose={onClose}
      slotProps={{ paper: { sx: { maxHeight: 420 } }, list: { dense: true } }}
    >
      {FAMILIES.flatMap((family) => {
        const pieces = DEFAULT_KIT.pieces.filter((piece) => piece.family === family);
        if (pieces.length === 0) return [];
        return [
          <ListSubheader key={family} sx={{ lineHeight: '28px', bgcolor: 'inherit' }}>
            {family}
          </ListSubheader>,
          ...pieces.flatMap(({ id, name, articulations }) =>
            articulations.map((way) => (
              <MenuItem
                key={`${id}/${way.id}`}
                onClick={() => onChoose(id, way.id)}
                sx={{ gap: 1.5 }}
              >
                <PieceSign head={way.head} />
                {articulations.length > 1 ? `${name}, ${way.name}` : name}
              </MenuItem>
            )),
          ),
        ];
      })}
    </Menu>
  );
}
