'use client';

import Button from '@mui/material/Button';
import Stack from '@mui/material/Stack';
import Typography from '@mui/material/Typography';
import { Component, type ReactNode } from 'react';
import { saveSongFile } from '@/state/session/files';

interface Props {
  /** What is drawn in it, for the sentence. */
  name: string;
  children: ReactNode;
}

/**
 * Keeps a fault of one stage in that stage: header, ribbon and the music go on, and so do the other
 * stages.
 */
export class StageBoundary extends Component<Props, { fault?: Error }> {
  override state: { fault?: Error } = {};

  static getDerivedStateFromError(fault: Error) {
    return { fault };
  }

  override render() {
    const { fault } = this.state;
    if (!fault) return this.props.children;
    return (
      <Stack
        role="alert"
        sx={{ height: '100%', alignItems: 'center', justifyContent: 'center', gap: 2, px: 3 }}
      >
        <Typography variant="h2">{this.props.name} cannot be drawn</Typography>
        <Typography sx={{ maxWidth: 560, textAlign: 'center' }}>
          That is a fault of Verse Loom, not of yours ({fault.message}). The song is as it was, it
          plays, and the other stages work. If trying again does not help, undo the last change.
        </Typography>
        <Stack direction="row" sx={{ gap: 1 }}>
          <Button variant="contained" onClick={() => this.setState({ fault: undefined })}>
            try again
          </Button>
          <Button onClick={() => saveSongFile()}>save the song as a file</Button>
        </Stack>
      </Stack>
    );
  }
}
