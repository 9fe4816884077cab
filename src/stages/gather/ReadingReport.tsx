'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Dialog from '@mui/material/Dialog';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { closeReport, useReading } from '@/state/reading';

/** What became of the files that were read: each one that is not listed has its reason. */
export function ReadingReport() {
  const report = useReading((state) => state.report);
  return (
    <Dialog
      open={!!report}
      onClose={closeReport}
      maxWidth="sm"
      fullWidth
      aria-labelledby="read-title"
    >
      {report && (
        <>
          <DialogTitle id="read-title" sx={{ overflowWrap: 'anywhere' }}>
            “{report.name}” is read
          </DialogTitle>
          <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
            <Box>
              {report.progress.fresh.toLocaleString('en')} new grooves,{' '}
              {report.progress.duplicates.toLocaleString('en')} with the same hits as another,{' '}
              {report.progress.unread.toLocaleString('en')} that could not be read,{' '}
              {report.progress.unchanged.toLocaleString('en')} unchanged since they were last read.
            </Box>
            {report.problems.map((problem) => (
              <Box key={problem} role="alert" sx={{ overflowWrap: 'anywhere' }}>
                {problem}
              </Box>
            ))}
            {report.unlisted.length > 0 && (
              <Box
                component="ul"
                aria-label="files that are not listed"
                tabIndex={0}
                sx={{ m: 0, pl: 2, maxHeight: 280, overflowY: 'auto', fontSize: 12 }}
              >
                {report.unlisted.slice(0, MOST_SHOWN).map(({ path, reason }) => (
                  <li key={path} style={{ overflowWrap: 'anywhere' }}>
                    {path}: {reason}
                  </li>
                ))}
                {report.unlisted.length > MOST_SHOWN && (
                  <li>and {(report.unlisted.length - MOST_SHOWN).toLocaleString('en')} more</li>
                )}
              </Box>
            )}
          </DialogContent>
          <DialogActions>
            <Button variant="contained" onClick={closeReport} autoFocus>
              close
            </Button>
          </DialogActions>
        </>
      )}
    </Dialog>
  );
}

const MOST_SHOWN = 1000;
