'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { useState, type ReactNode } from 'react';
import { useShallow } from 'zustand/react/shallow';
import type { Song } from '@/core';
import { MAX_SECTION_BARS, pieceOf, SECTION_KINDS, type SectionKind } from '@/core/model';
import { barAt, barNumber } from '@/core/time';
import {
  originAt,
  placeName,
  placesOf,
  shelfOf,
  stackOf,
  usesOf,
  type LaidPlace,
} from '@/core/weave';
import { ChoiceField, plainOptions } from '@/look/ChoiceField';
import { DyeSwatch } from '@/look/DyeSwatch';
import { EditableText } from '@/look/EditableText';
import { MeterField } from '@/look/MeterField';
import { NumberField } from '@/look/NumberField';
import { findAct, keyOf } from '@/state/acts';
import { saidUses } from '@/state/gather/shelf';
import { edit } from '@/state/session/edit';
import { useWorkbench } from '@/state/store';
import { chosenPlace, chosenPlaces, saidPlaces, spotNow } from '@/state/weave/choosing';
import { playInstead } from '@/state/weave/laying';
import { setMeterFrom } from '@/state/weave/weave';
import { Card } from './Card';
import { SpanChip } from './SpanChip';

/** The chosen place: its section's frame, what plays in it, and what can be done with it. */
export function PlaceCard() {
  const song = useWorkbench((state) => state.history!.song);
  const laid = useWorkbench(chosenPlace);
  const count = useWorkbench((state) => chosenPlaces(state).length);
  if (!laid) {
    return song.places.length === 0 ? null : (
      <Card label="chosen section">
        <Box sx={{ color: 'text.secondary' }}>
          Choose a section by its header; with Shift or Ctrl, several. Press a bar of the cloth
          twice to open in Shape what plays there.
        </Box>
      </Card>
    );
  }
  return (
    <Card label="chosen section">
      <Frame song={song} laid={laid} several={count} />
      <Cell song={song} laid={laid} />
      <Played song={song} laid={laid} />
      <Actions laid={laid} several={count > 1} />
    </Card>
  );
}

function Frame({ song, laid, several }: { song: Song; laid: LaidPlace; several: number }) {
  const { section } = laid;
  const count = placesOf(song, section.id);
  const spot = useWorkbench(useShallow((state) => (state.bars ? spotNow(state) : undefined)));
  const bar = spot ? barAt(section.meters, spot.from).bar : 0;
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.25 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <EditableText
          value={section.name}
          label="name of the section"
          onChange={(name) => edit({ type: 'change section', section: section.id, name })}
          sx={{ fontSize: 16, fontWeight: 600, maxWidth: '100%' }}
        />
        <Box
          sx={{
            fontSize: 12,
            color: 'text.secondary',
            whiteSpace: 'nowrap',
            overflow: 'hidden',
            textOverflow: 'ellipsis',
          }}
        >
          {several > 1
            ? `${saidPlaces(several)} chosen`
            : count > 1
              ? `${placeName(song, laid)} of ${count}: name, bars and meter change in all of them`
              : 'in one place'}
        </Box>
      </Box>
      <ChoiceField
        label="kind"
        value={section.kind}
        options={plainOptions(SECTION_KINDS)}
        width={104}
        onChange={(kind) =>
          edit({ type: 'change section', section: section.id, kind: kind as SectionKind })
        }
      />
      <NumberField
        label="bars"
        value={section.bars}
        min={1}
        max={MAX_SECTION_BARS}
        integer
        onChange={(bars) => edit({ type: 'set section bars', section: section.id, bars })}
      />
      <ActButton act="section-longer">…</ActButton>
      <MeterField
        meter={barNumber(section.meters, bar).meter}
        onChange={(meter) => setMeterFrom(bar, meter)}
      />
      {bar > 0 && (
        <Box sx={{ fontSize: 12, color: 'text.secondary' }}>from {laid.firstBar + bar + 1} on</Box>
      )}
      <ActButton act="repeat-place">repeat</ActButton>
      <ActButton act="remove-place">take out</ActButton>
    </Box>
  );
}

/** A button that does an act, and says its key. */
export function ActButton({ act, children }: { act: string; children: ReactNode }) {
  const { name, run } = findAct(act)!;
  return (
    <Tooltip title={keyOf(act) ? `${name} (${keyOf(act)})` : name}>
      <Button onClick={run} {...(children === '…' && { 'aria-label': name })}>
        {children}
      </Button>
    </Tooltip>
  );
}

