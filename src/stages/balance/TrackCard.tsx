'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import Typography from '@mui/material/Typography';
import {
  DEFAULT_KIT,
  layoutOf,
  MOST_OUTPUTS,
  roomOf,
  type KitPiece,
  type Track,
} from '@/core/model';
import {
  decibelsOf,
  levelOf,
  partName,
  partsOf,
  saidLevel,
  saidPan,
  stripOf,
  type TrackPart,
} from '@/core/tracks';
import { ChoiceField } from '@/look/ChoiceField';
import { EditableText } from '@/look/EditableText';
import { AS_PAN, IN_PERCENT } from '@/look/TypedValue';
import { keyOf } from '@/state/acts';
import * as balance from '@/state/balance/balance';
import * as chain from '@/state/balance/chain';
import * as pieces from '@/state/balance/pieces';
import { useWorkbench } from '@/state/store';
import { readingOfTrack } from '@/state/transport/transport';
import { Card } from './Card';
import { ChainParts, percent } from './ChainParts';
import { Dial } from './Dial';
import { PieceSound } from './PieceSound';
import { Presets } from './Presets';
import { Sections } from './Sections';

/** The chosen track: what is on it, how each piece of it is heard, and where a section has it otherwise. */
export function TrackCard({ track }: { track: Track }) {
  const song = useWorkbench((state) => state.history!.song);
  const layout = layoutOf(song);
  const parts = partsOf(layout, song.kit).get(track.id) ?? [];
  const strip = stripOf(song, track.id);
  const number = layout.tracks.findIndex(({ id }) => id === track.id);
  return (
    <Card label={`track ${track.name}`}>
      <Box sx={{ display: 'flex', alignItems: 'center', gap: 1, minWidth: 0 }}>
        <EditableText
          value={track.name}
          label="track"
          onChange={(name) => balance.renameTrack(track.id, name)}
          sx={{ fontSize: 16, fontWeight: 600, flex: 1, minWidth: 0 }}
        />
        <Button
          title={`reset its mix (${keyOf('reset-track')})`}
          onClick={balance.resetTrack}
          sx={{ flexShrink: 0 }}
        >
          reset
        </Button>
      </Box>
      <ChainParts
        track={track.id}
        name={track.name}
        reduction={() => readingOfTrack(number)?.reduction ?? 0}
      />
      <Dial
        label="parallel, dry"
        name={`how much of ${track.name} goes dry beside the drum bus`}
        value={strip.dry ?? 0}
        usual={0}
        typed={IN_PERCENT}
        min={0}
        max={1}
        step={0.02}
        says={percent}
        onSlide={(dry) => chain.slideDry(track.id, dry)}
      />
      <Box sx={{ display: 'flex', gap: 1, alignItems: 'center' }}>
        <Output track={track.id} output={strip.output ?? 1} />
        <ToggleButton
          value="flip"
          size="small"
          selected={strip.flip === true}
          onClick={chain.flipTrack}
          title={`invert the polarity (${keyOf('flip-track')})`}
          sx={{ textTransform: 'none', whiteSpace: 'nowrap' }}
        >
          invert polarity
        </ToggleButton>
      </Box>
      {parts.map((part) => (
        <Part key={`${part.piece} ${part.articulation}`} part={part} alone={parts.length === 1} />
      ))}
      {parts.length === 0 && (
        <Typography sx={{ color: 'text.secondary' }}>
          Notes that no piece of the kit has are on this track.
        </Typography>
      )}
      <Sections track={track} />
      <Presets track={track.id} />
    </Card>
  );
}

/** Which pair of outputs the track goes out on. */
function Output({ track, output }: { track: string; output: number }) {
  const pairs = useWorkbench((state) => state.outputs);
  return (
    <ChoiceField
      label="output"
      value={String(output)}
      width={120}
      options={Array.from({ length: MOST_OUTPUTS }, (_, i) => {
        const name = `${2 * i + 1} and ${2 * i + 2}`;
        return [String(i + 1), i < pairs ? name : `${name}, not here`] as const;
      })}
      onChange={(to) => balance.setOutput(track, Number(to))}
    />
  );
}

/** A piece of the kit that is on the track. */
function Part({ part, alone }: { part: TrackPart; alone: boolean }) {
  const kit = useWorkbench((state) => state.history!.song.kit);
  const piece = kit.pieces.find(({ id }) => id === part.piece) as KitPiece;
  const name = partName(part, kit);
  const open = useWorkbench(({ openedPiece }) => openedPiece === part.piece);
  const usual = DEFAULT_KIT.pieces.find(({ id }) => id === piece.id);
  const slide = (change: Parameters<typeof pieces.slidePiece>[1]) =>
    pieces.slidePiece(piece, change);
  return (
    <Box sx={{ display: 'grid', gap: 0.25, borderTop: '1px solid var(--line)', pt: 1 }}>
      <Box sx={{ display: 'flex', alignItems: 'center', minHeight: 30 }}>
        <Box sx={{ flex: 1, minWidth: 0, fontWeight: 500, overflowWrap: 'anywhere' }}>{name}</Box>
        <Button
          aria-expanded={open}
          title={`how its sound is made (${keyOf('open-piece')})`}
          onClick={() => pieces.openPiece(piece.id)}
        >
          {open ? 'less' : 'sound'}
        </Button>
        {!alone && (
          <Button
            title={`give it its own track (${keyOf('own-track')})`}
            onClick={() => balance.putAlone(part)}
          >
            own track
          </Button>
        )}
      </Box>
      <Dial
        label="level"
        name={`${name}: level in the kit`}
        value={decibelsOf(piece.level)}
        usual={decibelsOf(usual?.level ?? 1)}
        min={-24}
        max={12}
        step={0.5}
        says={(db) => saidLevel(levelOf(db))}
        onSlide={(db) => slide({ level: levelOf(db) })}
      />
      <Dial
        label="pan"
        name={`${name}: pan`}
        value={piece.pan}
        usual={usual?.pan ?? 0}
        typed={AS_PAN}
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
        usual={roomOf(usual ?? piece)}
        typed={IN_PERCENT}
        min={0}
        max={1}
        step={0.02}
        says={percent}
        onSlide={(room) => slide({ room })}
      />
      {open && <PieceSound piece={piece} />}
    </Box>
  );
}
