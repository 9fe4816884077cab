'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { WhileOpen } from '@/look/WhileOpen';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import FormControlLabel from '@mui/material/FormControlLabel';
import LinearProgress from '@mui/material/LinearProgress';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { DrumSource, ImportReport } from '@/core';
import { NOTE_MAPS, type NoteMapId } from '@/core/midi';
import { ChoiceField } from '@/look/ChoiceField';
import {
  askOfIncoming,
  dropIncoming,
  takeAsPatterns,
  takeAsSong,
  toggleIncomingGuide,
} from '@/state/session/files';
import { goToSong } from '@/state/routes';
import { useWorkbench, type Incoming } from '@/state/store';

/** What a file holds and what will become of it, before anything is changed. */
export function ImportDialog() {
  const incoming = useWorkbench((state) => state.incoming);
  return (
    <WhileOpen
      open={!!incoming}
      onClose={dropIncoming}
      maxWidth="sm"
      fullWidth
      aria-labelledby="import-title"
    >
      {incoming && <ImportBody incoming={incoming} />}
    </WhileOpen>
  );
}

function ImportBody({ incoming }: { incoming: Incoming }) {
  const { name, reading, report, song } = incoming;
  const inSong = useWorkbench((state) => state.status === 'ready' && !state.readOnly);
  const asSong = async () => {
    const id = await takeAsSong();
    if (id) goToSong(id, 'weave');
  };
  return (
    <>
      <DialogTitle id="import-title" sx={{ overflowWrap: 'anywhere' }}>
        {report?.error && !song && report.sources.length === 0
          ? 'This file could not be read'
          : name}
      </DialogTitle>
      <DialogContent sx={{ minHeight: 96 }}>
        {reading && <LinearProgress aria-label="reading the file" sx={{ mb: 1 }} />}
        {report?.error && (
          <Typography role="alert" sx={{ mb: 1, overflowWrap: 'anywhere' }}>
            {report.error} Nothing was changed.
          </Typography>
        )}
        {report && (report.sources.length > 1 || (report.error && report.sources.length > 0)) && (
          <Sources
            sources={report.sources}
            guides={report.score ? undefined : incoming.guides}
            disabled={reading}
          />
        )}
        {report && !report.error && !report.score && <Ways incoming={incoming} report={report} />}
        {report && !report.error && <Report report={report} />}
      </DialogContent>
      <DialogActions>
        <Button onClick={dropIncoming} variant="text">
          {report?.error && !song ? 'close' : 'cancel'}
        </Button>
        {song && inSong && <Button onClick={takeAsPatterns}>add to this song’s shelf</Button>}
        {song && (
          <Button variant="contained" onClick={() => void asSong()} autoFocus>
            open as a new song
          </Button>
        )}
      </DialogActions>
    </>
  );
}

/** How the file is read: which note is which drum, and whether it is cut into the parts that repeat. */
function Ways({ incoming, report }: { incoming: Incoming; report: ImportReport }) {
  const { asked, reading } = incoming;
  const { repeats, through } = report;
  return (
    <Box sx={{ display: 'grid', gap: 1, mt: 1, mb: 2, justifyItems: 'start' }}>
      <ChoiceField
        label={asked.notes === 'guess' ? 'notes read as (guessed)' : 'notes read as'}
        value={through?.map ?? 'gm'}
        width={320}
        options={NOTE_MAPS.map(({ id, name }) => [id, name] as const)}
        onChange={(map) => void askOfIncoming({ notes: { map: map as NoteMapId } })}
      />
      {repeats && (
        <FormControlLabel
          control={
            <Checkbox
              size="small"
              checked={asked.repeats === 'cut'}
              disabled={reading}
              onChange={(_, cut) => void askOfIncoming({ repeats: cut ? 'cut' : 'find' })}
            />
          }
          label={`no markers, but parts that repeat: cut it into ${repeats.parts} parts of ${repeats.kinds === 1 ? 'one kind' : `${repeats.kinds} kinds`}`}
        />
      )}
    </Box>
  );
}

interface SourcesProps {
  sources: readonly DrumSource[];
  /** Absent where a file has none. */
  guides: readonly string[] | undefined;
  disabled: boolean;
}

/** Which tracks and channels the hits are taken from, and which are played against. */
function Sources({ sources, guides, disabled }: SourcesProps) {
  const toggle = (id: string) => {
    const next = sources.filter((s) => (s.id === id ? !s.taken : s.taken)).map((s) => s.id);
    if (guides?.includes(id)) void toggleIncomingGuide(id);
    void askOfIncoming({ sources: next });
  };
  return (
    <>
      <Typography sx={{ mb: 1 }}>
        {guides
          ? 'What its drums are, and what comes in as a reference part to play against:'
          : 'What its drums are:'}
      </Typography>
      <Table size="small" sx={{ mb: 2 }}>
        <TableHead>
          <TableRow>
            <TableCell padding="checkbox">drums</TableCell>
            {guides && <TableCell padding="checkbox">reference</TableCell>}
            <TableCell>track</TableCell>
            <TableCell align="right">channel</TableCell>
            <TableCell align="right">notes</TableCell>
          </TableRow>
        </TableHead>
        <TableBody>
          {sources.map(({ id, track, trackName, channel, hits, taken }) => (
            <TableRow key={id}>
              <TableCell padding="checkbox">
                <Checkbox
                  size="small"
                  checked={taken}
                  disabled={disabled}
                  onChange={() => toggle(id)}
                  slotProps={{
                    input: { 'aria-label': `take track ${track}, channel ${channel + 1}` },
                  }}
                />
              </TableCell>
              {guides && (
                <TableCell padding="checkbox">
                  <Checkbox
                    size="small"
                    checked={guides.includes(id)}
                    disabled={disabled}
                    onChange={() => void toggleIncomingGuide(id)}
                    slotProps={{
                      input: {
                        'aria-label': `track ${track}, channel ${channel + 1} as a reference part`,
                      },
                    }}
                  />
                </TableCell>
              )}
              <TableCell sx={{ overflowWrap: 'anywhere' }}>
                {trackName || `track ${track}`}
              </TableCell>
              <TableCell align="right">{channel + 1}</TableCell>
              <TableCell align="right">{hits.toLocaleString('en')}</TableCell>
            </TableRow>
          ))}
        </TableBody>
      </Table>
    </>
  );
}

function Report({ report }: { report: ImportReport }) {
  const lists: [string, readonly string[]][] = [
    ['understood', report.understood],
    ['repaired', report.repaired],
    ['left out', report.leftOut],
  ];
  return lists
    .filter(([, lines]) => lines.length > 0)
    .map(([title, lines]) => (
      <Box key={title} component="section" sx={{ mb: 1 }}>
        <Typography component="h3" variant="body2" sx={{ color: 'text.secondary' }}>
          {title}
        </Typography>
        {lines.slice(0, 12).map((line) => (
          <Typography key={line} sx={{ overflowWrap: 'anywhere' }}>
            {line}
          </Typography>
        ))}
        {lines.length > 12 && <Typography>and {lines.length - 12} more of the kind</Typography>}
      </Box>
    ));
}
