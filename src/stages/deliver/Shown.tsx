'use client';

import Box from '@mui/material/Box';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import {
  csvOfSong,
  mapsFor,
  midiOptions,
  songOfFile,
  tabOfSong,
  type Delivery,
  type PlannedFile,
} from '@/core/deliver';
import { contentsOf, type Contents } from '@/core/midi';
import { layoutOf, pieceOf, trackOfHit, type Song } from '@/core/model';
import { meterName } from '@/core/time';
import { bpmAt, cloth, laidPlaces } from '@/core/weave';
import { CHANNEL_CHOICES } from '@/look/channelChoices';
import { ChoiceField } from '@/look/ChoiceField';
import { ClothCanvas } from '@/look/ClothCanvas';
import { Waveform } from '@/look/Waveform';
import * as wishes from '@/state/deliver/wishes';
import { useWorkbench } from '@/state/store';
import { ChartPages } from './ChartPages';

interface ShownProps {
  song: Song;
  file: PlannedFile;
  delivery: Delivery;
}

/** What a file holds. */
export function Shown({ song, file, delivery }: ShownProps) {
  return (
    <Box
      component="section"
      aria-label="what the file holds"
      sx={{
        display: 'grid',
        gap: 1.5,
        alignContent: 'start',
        gridTemplateColumns: 'minmax(0, 1fr)',
      }}
    >
      <Typography variant="h3" sx={{ overflowWrap: 'anywhere' }}>
        {file.path}
      </Typography>
      <Held song={song} file={file} delivery={delivery} />
    </Box>
  );
}

function Held({ song, file, delivery }: ShownProps) {
  const own = file.part.song;
  switch (file.ending) {
    case 'mid': {
      const options = midiOptions(song, delivery.midi, file.part);
      const contents = contentsOf(songOfFile(song, file.part), options);
      return (
        <>
          <Facts contents={contents} song={own} />
          <Picture song={own} />
          <Tracks contents={contents} song={song} delivery={delivery} />
        </>
      );
    }
    case 'wav':
    case 'flac':
    case 'mp3':
      return <Sound file={file} />;
    case 'txt':
      return <Text text={tabOfSong(own).text} />;
    case 'csv':
      return <Text text={csvOfSong(own)} />;
    default:
      return <ChartPages song={own} file={file} delivery={delivery} />;
  }
}

function Facts({ contents, song }: { contents: Contents; song: Song }) {
  const { hits, bars, meters, tempos, markers } = contents;
  const changes = tempos > 1 ? ` and ${tempos - 1} more tempo changes` : '';
  const facts = [
    hits > 0 && `${hits.toLocaleString('en')} hits`,
    bars > 0 && `${Math.round(bars * 100) / 100} bars`,
    meters.map(meterName).join(', '),
    `${Math.round(bpmAt(song, 0) * 100) / 100} bpm${changes}`,
    markers.length > 0 && `markers: ${markers.join(', ')}`,
  ];
  return (
    <Typography className="figures" sx={{ fontSize: 14, overflowWrap: 'anywhere' }}>
      {facts.filter(Boolean).join(' · ')}
    </Typography>
  );
}

const ROW = 14;

/** The cloth of what is written, a row a piece; of one track, its own rows. */
function Picture({ song, track }: { song: Song; track?: string }) {
  const woven = cloth(song);
  const layout = layoutOf(song);
  const rows = woven.rows.filter(
    ({ hits, piece }) =>
      hits.length > 0 &&
      (track === undefined || trackOfHit(layout, song.kit, { piece, articulation: '' }) === track),
  );
  if (rows.length === 0) return null;
  const heights = rows.map(() => ROW);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '96px minmax(0, 1fr)', gap: 1 }}>
      <Box>
        {rows.map(({ piece }) => (
          <Box
            key={piece}
            sx={{
              height: ROW + 2,
              fontSize: 12,
              lineHeight: `${ROW}px`,
              whiteSpace: 'nowrap',
              overflow: 'hidden',
              textOverflow: 'ellipsis',
            }}
          >
            {pieceOf(piece, song.kit).name}
          </Box>
        ))}
      </Box>
      <ClothCanvas
        cloth={{ ...woven, rows }}
        rowHeights={heights}
        gap={2}
        joins={laidPlaces(song).map(({ start }) => start)}
        label="where it is struck, and from which patterns"
      />
    </Box>
  );
}

