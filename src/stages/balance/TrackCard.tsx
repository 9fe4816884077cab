'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import Typography from '@mui/material/Typography';
import { roomOf, type KitPiece, type Track } from '@/core/model';
import {
  decibelsOf,
  layoutOf,
  levelOf,
  LOUDEST,
  OFF,
  partName,
  partsOf,
  saidLevel,
  saidPan,
  sectionStripOf,
  stripOf,
  type TrackPart,
} from '@/core/tracks';
import { ChoiceField } from '@/look/ChoiceField';
import { EditableText } from '@/look/EditableText';
import { keyOf } from '@/state/acts';
import * as balance from '@/state/balance/balance';
import { useWorkbench } from '@/state/store';
import { Dial } from './Dial';
import { ToneCurve } from './ToneCurve';

/** The chosen track: what is on it, how each piece of it is heard, and where a section has it otherwise. */
export function TrackCard({ track }: { track: Track }) {
  const song = useWorkbench((state) => state.history!.song);
  const parts = partsOf(layoutOf(song), song.kit).get(track.id) ?? [];
  return (
    <Box
      component="section"
      aria-label={`track ${track.name}`}
      sx={{
        gridArea: 'card',
        minHeight: 0,
        overflowY: 'auto',
        p: 2,
        display: 'grid',
        alignContent: 'start',
        gridTemplateColumns: 'minmax(0, 1fr)',
        gap: 1.5,
        bgcolor: 'var(--panel)',
        borderLeft: '1px solid var(--line)',
      }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minWidth: 0 }}>
        <EditableText
          value={track.name}
          label="track"
          onChange={(name) => balance.renameTrack(track.id, name)}
          sx={{ fontSize: 16, fontWeight: 600, flex: 1, minWidth: 0 }}
        />
        <Button
          title={`mix it as at first (${keyOf('reset-track')})`}
          onClick={balance.resetTrack}
          sx={{ flexShrink: 0 }}
        >
          as at first
        </Button>
      </Box>
      <ToneCurve track={track} />
      {parts.map((part) => (
        <Part key={`${part.piece} ${part.articulation}`} part={part} alone={parts.length === 1} />
      ))}
      {parts.length === 0 && (
        <Typography sx={{ color: 'text.secondary' }}>
          Notes that no piece of the kit has are on this track.
        </Typography>
      )}
      <Sections track={track} />
    </Box>
  );
}

/** A piece of the kit that is on the track. */
function Part({ part, alone }: { part: TrackPart; alone: boolean }) {
  const kit = useWorkbench((state) => state.history!.song.kit);
  const piece = kit.pieces.find(({ id }) => id === part.piece) as KitPiece;
  const name = partName(part, kit);
  const slide = (change: Parameters<typeof balance.slidePiece>[1]) =>
    balance.slidePiece(piece.id, change);
  return (
    <Box sx={{ display: 'grid', gap: 0.25, borderTop: '1px solid var(--line)', pt: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', minHeight: 30 }}>
        <Box sx={{ flex: 1, minWidth: 0, fontWeight: 500 }}>{name}</Box>
        {!alone && (
          <Button
            title={`put it on a track of its own (${keyOf('own-track')})`}
            onClick={() => balance.putAlone(part)}
          >
            on its own
          </Button>
        )}
      </Box>
      <Dial
        label="level"
        name={`${name}: level in the kit`}
        value={decibelsOf(piece.level)}
        min={-24}
        max={12}
        step={0.5}
        says={(db) => saidLevel(levelOf(db))}
        onSlide={(db) => slide({ level: levelOf(db) })}
      />
      <Dial
        label="stands"
        name={`${name}: where it stands`}
        value={piece.pan}
        min={-1}
        max={1}
        step={0.05}
        says={saidPan}
        onSlide={(pan) => slide({ pan })}
      />
      <Dial
        label="in the room"
        name={`${name}: how much the room hears`}
        value={roomOf(piece)}
        min={0}
        max={1}
        step={0.02}
        says={(room) => `${Math.round(room * 100)} %`}
        onSlide={(room) => slide({ room })}
      />
    </Box>
  );
}

/** So many sections are listed at once. */
const FEW = 12;

/** Levels that the track has in one section only. */
function Sections({ track }: { track: Track }) {
  const song = useWorkbench((state) => state.history!.song);
  const everywhere = stripOf(song, track.id).level;
  if (song.sections.length === 0) return null;
  const used = new Set(song.places.map(({ section }) => section));
  const all = song.sections.filter(({ id }) => used.has(id));
  // Of a long form, those are listed that have a level of their own; others are chosen.
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
          onChange={(id) => balance.setInSection(id, track.id, everywhere)}
        />
      )}
      {shown.map((section) => {
        const own = sectionStripOf(song, section.id, track.id)?.level;
        return (
          <Box
            key={section.id}
            data-section-level={section.id}
            sx={{
              display: 'grid',
              gridTemplateColumns: '84px minmax(0, 1fr) 58px',
              alignItems: 'center',
              columnGap: 1.25,
              fontSize: 13,
              color: own === undefined ? 'text.secondary' : 'text.primary',
            }}
          >
            <Box
              component="span"
              sx={{ overflow: 'hidden', textOverflow: 'ellipsis', whiteSpace: 'nowrap' }}
            >
              {section.name}
            </Box>
            <Slider
              aria-label={`level of ${track.name} in ${section.name}`}
              value={decibelsOf(own ?? everywhere)}
              min={OFF}
              max={LOUDEST}
              step={0.5}
              getAriaValueText={(db) => saidLevel(levelOf(db))}
              onChange={(_, db) => balance.slideInSection(section.id, track.id, db)}
              onChangeCommitted={balance.slideDone}
              sx={{ opacity: own === undefined ? 0.45 : 1 }}
            />
            {own === undefined ? (
              <Box className="figures" sx={{ textAlign: 'right' }}>
                as all
              </Box>
            ) : (
              <Button
                title="as everywhere again"
                onClick={() => balance.setInSection(section.id, track.id, undefined)}
                sx={{ minWidth: 0, px: 0.5, fontSize: 12, fontFamily: 'var(--figures)' }}
              >
                {saidLevel(own)}
              </Button>
            )}
          </Box>
        );
      })}
    </Box>
  );
}
