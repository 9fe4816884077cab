'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import ToggleButton from '@mui/material/ToggleButton';
import { useEffect, useMemo, useRef, useState, type KeyboardEvent } from 'react';
import { pieceOf, type PieceId } from '@/core/model';
import { cloth, clothByFamily, laidPlaces, positionAt, shelfOf } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { ClothCanvas } from '@/look/ClothCanvas';
import { useEveryFrame } from '@/look/useEveryFrame';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import { useWorkbench } from '@/state/store';
import { playhead } from '@/state/transport/transport';
import {
  assign,
  keepPerformed,
  letGo,
  performedNow,
  press,
  saidPad,
  setWait,
  startOver,
  stopPerforming,
  usePerforming,
  WAITS,
  type Pad,
} from '@/state/weave/performing';

/** The song's order played live: sections, patterns, mutes and rolls on keys and pads. */
export function PerformDialog() {
  const open = useWorkbench((state) => state.dialog === 'perform');
  const leave = () => {
    startOver();
    closeDialog();
  };
  return (
    <WhileOpen open={open} onClose={leave} maxWidth="lg" fullWidth aria-labelledby="perform-title">
      <Body leave={leave} />
    </WhileOpen>
  );
}

const ROWS = [
  ['section', 'sections'],
  ['pattern', 'patterns, over them'],
  ['mute', 'silence'],
  ['roll', 'rolls, while held'],
] as const;

function Body({ leave }: { leave: () => void }) {
  const { pads, running, done, wait, rolled } = usePerforming();
  const song = useWorkbench((state) => state.history!.song);
  const [changing, setChanging] = useState<string>();
  const held = useRef(new Set<string>());
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    // Keys are heard wherever the pointer is.
    box.current?.focus();
    return startOver;
  }, []);
  const padOf = ({ key }: KeyboardEvent) => pads.find((pad) => pad.key === key.toLowerCase());
  const isTyped = (event: KeyboardEvent) =>
    (event.target as HTMLElement).closest('input, [role=listbox], [role=combobox]') !== null;
  return (
    <Box
      ref={box}
      tabIndex={-1}
      sx={{ outline: 'none' }}
      onKeyDown={(event) => {
        if (isTyped(event) || event.ctrlKey || event.metaKey || event.altKey) return;
        const pad = padOf(event);
        if (event.key === ' ') {
          event.preventDefault();
          stopPerforming();
        }
        if (!pad || held.current.has(pad.key)) return;
        event.preventDefault();
        held.current.add(pad.key);
        press(pad);
      }}
      onKeyUp={(event) => {
        const pad = padOf(event);
        if (!pad) return;
        held.current.delete(pad.key);
        letGo(pad);
      }}
    >
      <DialogTitle id="perform-title" sx={{ display: 'flex', alignItems: 'baseline', gap: 2 }}>
        Perform the order
        <Clock />
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <Box sx={{ display: 'flex', gap: 1.5, alignItems: 'center', pt: 1 }}>
          <Box sx={{ flex: 1, fontSize: 13, color: 'text.secondary' }}>
            A section begins it. Keys of the upper row call sections, the next lay patterns over
            them, then silence and rolls; Space ends it.
          </Box>
          <ChoiceField
            label="changes wait for"
            value={wait}
            options={WAITS.map((one) => [one, `the next ${one}`] as const)}
            width={160}
            onChange={(next) => setWait(next as 'bar')}
          />
          <ChoiceField
            label="rolls on"
            value={rolled}
            options={cloth(song).rows.map(({ piece }) => [piece, pieceOf(piece, song.kit).name])}
            width={130}
            onChange={(piece) => usePerforming.setState({ rolled: piece })}
          />
        </Box>
        {ROWS.map(([does, title]) => (
          <Box key={does}>
            <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.25 }}>{title}</Box>
            <Box
              sx={{ display: 'grid', gridTemplateColumns: 'repeat(10, minmax(0, 1fr))', gap: 0.5 }}
            >
              {pads
                .filter((pad) => pad.does === does)
                .map((pad) => (
                  <PadButton
                    key={pad.key}
                    pad={pad}
                    onChange={
                      does === 'section' || does === 'pattern'
                        ? () => setChanging(changing === pad.key ? undefined : pad.key)
                        : undefined
                    }
                  />
                ))}
            </Box>
          </Box>
        ))}
        {changing && <Assign pad={pads.find(({ key }) => key === changing)!} />}
        <SoFar />
      </DialogContent>
      <DialogActions>
        <Box sx={{ flex: 1, pl: 2, fontSize: 12, color: 'text.secondary' }}>
          Press “change” below a pad to put something else on its key.
        </Box>
        <Button onClick={leave}>cancel</Button>
        <Button disabled={done.length === 0} onClick={startOver}>
          start over
        </Button>
        <Button disabled={!running} onClick={stopPerforming}>
          end it
        </Button>
        <Button
          variant="contained"
          disabled={done.length === 0}
          onClick={() => void keepPerformed().then((kept) => kept && closeDialog())}
        >
          keep as the song’s order
        </Button>
      </DialogActions>
    </Box>
  );
}

