'use client';

import {
  SECTION_KINDS,
  type SectionKind,
  MAX_SECTION_BARS,
  pieceOf,
  placeOfSpan,
} from '@/core/model';
import ArrowBackIcon from '@mui/icons-material/ArrowBack';
import ArrowForwardIcon from '@mui/icons-material/ArrowForward';
import CloseIcon from '@mui/icons-material/Close';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { useState } from 'react';
import { findPattern, type Section, type Song, type Span } from '@/core';
import { barAt } from '@/core/time';
import { laidPlaces, placeName, placesOf, type LaidPlace } from '@/core/weave';
import { ChoiceField, plainOptions } from '@/look/ChoiceField';
import { DyeSwatch } from '@/look/DyeSwatch';
import { EditableText } from '@/look/EditableText';
import { MeterField } from '@/look/MeterField';
import { NumberField } from '@/look/NumberField';
import { keyOf } from '@/state/acts';
import { edit } from '@/state/session/edit';
import { goToStage } from '@/state/routes';
import { showPattern } from '@/state/shape/shape';
import { useWorkbench } from '@/state/store';
import { layFill, playInSection, removePlace, repeatPlace, shiftPlace } from '@/state/weave/weave';

/** The chosen place: its section's frame, what plays in it, and what can be done with it. */
export function PlaceCard() {
  const song = useWorkbench((state) => state.history!.song);
  const placeId = useWorkbench((state) => state.placeId);
  const laid = laidPlaces(song).find(({ place }) => place.id === placeId);
  if (!laid) {
    return song.places.length === 0 ? null : (
      <Card>
        <Box sx={{ color: 'text.secondary' }}>
          Choose a section by its header to name, repeat or move it.
        </Box>
      </Card>
    );
  }
  return (
    <Card>
      <Frame song={song} laid={laid} />
      <Played song={song} laid={laid} />
    </Card>
  );
}

function Card({ children }: { children: React.ReactNode }) {
  return (
    <Box
      component="section"
      aria-label="chosen section"
      sx={{
        bgcolor: 'var(--paper)',
        border: '1px solid var(--line)',
        p: 1.5,
        display: 'grid',
        gap: 1.25,
      }}
    >
      {children}
    </Box>
  );
}

function Frame({ song, laid }: { song: Song; laid: LaidPlace }) {
  const { section } = laid;
  const count = placesOf(song, section.id);
  return (
    <Box sx={{ display: 'flex', alignItems: 'center', gap: 1.25 }}>
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <EditableText
          value={section.name}
          label="name of the section"
          onChange={(name) => edit({ type: 'change section', section: section.id, name })}
          sx={{ fontSize: 16, fontWeight: 600, maxWidth: '100%' }}
        />
        <Box sx={{ fontSize: 12, color: 'text.secondary', whiteSpace: 'nowrap' }}>
          {count > 1
            ? `${placeName(song, laid)} of ${count}: name, bars and patterns change in all of them`
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
      <MeterField
        meter={section.meters[0].meter}
        onChange={(meter) => edit({ type: 'set section meter', section: section.id, meter })}
      />
      <Tooltip title={`repeat right after itself (${keyOf('repeat-place')})`}>
        <Button onClick={repeatPlace}>repeat</Button>
      </Tooltip>
      <Tooltip title={`earlier (${keyOf('place-earlier')})`}>
        <IconButton size="small" aria-label="move earlier" onClick={() => shiftPlace(-1)}>
          <ArrowBackIcon fontSize="small" />
        </IconButton>
      </Tooltip>
      <Tooltip title={`later (${keyOf('place-later')})`}>
        <IconButton size="small" aria-label="move later" onClick={() => shiftPlace(1)}>
          <ArrowForwardIcon fontSize="small" />
        </IconButton>
      </Tooltip>
      <Tooltip title={keyOf('remove-place')}>
        <Button onClick={removePlace}>remove</Button>
      </Tooltip>
    </Box>
  );
}

function Played({ song, laid }: { song: Song; laid: LaidPlace }) {
  const { section, place } = laid;
  const length = laid.end - laid.start;
  return (
    <Box sx={{ display: 'flex', alignItems: 'flex-start', gap: 1 }}>
      <Box sx={{ flex: 1, minWidth: 0, display: 'flex', gap: 1, flexWrap: 'wrap' }}>
        {section.spans.map((span) => (
          <SpanChip
            key={`s${span.id}`}
            song={song}
            span={span}
            section={section}
            length={length}
            onRemove={() => edit({ type: 'remove span', section: section.id, span: span.id })}
          />
        ))}
        {place.overlay.map((span) => (
          <SpanChip
            key={`o${span.id}`}
            song={song}
            span={span}
            section={section}
            length={length}
            here
            onRemove={() => edit({ type: 'remove overlay', place: place.id, span: span.id })}
          />
        ))}
      </Box>
      <PatternMenu song={song} label="play another pattern" onChoose={playInSection} />
      <PatternMenu song={song} label="lay a fill at the end" onChoose={layFill} />
    </Box>
  );
}

/** One pattern that plays here: open it with a press, take it out with its cross. */
function SpanChip(props: {
  song: Song;
  span: Span;
  section: Section;
  length: number;
  here?: boolean;
  onRemove: () => void;
}) {
  const { song, span, section, length, here, onRemove } = props;
  const pattern = findPattern(song, span.pattern);
  const lies = placeOfSpan(span, length);
  if (!pattern) return null;
  const [first, last] = lies
    ? [lies.from, lies.to - 1].map((at) => barAt(section.meters, at).bar + 1)
    : [];
  const where = !lies
    ? 'no room for it now'
    : first === last
      ? `bar ${first}`
      : `bars ${first} to ${last}`;
  const pieces =
    span.pieces === 'all'
      ? ''
      : `, ${span.pieces.map((id) => pieceOf(id).name.toLowerCase()).join(' and ')} only`;
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: 0.75,
        border: '1px solid',
        borderStyle: here ? 'dashed' : 'solid',
        borderColor: 'var(--line)',
        pl: 0.5,
        maxWidth: 340,
      }}
    >
      <DyeSwatch dye={pattern.dye} size={16} />
      <Tooltip title={`open “${pattern.name}” in Shape`}>
        <Button
          variant="text"
          onClick={() => {
            showPattern(pattern.id);
            goToStage('shape');
          }}
          sx={{
            px: 0.5,
            fontSize: 12,
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            display: 'block',
          }}
        >
          {pattern.name} · {where}
          {pieces}
          {here && ', here only'}
        </Button>
      </Tooltip>
      <IconButton
        size="small"
        aria-label={`take out ${pattern.name}`}
        onClick={onRemove}
        sx={{ p: 0.25 }}
      >
        <CloseIcon sx={{ fontSize: 14 }} />
      </IconButton>
    </Box>
  );
}

function PatternMenu(props: { song: Song; label: string; onChoose: (pattern: string) => void }) {
  const { song, label, onChoose } = props;
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  // Fills first: they are what is looked for at the end of a section.
  const fills = label.includes('fill');
  const patterns = fills
    ? [...song.patterns].sort((a, b) => Number(b.kind === 'fill') - Number(a.kind === 'fill'))
    : song.patterns;
  return (
    <>
      <Button onClick={(event) => setAnchor(event.currentTarget)}>{label}</Button>
      <Menu open={!!anchor} anchorEl={anchor} onClose={() => setAnchor(null)}>
        {patterns.map(({ id, name, dye }) => (
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
