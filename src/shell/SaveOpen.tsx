'use client';

import Button from '@mui/material/Button';
import { saveSongFile } from '@/state/session/files';
import { useWorkbench } from '@/state/store';

/** Saves the open song as a file, where one is open. */
export function SaveOpen() {
  const open = useWorkbench((state) => state.history?.song);
  return open ? (
    <Button onClick={() => void saveSongFile(open)}>save the song as a file</Button>
  ) : null;
}