/** The tracks of a MIDI file; those of a layout can have a channel and a note map of their own. */
function Tracks({ contents, song, delivery }: Omit<ShownProps, 'file'> & { contents: Contents }) {
  const { byTrack } = delivery.midi;
  const own = delivery.midi.tracks === 'present';
  const maps = mapsFor(song).map(({ name }) => name);
  return (
    <Table size="small" sx={{ '& td, & th': { px: 0.75 } }}>
      <TableHead>
        <TableRow>
          <TableCell>track</TableCell>
          <TableCell>notes</TableCell>
          <TableCell align={own ? 'left' : 'right'}>channel</TableCell>
          {own && <TableCell>note map</TableCell>}
          <TableCell align="right">hits</TableCell>
        </TableRow>
      </TableHead>
      <TableBody>
        {contents.tracks.map(({ id, name, guide, notes, channels, hits }, i, all) => {
          const wished = (id !== undefined && byTrack[id]) || {};
          const said = channels.map((c) => c + 1).join(', ');
          // Strokes that overlap are written as a second track: the wishes of the first hold for it too.
          const takesWishes =
            own && id !== undefined && all.findIndex((one) => one.id === id) === i;
          return (
            <TableRow key={`${i} ${name}`}>
              <TableCell>
                {name}
                {guide && ' (reference part)'}
              </TableCell>
              <TableCell className="figures">{notes.join(', ')}</TableCell>
              <TableCell align={own ? 'left' : 'right'}>
                {takesWishes ? (
                  <ChoiceField
                    label=""
                    name={`channel of ${name}`}
                    width={88}
                    value={String(wished.channel ?? '')}
                    options={[
                      ['', wished.channel === undefined ? said : 'as struck'],
                      ...CHANNEL_CHOICES,
                    ]}
                    onChange={(value) =>
                      wishes.wishTrack(id, { channel: value === '' ? undefined : Number(value) })
                    }
                  />
                ) : (
                  said
                )}
              </TableCell>
              {own && (
                <TableCell>
                  {takesWishes && (
                    <ChoiceField
                      label=""
                      name={`note map of ${name}`}
                      width={136}
                      value={wished.map ?? maps[0]}
                      options={maps.map((map) => [map, map])}
                      onChange={(map) =>
                        wishes.wishTrack(id, { map: map === maps[0] ? undefined : map })
                      }
                    />
                  )}
                </TableCell>
              )}
              <TableCell align="right">{hits.toLocaleString('en')}</TableCell>
            </TableRow>
          );
        })}
      </TableBody>
    </Table>
  );
}

const NO_STRETCHES: readonly never[] = [];
const nothing = () => {};

/** A file of sound: where it is struck, and its waveform once it was listened to. */
function Sound({ file }: { file: PlannedFile }) {
  const over = useWorkbench((state) => state.handedOver);
  const foretold = useWorkbench((state) => state.foretold);
  const { path } = file;
  const heard = over?.find((one) => one.path === path) ?? foretold.get(path);
  const audio = file.audio!;
  return (
    <>
      {heard?.outline ? (
        <Waveform
          label="its waveform"
          outline={heard.outline}
          seconds={audio.seconds}
          height={120}
          stretches={NO_STRETCHES}
          onMove={nothing}
        />
      ) : (
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          Its waveform and its peak are here in a moment, once it was listened to.
        </Typography>
      )}
      <Picture song={audio.song} track={audio.track} />
    </>
  );
}

function Text({ text }: { text: string }) {
  return (
    <Box
      component="pre"
      tabIndex={0}
      aria-label="its text"
      sx={{
        m: 0,
        p: 1.5,
        overflow: 'auto',
        bgcolor: 'var(--paper)',
        fontFamily: 'ui-monospace, "DejaVu Sans Mono", Menlo, Consolas, monospace',
        fontSize: 12,
        lineHeight: 1.35,
      }}
    >
      {text.length > MOST_SHOWN ? `${text.slice(0, MOST_SHOWN)}\n…` : text}
    </Box>
  );
}

/** More letters than anyone reads here. */
const MOST_SHOWN = 60_000;
