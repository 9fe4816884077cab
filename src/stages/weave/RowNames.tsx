import Box from '@mui/material/Box';
import { pieceOf, type PieceId, type Song } from '@/core/model';
import { stripOf, tracksOfRows } from '@/core/tracks';
import type { Cloth } from '@/core/weave';
import { PieceSign } from '@/look/Notehead';
import { keyOf } from '@/state/acts';
import { toggleMark } from '@/state/balance/balance';
import { isRowSilent, trackOfRow } from '@/state/balance/here';
import { useWorkbench } from '@/state/store';
import { chooseRow } from '@/state/weave/choosing';
import { HEADER } from './Headers';
import { LANE } from './Lane';

/** Room for the names of the rows, for the numbers of the bars, and between two rows. */
export const NAMES = 128;
export const BARS = 22;
export const GAP = 3;

/** The rows of the cloth by name, with what holds those of one track together. */
export function RowNames(props: {
  song: Song;
  woven: Cloth;
  heights: readonly number[];
  guides: boolean;
  /** Room for the line of energy; 0 where it is not seen. */
  energy: number;
}) {
  const { song, woven, heights, guides, energy } = props;
  const above = HEADER + 2 + LANE + 3 + energy;
  return (
    <Box sx={{ position: 'sticky', left: 0, zIndex: 3, bgcolor: 'var(--ground)' }}>
      <Box sx={{ height: above, pt: `${HEADER + 2}px` }}>
        {energy > 0 && (
          <Box sx={{ height: energy, display: 'flex', alignItems: 'center', fontWeight: 600 }}>
            energy
          </Box>
        )}
      </Box>
      {woven.rows.map(({ piece }, i) => (
        <RowName key={piece} song={song} piece={piece} height={heights[i]} />
      ))}
      {tracksOfRows(
        song,
        woven.rows.map(({ piece }) => piece),
      ).map(({ track, pieces }) => {
        const at = woven.rows.findIndex(({ piece }) => piece === pieces[0]);
        const sum = (upTo: number) =>
          heights.slice(0, upTo).reduce((all, height) => all + height + GAP, 0);
        return (
          pieces.length > 1 && (
            <Box
              key={pieces[0]}
              title={`the track “${track.name}”`}
              sx={{
                position: 'absolute',
                right: 8,
                width: 5,
                border: '1px solid var(--soft-ink)',
                borderLeft: 0,
                opacity: 0.7,
              }}
              style={{
                top: above + sum(at) + 3,
                height: sum(at + pieces.length) - sum(at) - GAP - 6,
              }}
            />
          )
        );
      })}
      {guides && (
        <Box sx={{ mt: `${BARS}px`, fontSize: 12, fontStyle: 'italic', color: 'text.secondary' }}>
          {song.guides.map(({ name }) => name.toLowerCase()).join(', ')}
        </Box>
      )}
    </Box>
  );
}

function RowName({ song, piece, height }: { song: Song; piece: PieceId; height: number }) {
  const chosen = useWorkbench((state) => state.row === piece);
  const { name, articulations } = pieceOf(piece, song.kit);
  const track = trackOfRow(song, piece);
  const strip = track && stripOf(song, track.id);
  const silent = isRowSilent(song, piece);
  return (
    <Box
      sx={{
        height,
        width: NAMES - 6,
        mb: `${GAP}px`,
        pr: '10px',
        display: 'flex',
        alignItems: 'center',
        borderLeft: '3px solid',
        borderLeftColor: chosen ? 'var(--accent)' : 'transparent',
        '& .mark': { display: 'none' },
        '&:hover .mark, & .mark[aria-pressed=true]': { display: 'block' },
        ...(chosen && { '& .mark': { display: 'block' } }),
      }}
    >
      <Box
        component="button"
        type="button"
        aria-pressed={chosen}
        title={`choose the ${name.toLowerCase()} (${keyOf('choose-row-below')})`}
        onClick={() => chooseRow(chosen ? undefined : piece)}
        sx={{
          ...BARE,
          flex: 1,
          minWidth: 0,
          height: '100%',
          pl: 0.5,
          display: 'flex',
          alignItems: 'center',
          gap: 1,
          textAlign: 'left',
          opacity: silent ? 0.5 : 1,
        }}
      >
        <PieceSign head={articulations[0].head} size={12} />
        <Box
          component="span"
          sx={{
            whiteSpace: 'nowrap',
            overflow: 'hidden',
            textOverflow: 'ellipsis',
            lineHeight: 1.1,
          }}
        >
          {name}
        </Box>
      </Box>
      {track &&
        strip &&
        (['mute', 'solo'] as const).map((mark) => (
          <Box
            key={mark}
            component="button"
            type="button"
            className="mark"
            aria-pressed={strip[mark] === true}
            aria-label={`${mark} the track ${track.name}`}
            title={`${mark} the track “${track.name}” (${keyOf(`${mark}-here`)})`}
            onClick={() => toggleMark(mark, track.id)}
            sx={{
              ...BARE,
              flex: 'none',
              width: 16,
              height: 18,
              fontSize: 12,
              borderRadius: '3px',
              color: 'text.secondary',
              '&[aria-pressed=true]': {
                color: 'var(--on-accent)',
                bgcolor: 'var(--accent)',
                fontWeight: 650,
              },
            }}
          >
            {mark[0]}
          </Box>
        ))}
    </Box>
  );
}

const BARE = {
  p: 0,
  border: 0,
  background: 'none',
  color: 'inherit',
  font: 'inherit',
  cursor: 'pointer',
} as const;
