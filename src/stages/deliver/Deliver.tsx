'use client';

import Box from '@mui/material/Box';
import { useDeferredValue, useEffect, useMemo } from 'react';
import { plannedFiles } from '@/core/deliver';
import { useWorkbench } from '@/state/store';
import { foretell, stopForetelling } from '@/state/deliver/foretelling';
import { deliveryIn } from '@/state/deliver/wishes';
import { Choices } from './Choices';
import { Files } from './Files';
import { Live } from './Live';
import { Project } from './Project';
import { Shown } from './Shown';

/**
 * What they will get, before anything is written: what goes out on the left, its files in the middle, and on
 * the right what the chosen file holds.
 */
export function Deliver() {
  const song = useWorkbench((state) => state.history!.song);
  const asked = useWorkbench((state) => state.delivery);
  const pattern = useWorkbench((state) => state.patternId);
  const delivery = useMemo(() => deliveryIn(song, asked, pattern), [song, asked, pattern]);
  const shown = useWorkbench((state) => state.shownFile);
  // Choices are answered at once; the table of a long song may follow a moment later.
  const wished = useDeferredValue(delivery);
  const files = useMemo(() => plannedFiles(song, wished), [song, wished]);
  useEffect(() => {
    foretell(song, files, wished.sound);
    return stopForetelling;
  }, [song, files, wished.sound]);
  const file = files.find((one) => one.path === shown) ?? files[0];
  return (
    <Box
      sx={{
        height: '100%',
        display: 'grid',
        gridTemplateColumns: '288px minmax(0, 1fr) minmax(0, 1.15fr)',
        '& > *': { minHeight: 0, overflowX: 'hidden', overflowY: 'auto', p: 2 },
        '& > * + *': { borderLeft: '1px solid var(--line)' },
      }}
    >
      <Choices song={song} delivery={delivery} />
      {delivery.handed === 'project' ? (
        <Project song={song} />
      ) : delivery.handed === 'live' ? (
        <Live song={song} />
      ) : (
        <>
          <Files files={files} delivery={delivery} chosen={file?.path} />
          {file ? <Shown song={song} file={file} delivery={wished} /> : <Box />}
        </>
      )}
    </Box>
  );
}