/** Where the chosen row comes from in the chosen bars. */
function Cell({ song, laid }: { song: Song; laid: LaidPlace }) {
  const row = useWorkbench((state) => state.row);
  const spot = useWorkbench(useShallow((state) => (state.row ? spotNow(state) : undefined)));
  if (!row || !spot) return null;
  const origin = originAt(song, laid, spot.from, row);
  const piece = pieceOf(row, song.kit).name;
  if (!origin) {
    return <CellLine dye={undefined}>Nothing plays the {piece.toLowerCase()} here.</CellLine>;
  }
  const { pattern, lies, over } = origin;
  const [first, last] = [lies.from, lies.to - 1].map(
    (at) => laid.firstBar + barAt(laid.section.meters, at).bar + 1,
  );
  const uses = usesOf(song, pattern.id);
  const facts = [
    first === last ? `bar ${first}` : `bars ${first} to ${last}`,
    lies.overlay ? 'changed here only' : 'in all linked places',
    uses > 1 ? `shared by ${saidPlaces(uses)}` : 'played nowhere else',
  ];
  return (
    <CellLine dye={pattern.dye}>
      <b>
        {piece} from “{pattern.name}”{over && over !== pattern ? `, over “${over.name}”` : ''}
      </b>
      <Box
        component="span"
        title={`played in ${saidUses(pattern.id).join(', ')}`}
        sx={{ color: 'text.secondary', ml: 1.5 }}
      >
        {facts.join(' · ')}
      </Box>
    </CellLine>
  );
}

function CellLine({ dye, children }: { dye: number | undefined; children: ReactNode }) {
  return (
    <Box
      aria-live="polite"
      sx={{ display: 'flex', gap: 1, alignItems: 'center', fontSize: 13, minWidth: 0 }}
    >
      {dye !== undefined && <DyeSwatch dye={dye} size={18} />}
      <Box sx={{ whiteSpace: 'nowrap', overflow: 'hidden', textOverflow: 'ellipsis' }}>
        {children}
      </Box>
    </Box>
  );
}

function Played({ song, laid }: { song: Song; laid: LaidPlace }) {
  return (
    <Box sx={{ display: 'flex', alignItems: 'flex-start', gap: 1 }}>
      <Box
        sx={{
          flex: 1,
          minWidth: 0,
          display: 'flex',
          gap: 0.75,
          flexWrap: 'wrap',
          maxHeight: 30,
          overflowY: 'auto',
        }}
      >
        {stackOf(laid).map((lies) => (
          <SpanChip key={`${lies.overlay}/${lies.span.id}`} song={song} laid={laid} lies={lies} />
        ))}
      </Box>
      <PatternMenu song={song} label="play another pattern" onChoose={playInstead} />
      <ActButton act="lay-fill">lay a fill …</ActButton>
    </Box>
  );
}

function Actions({ laid, several }: { laid: LaidPlace; several: boolean }) {
  const linked = useWorkbench((state) => placesOf(state.history!.song, laid.section.id) > 1);
  const own = laid.place.overlay.length > 0;
  return (
    <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center' }}>
      <ActButton act="open-in-place">open in Shape</ActButton>
      <ActButton act="vary">vary</ActButton>
      {own && <ActButton act="as-section">undo local changes</ActButton>}
      {own && linked && !several && <ActButton act="make-sections">apply to all linked</ActButton>}
      {linked ? (
        <ActButton act="own-place">unlink</ActButton>
      ) : (
        <ActButton act="link-place">link …</ActButton>
      )}
      <Box sx={{ flex: 1 }} />
      <MoreActs />
    </Box>
  );
}

/** What is done less often. */
const MORE = [
  ...['silence', 'replace-pattern', 'split-place', 'merge-place', 'repeat-alone'],
  ...['copy-places', 'paste-places', 'meant', 'lock', 'lock-place', 'perform', 'bounce'],
];

function MoreActs() {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)}>more</Button>
      <Menu open={!!anchor} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {MORE.map((id) => {
          const { name, run } = findAct(id)!;
          return (
            <MenuItem
              key={id}
              sx={{ gap: 3 }}
              onClick={() => {
                setAnchor(null);
                run();
              }}
            >
              <Box sx={{ flex: 1 }}>{name}</Box>
              <Box className="figures" sx={{ color: 'text.secondary', fontSize: 12 }}>
                {keyOf(id)}
              </Box>
            </MenuItem>
          );
        })}
      </Menu>
    </>
  );
}

export function PatternMenu(props: {
  song: Song;
  label: string;
  onChoose: (pattern: string) => void;
}) {
  const { song, label, onChoose } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)}>{label}</Button>
      <Menu open={!!anchor} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {shelfOf(song).map(({ id, name, dye }) => (
          <MenuItem
            key={id}
            sx={{ gap: 1.5 }}
            onClick={() => {
              setAnchor(null);
              onChoose(id);
            }}
          >
            <DyeSwatch dye={dye} size={20} />
            {name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
