'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { WhileOpen } from '@/look/WhileOpen';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { openNoteMapOf } from '@/state/gather/noteMaps';
import { closeReport, useReading, type SourceFile } from '@/state/gather/reading';

/** What became of the files that were read: each one that is not listed has its reason. */
export function ReadingReport() {
  const report = useReading((state) => state.report);
  return (
    <WhileOpen
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
            {report.unlisted.length > 0 && <Unlisted files={report.unlisted} />}
          </DialogContent>
          <DialogActions>
            <Button variant="contained" onClick={closeReport} autoFocus>
              close
            </Button>
          </DialogActions>
        </>
      )}
    </WhileOpen>
  );
}

function chooseDrums(path: string) {
  closeReport();
  void openNoteMapOf(path);
}

/** Each file with its reason; there may be ten thousand. */
function Unlisted({ files }: { files: readonly SourceFile[] }) {
  const scroller = useRef<HTMLDivElement>(null);
  // eslint-disable-next-line react-hooks/incompatible-library
  const rows = useVirtualizer({
    count: files.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 36,
    overscan: 8,
  });
  return (
    <Box
      ref={scroller}
      tabIndex={0}
      role="group"
      aria-label={`${files.length.toLocaleString('en')} files that are not listed`}
      sx={{ maxHeight: 280, overflowY: 'auto', fontSize: 12 }}
    >
      <Box
        component="ul"
        aria-label="files that are not listed"
        sx={{ m: 0, p: 0, listStyle: 'none', position: 'relative' }}
        style={{ height: rows.getTotalSize() }}
      >
        {rows.getVirtualItems().map(({ index, start }) => (
          <li
            key={index}
            ref={rows.measureElement}
            data-index={index}
            style={{
              position: 'absolute',
              insetInline: 0,
              transform: `translateY(${start}px)`,
              padding: '2px 0',
              overflowWrap: 'anywhere',
            }}
          >
            <b>{files[index].path}</b>: {files[index].reason}{' '}
            {files[index].undrummed && (
              <Button size="small" onClick={() => chooseDrums(files[index].path)}>
                choose its drums …
              </Button>
            )}
          </li>
        ))}
      </Box>
    </Box>
  );
}
