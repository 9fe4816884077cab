'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import Slider from '@mui/material/Slider';
import { useState } from 'react';
import type { SectionStrip, Track } from '@/core/model';
import {
  decibelsOf,
  levelOf,
  LOUDEST,
  mixOf,
  OFF,
  saidLevel,
  saidPan,
  sectionStripOf,
  stripOf,
} from '@/core/tracks';
import { ChoiceField } from '@/look/ChoiceField';
import * as balance from '@/state/balance/balance';
import { useWorkbench } from '@/state/store';
import { percent } from './ChainParts';
import { Dial } from './Dial';

/** So many sections are listed at once. */
const FEW = 12;

/** What the track has in one section only. */
export function Sections({ track }: { track: Track }) {
  const song = useWorkbench((state) => state.history!.song);
  const [opened, setOpened] = useState<string>();
  const everywhere = stripOf(song, track.id).level;
  if (song.sections.length === 0) return null;
  const used = new Set(song.places.map(({ section }) => section));
  const all = song.sections.filter(({ id }) => used.has(id));
  // Of a long form, those are listed that have it otherwise; others are chosen.
  const long = all.length > FEW;
  const shown = long ? all.filter(({ id }) => sectionStripOf(song, id, track.id)) : all;
  return (
    <Box sx={{ display: 'grid', gap: 0.25, borderTop: '1px solid var(--line)', pt: 1 }}>
      <Box sx={{ fontWeight: 500 }}>in one section only</Box>
      {long && (
        <ChoiceField
          label="another section"
          value=""
          options={all
            .filter((section) => !shown.includes(section))
            .map(({ id, name }) => [id, name])}
          onChange={(id) => balance.setInSection(id, track.id, { level: everywhere })}
        />
      )}
      {shown.map((section) => (
        <Box key={section.id} data-section-level={section.id}>
          <Row
            track={track}
            section={section}
            open={opened === section.id}
            onOpen={() => setOpened(opened === section.id ? undefined : section.id)}
          />
          {opened === section.id && <More track={track} section={section.id} />}
        </Box>
      ))}
    </Box>
  );
}

interface RowProps {
  track: Track;
  section: { id: string; name: string };
  open: boolean;
  onOpen(): void;
}

/** The level in a section. */
function Row({ track, section, open, onOpen }: RowProps) {
  const song = useWorkbench((state) => state.history!.song);
  const own = sectionStripOf(song, section.id, track.id);
  const level = own?.level;
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '84px minmax(0, 1fr) 58px',
        alignItems: 'center',
        columnGap: 1.25,
        fontSize: 13,
        color: own === undefined ? 'text.secondary' : 'text.primary',
      }}
    >
      <ButtonBase
        aria-expanded={open}
        title="pan, sends, silence and how long it takes"
        onClick={onOpen}
        sx={{ justifyContent: 'start', font: 'inherit', minHeight: 28, minWidth: 0 }}
      >
        <Box
          component="span"
          sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
        >
          {section.name}
        </Box>
      </ButtonBase>
      <Slider
        aria-label={`level of ${track.name} in ${section.name}`}
        value={decibelsOf(level ?? stripOf(song, track.id).level)}
        min={OFF}
        max={LOUDEST}
        step={0.5}
        getAriaValueText={(db) => saidLevel(levelOf(db))}
        onChange={(_, db) => balance.slideInSection(section.id, track.id, { level: levelOf(db) })}
        onChangeCommitted={balance.slideDone}
        sx={{ opacity: level === undefined ? 0.45 : 1 }}
      />
      {own === undefined ? (
        <Box className="figures" sx={{ textAlign: 'right' }}>
          as all
        </Box>
      ) : (
        <Button
          title="as everywhere again"
          onClick={() => balance.asEverywhere(section.id, track.id)}
          sx={{ minWidth: 0, px: 0.5, fontSize: 12, fontFamily: 'var(--figures)' }}
        >
          {own.mute ? 'silent' : level === undefined ? 'own' : saidLevel(level)}
        </Button>
      )}
    </Box>
  );
}

/** All else that a section can have otherwise. */
function More({ track, section }: { track: Track; section: string }) {
  const song = useWorkbench((state) => state.history!.song);
  const strip = stripOf(song, track.id);
  const own: Partial<SectionStrip> = sectionStripOf(song, section, track.id) ?? {};
  const slide = (change: balance.SectionChange) =>
    balance.slideInSection(section, track.id, change);
  const shareOf = (bus: string) =>
    (own.sends ?? strip.sends).find((send) => send.bus === bus)?.level ?? 0;
  return (
    <Box sx={{ pl: 1.5, pb: 1, borderLeft: '2px solid var(--line)' }}>
      <Dial
        label="pan"
        name={`pan of ${track.name} here`}
        value={own.pan ?? strip.pan}
        min={-1}
        max={1}
        step={0.05}
        says={saidPan}
        onSlide={(pan) => slide({ pan })}
      />
      {mixOf(song).buses.map(({ id, name }) => (
        <Dial
          key={id}
          label={name}
          name={`${name} of ${track.name} here`}
          value={shareOf(id)}
          min={0}
          max={1}
          step={0.02}
          says={percent}
          onSlide={(level) =>
            slide({
              sends: [...(own.sends ?? []).filter(({ bus }) => bus !== id), { bus: id, level }],
            })
          }
        />
      ))}
      <Dial
        label="gets there in"
        name="beats until it is there"
        value={own.ramp ?? 0}
        min={0}
        max={32}
        step={1}
        says={(beats) => (beats === 0 ? 'at once' : beats === 1 ? '1 beat' : `${beats} beats`)}
        onSlide={(ramp) => slide({ ramp })}
      />
      <Button
        onClick={() =>
          balance.setInSection(section, track.id, { mute: own.mute ? undefined : true })
        }
        aria-pressed={own.mute === true}
      >
        {own.mute ? 'let it be heard here' : 'silent here'}
      </Button>
    </Box>
  );
}