function PadButton({ pad, onChange }: { pad: Pad; onChange?: () => void }) {
  const on = usePerforming((state) => state.on.includes(pad.key));
  const says = saidPad(pad);
  return (
    <Box sx={{ display: 'grid', minWidth: 0 }}>
      <Box
        component="button"
        type="button"
        aria-pressed={on}
        aria-label={`${pad.key}: ${says}`}
        title={says}
        onPointerDown={() => press(pad)}
        onPointerUp={() => letGo(pad)}
        onPointerLeave={() => letGo(pad)}
        sx={{
          height: 44,
          minWidth: 0,
          border: '1px solid',
          borderColor: on ? 'var(--ink)' : 'var(--line)',
          bgcolor: on ? 'var(--ink)' : 'var(--panel)',
          color: on ? 'var(--paper)' : 'var(--ink)',
          font: 'inherit',
          fontSize: 12,
          lineHeight: '15px',
          px: 0.5,
          overflow: 'hidden',
          cursor: 'pointer',
          touchAction: 'none',
        }}
      >
        <Box className="figures" sx={{ fontWeight: 700, textTransform: 'uppercase' }}>
          {pad.key}
        </Box>
        <Box sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}>
          {says}
        </Box>
      </Box>
      {onChange && (
        <Button
          variant="text"
          tabIndex={-1}
          aria-label={`change what ${pad.key} does`}
          onClick={onChange}
          sx={{ fontSize: 12, p: 0, lineHeight: '16px', color: 'text.secondary' }}
        >
          change
        </Button>
      )}
    </Box>
  );
}

/** What a key does, chosen: a section, or a pattern and which pieces of it. */
function Assign({ pad }: { pad: Pad }) {
  const song = useWorkbench((state) => state.history!.song);
  if (pad.does === 'section') {
    return (
      <ChoiceField
        label={`key ${pad.key} calls`}
        value={pad.section}
        options={song.sections.map(({ id, name, bars }) => [id, `${name}, ${bars} bars`] as const)}
        width={240}
        onChange={(section) => assign(pad.key, { ...pad, section })}
      />
    );
  }
  if (pad.does !== 'pattern') return null;
  const pattern = song.patterns.find(({ id }) => id === pad.pattern);
  const pieces = pad.pieces ?? [];
  const toggle = (piece: PieceId) => {
    const next = pieces.includes(piece)
      ? pieces.filter((one) => one !== piece)
      : [...pieces, piece];
    const { pieces: _, ...plain } = pad;
    assign(pad.key, next.length > 0 ? { ...plain, pieces: next } : plain);
  };
  return (
    <Box sx={{ display: 'flex', gap: 1, flexWrap: 'wrap', alignItems: 'center' }}>
      <ChoiceField
        label={`key ${pad.key} lays`}
        value={pad.pattern}
        options={shelfOf(song).map(({ id, name }) => [id, name] as const)}
        width={240}
        onChange={(id) => assign(pad.key, { key: pad.key, does: 'pattern', pattern: id })}
      />
      {pattern?.strands
        .filter(({ hits }) => hits.length > 0)
        .map(({ piece }) => (
          <ToggleButton
            key={piece}
            value={piece}
            selected={pieces.includes(piece)}
            onChange={() => toggle(piece)}
            sx={{ py: 0.25 }}
          >
            {pieceOf(piece, song.kit).name}
          </ToggleButton>
        ))}
    </Box>
  );
}

/** Where it is. */
function Clock() {
  const box = useRef<HTMLSpanElement>(null);
  const running = usePerforming((state) => state.running);
  useEveryFrame(() => {
    const song = useWorkbench.getState().beside?.song;
    if (!box.current || !song) return;
    const { bar, beat } = positionAt(song, playhead());
    box.current.textContent = `${bar} · ${beat}`;
  });
  return (
    <Box
      component="span"
      ref={box}
      className="figures"
      role="timer"
      aria-label="bar and beat"
      sx={{ fontSize: 20, color: running ? 'var(--accent)' : 'text.secondary' }}
    />
  );
}

/** What was performed so far, as cloth. */
function SoFar() {
  const { done, end, running } = usePerforming();
  const [now, setNow] = useState(0);
  useEffect(() => {
    if (!running) return;
    const timer = setInterval(() => setNow((n) => n + 1), 500);
    return () => clearInterval(timer);
  }, [running]);
  const song = useMemo(
    () => (done.length > 0 && (running || end > 0) ? performedNow() : undefined),
    // eslint-disable-next-line react-hooks/exhaustive-deps -- it grows as time goes by
    [done, end, running, now],
  );
  const woven = song && clothByFamily(song);
  if (!song || !woven || woven.length === 0 || woven.rows.length === 0) {
    return <Box sx={{ height: 62 }} />;
  }
  const laid = laidPlaces(song);
  return (
    <Box sx={{ height: 62 }}>
      <ClothCanvas
        cloth={woven}
        rowHeights={woven.rows.map(() => Math.max(2, Math.floor(45 / woven.rows.length) - 1))}
        gap={1}
        joins={laid.map(({ start }) => start)}
        label="what was performed so far"
      />
      <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
        {laid.map(({ section }) => section.name).join(' · ')}
      </Box>
    </Box>
  );
}
