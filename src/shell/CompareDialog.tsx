'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useEffect, useMemo } from 'react';
import { spokenPiece } from '@/core/model';
import { compareSongs, type ComparedPattern, type ComparedPlace } from '@/core/weave';
import { WhileOpen } from '@/look/WhileOpen';
import { closeDialog } from '@/state/dialogs/dialogs';
import {
  bringBackAll,
  bringBackPattern,
  bringBackPlace,
  hearPlace,
  leaveBeside,
  usePoints,
} from '@/state/session/savePoints';
import { useWorkbench } from '@/state/store';
import { Picture } from './SavePointsDialog';

/** What the two are called, and what taking something from the other one is. */
const WORDS = {
  then: { here: 'now', there: 'then', take: 'bring back', all: 'bring all of it back' },
  theirs: { here: 'here', there: 'theirs', take: 'take over', all: 'take all of it over' },
} as const;

const useWords = () => WORDS[usePoints((state) => state.other?.whose) ?? 'then'];

/** Two states of a song beside each other, or two songs: what differs, heard and brought back. */
export function CompareDialog() {
  const open = useWorkbench((state) => state.dialog === 'compare');
  return (
    <WhileOpen
      open={open}
      onClose={closeDialog}
      maxWidth="lg"
      fullWidth
      aria-labelledby="compare-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const song = useWorkbench((state) => state.history!.song);
  const other = usePoints((state) => state.other);
  const words = useWords();
  const found = useMemo(() => other && compareSongs(song, other.song), [song, other]);
  useEffect(() => leaveBeside, []);
  if (!other || !found) return null;
  const { places, patterns, same, order } = found;
  const alike = places.length === 0 && patterns.length === 0 && !order;
  return (
    <>
      <DialogTitle id="compare-title" sx={{ overflowWrap: 'anywhere' }}>
        “{song.name}” {words.here}, and “{other.name}”
      </DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <Box
          sx={{
            display: 'grid',
            gridTemplateColumns: '64px minmax(0, 1fr)',
            gap: 1,
            alignItems: 'center',
            fontSize: 12,
          }}
        >
          <span>{words.here}</span>
          <Picture song={song} height={48} />
          <span>{words.there}</span>
          <Picture song={other.song} height={48} />
        </Box>
        <Box aria-live="polite" sx={{ color: 'text.secondary', fontSize: 13 }}>
          {alike
            ? 'Nothing differs.'
            : `${same === 1 ? '1 place is' : `${same} places are`} the same, ${places.length === 1 ? '1 is' : `${places.length} are`} not${order ? '; their order is another' : ''}.`}
        </Box>
        <Box
          component="ul"
          aria-label="what differs"
          sx={{ listStyle: 'none', m: 0, p: 0, maxHeight: 340, overflowY: 'auto' }}
        >
          {places.map((place) => (
            <PlaceLine key={(place.here ?? place.there)!.place.id} place={place} />
          ))}
          {patterns.map((pattern) => (
            <PatternLine key={(pattern.here ?? pattern.there)!.id} pattern={pattern} />
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={closeDialog}>close</Button>
        <Button variant="contained" disabled={alike} onClick={() => void bringBackAll()}>
          {words.all}
        </Button>
      </DialogActions>
    </>
  );
}

const line = {
  display: 'grid',
  gridTemplateColumns: '150px minmax(0, 1fr) auto',
  gap: 1.5,
  alignItems: 'center',
  py: 0.5,
  borderBottom: '1px solid var(--fine-line)',
} as const;

function PlaceLine({ place }: { place: ComparedPlace }) {
  const words = useWords();
  const { kit } = useWorkbench((state) => state.history!.song);
  const { name, here, there, pieces, frame } = place;
  const says =
    here && there
      ? [
          frame &&
            (here.section.bars === there.section.bars
              ? 'other meter or tempo'
              : `${here.section.bars} bars ${words.here}, ${there.section.bars} ${words.there}`),
          ...pieces.map(
            ({ piece, bars }) =>
              `${spokenPiece(piece, kit)} in ${bars === 1 ? '1 bar' : `${bars} bars`}`,
          ),
        ]
          .filter(Boolean)
          .join(', ')
      : here
        ? `only ${words.here}`
        : `only ${words.there}`;
  return (
    <Box component="li" sx={line}>
      <b>{name}</b>
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>{says}</Box>
      <Box sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap', justifyContent: 'end' }}>
        {here && (
          <Button variant="text" onClick={() => hearPlace('here', here.place.id)}>
            hear {words.here}
          </Button>
        )}
        {there && (
          <>
            <Button variant="text" onClick={() => hearPlace('there', there.place.id)}>
              hear {words.there}
            </Button>
            {here &&
              !frame &&
              pieces.length > 1 &&
              pieces.slice(0, 3).map(({ piece }) => (
                <Button
                  key={piece}
                  variant="text"
                  aria-label={`${words.take} only the ${spokenPiece(piece, kit)} of ${name}`}
                  onClick={() => bringBackPlace(there.place.id, piece)}
                >
                  only the {spokenPiece(piece, kit)}
                </Button>
              ))}
            <Button
              aria-label={`${words.take} ${name}`}
              onClick={() => bringBackPlace(there.place.id)}
            >
              {words.take}
            </Button>
          </>
        )}
      </Box>
    </Box>
  );
}

function PatternLine({ pattern }: { pattern: ComparedPattern }) {
  const words = useWords();
  const { kit } = useWorkbench((state) => state.history!.song);
  const { name, here, there } = pattern;
  const pieces =
    here && there
      ? there.strands
          .filter(({ piece, hits }) => {
            const mine = here.strands.find((strand) => strand.piece === piece)?.hits ?? [];
            return JSON.stringify(mine) !== JSON.stringify(hits);
          })
          .map(({ piece }) => piece)
      : [];
  const canPieces = here?.length === there?.length && pieces.length > 0;
  return (
    <Box component="li" sx={line}>
      <Box>“{name}”</Box>
      <Box sx={{ fontSize: 13, color: 'text.secondary' }}>
        {here && there
          ? 'the pattern is another'
          : here
            ? `pattern, only ${words.here}`
            : `pattern, only ${words.there}`}
      </Box>
      {there && (
        <Box sx={{ display: 'flex', gap: 0.75, flexWrap: 'wrap', justifyContent: 'end' }}>
          {canPieces &&
            pieces.slice(0, 4).map((piece) => (
              <Button key={piece} variant="text" onClick={() => bringBackPattern(there.id, piece)}>
                only the {spokenPiece(piece, kit)}
              </Button>
            ))}
          <Button
            aria-label={`${words.take} the pattern ${name}`}
            onClick={() => bringBackPattern(there.id)}
          >
            {words.take}
          </Button>
        </Box>
      )}
    </Box>
  );
}
