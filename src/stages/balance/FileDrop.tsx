'use client';

import Box from '@mui/material/Box';
import { useState, type DragEvent, type ReactNode } from 'react';
import type { KitPiece } from '@/core/model';
import { loadFiles, type HowLoaded } from '@/state/balance/samples';

const hasFiles = (event: DragEvent) => event.dataTransfer.types.includes('Files');
const HOW: readonly [HowLoaded, string][] = [
  ['layer', 'as one more layer'],
  ['sound', 'as its sound'],
];

/** Where sound files are dropped onto a piece: what a drop does is said while they are over it. */
export function FileDrop({ piece, children }: { piece: KitPiece; children: ReactNode }) {
  const [over, setOver] = useState<HowLoaded | 'piece'>();
  return (
    <Box
      data-drop-files={piece.id}
      onDragEnter={(event) => {
        if (hasFiles(event)) setOver((before) => before ?? 'piece');
      }}
      onDragOver={(event) => {
        if (!hasFiles(event)) return;
        event.preventDefault();
        event.stopPropagation();
      }}
      onDragLeave={(event) => {
        const to = event.relatedTarget as Node | null;
        if (!to || !event.currentTarget.contains(to)) setOver(undefined);
      }}
      sx={{
        position: 'relative',
        display: 'grid',
        gridTemplateColumns: 'minmax(0, 1fr)',
        gap: 0.5,
      }}
    >
      {children}
      {over && (
        <Box
          sx={{
            position: 'absolute',
            inset: 0,
            zIndex: 3,
            display: 'grid',
            gridTemplateRows: '1fr 1fr',
            gap: 0.5,
            bgcolor: 'var(--panel)',
          }}
        >
          {HOW.map(([how, words]) => (
            <Box
              key={how}
              data-drop-how={how}
              onDragEnter={() => setOver(how)}
              onDrop={(event) => {
                event.preventDefault();
                event.stopPropagation();
                setOver(undefined);
                void loadFiles(piece.id, [...event.dataTransfer.files], how);
              }}
              sx={{
                display: 'grid',
                placeItems: 'center',
                textAlign: 'center',
                fontWeight: 600,
                border: '2px dashed var(--accent)',
                bgcolor: over === how ? 'var(--paper)' : 'transparent',
              }}
            >
              {piece.name}: {words}
            </Box>
          ))}
        </Box>
      )}
    </Box>
  );
}
