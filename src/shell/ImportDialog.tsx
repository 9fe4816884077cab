'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import { WhileOpen } from '@/look/WhileOpen';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import LinearProgress from '@mui/material/LinearProgress';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import type { DrumSource, ImportReport } from '@/core';
import { chooseSources, dropIncoming, takeAsPatterns, takeAsSong } from '@/state/session/files';
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
        {report && report.sources.length > 1 && (
          <Sources sources={report.sources} disabled={reading} />
        )}
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

/** Which tracks and channels to take the hits from. */
function Sources({ sources, disabled }: { sources: readonly DrumSource[]; disabled: boolean }) {
  const toggle = (id: string) => {
    const next = sources.filter((s) => (s.id === id ? !s.taken : s.taken)).map((s) => s.id);
    void chooseSources(next);
  };
  return (
    <>
      <Typography sx={{ mb: 1 }}>
        Several parts of this file carry notes. Take the hits from:
      </Typography>
      <Table size="small" sx={{ mb: 2 }}>
        <TableHead>
          <TableRow>
            <TableCell padding="checkbox" />
            <TableCell>track</TableCell>
            <TableCell align="right">channel</TableCell>
            <TableCell align="right">hits</TableCell>
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
