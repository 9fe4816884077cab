'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ButtonBase from '@mui/material/ButtonBase';
import CloseIcon from '@mui/icons-material/Close';
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
import { Fader } from '@/look/Fader';
import { AS_PAN, IN_PERCENT, TypedValue } from '@/look/TypedValue';
import * as balance from '@/state/balance/balance';
import { cancelGesture } from '@/state/session/edit';
import { useWorkbench } from '@/state/store';
import { percent } from './ChainParts';
import { Dial } from './Dial';
import { LEVEL_LINE } from './Level';

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
  const name = `level of ${track.name} in ${section.name}`;
  const decibels = decibelsOf(level ?? stripOf(song, track.id).level);
  const saysLevel = (db: number) => saidLevel(levelOf(db));
  const slide = (db: number) =>
    balance.slideInSection(section.id, track.id, { level: levelOf(db) });
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: '80px minmax(0, 1fr) 52px 16px',
        alignItems: 'center',
        columnGap: 1,
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
      <Box sx={{ opacity: level === undefined ? 0.45 : 1 }}>
        <Fader
          name={name}
          value={decibels}
          {...LEVEL_LINE}
          usual={decibelsOf(stripOf(song, track.id).level)}
          says={saysLevel}
          onSlide={slide}
          onDone={balance.slideDone}
          onCancel={cancelGesture}
        />
      </Box>
      {own?.mute ? (
        <Box sx={{ textAlign: 'right' }}>silent</Box>
      ) : (
        <TypedValue
          name={name}
          value={decibels}
          min={OFF}
          max={LOUDEST}
          says={() =>
            own === undefined ? 'as all' : level === undefined ? 'own' : saidLevel(level)
          }
          onType={(db) => {
            slide(db);
            balance.slideDone();
          }}
        />
      )}
      {own !== undefined && (
        <ButtonBase
          aria-label={`${track.name} in ${section.name} as everywhere again`}
          title="reset"
          onClick={() => balance.asEverywhere(section.id, track.id)}
          sx={{ minHeight: 24 }}
        >
          <CloseIcon sx={{ fontSize: 14 }} />
        </ButtonBase>
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
        usual={strip.pan}
        typed={AS_PAN}
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
          usual={strip.sends.find((send) => send.bus === id)?.level ?? 0}
          typed={IN_PERCENT}
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
        usual={0}
        says={(beats) => (beats === 0 ? 'at once' : beats === 1 ? '1 beat' : `${beats} beats`)}
        onSlide={(ramp) => slide({ ramp })}
      />
      <Button
        onClick={() =>
          balance.setInSection(section, track.id, { mute: own.mute ? undefined : true })
        }
        aria-pressed={own.mute === true}
      >
        {own.mute ? 'unmute here' : 'mute here'}
      </Button>
    </Box>
  );
}
