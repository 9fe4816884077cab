'use client';

import Box from '@mui/material/Box';
import { fromEvent } from 'file-selector';
import { useEffect, useRef, useState, type DragEvent, type ReactNode } from 'react';
import { onChooseFile } from './page';

/** What comes in is read by what is loaded for it. */
async function receiveFiles(files: readonly File[]): Promise<void> {
  const reading = await import('@/state/gather/reading');
  await reading.receiveFiles(files);
}

/** The files that were dropped, those in dropped folders too. */
async function filesDropped(event: Event): Promise<void> {
  const found = await fromEvent(event);
  await receiveFiles(found.filter((one) => one instanceof File));
}

/** Where a browser puts the files that an installed application is opened with. */
interface LaunchQueue {
  setConsumer(take: (launch: { files: readonly FileSystemFileHandle[] }) => Promise<void>): void;
}

const hasFiles = (event: DragEvent) => event.dataTransfer.types.includes('Files');

/** Takes a MIDI or song file that is dropped anywhere on the page, or chosen with the button. */
export function DropAnywhere({ children }: { children: ReactNode }) {
  const picker = useRef<HTMLInputElement>(null);
  const [over, setOver] = useState(false);
  useEffect(() => onChooseFile(() => picker.current?.click()), []);
  useEffect(() => {
    // The installed workbench is handed what is opened with it.
    const { launchQueue } = window as unknown as { launchQueue?: LaunchQueue };
    launchQueue?.setConsumer(async ({ files }) => {
      if (files.length > 0)
        await receiveFiles(await Promise.all(files.map((one) => one.getFile())));
    });
  }, []);
  useEffect(() => {
    // Files that were copied elsewhere are pasted like files that are dropped.
    const onPaste = ({ clipboardData }: ClipboardEvent) => {
      const files = [...(clipboardData?.files ?? [])];
      if (files.length === 0) return;
      void receiveFiles(files);
    };
    document.addEventListener('paste', onPaste);
    return () => document.removeEventListener('paste', onPaste);
  }, []);
  return (
    <Box
      sx={{ height: '100%', position: 'relative' }}
      onDragOver={(event) => {
        if (!hasFiles(event)) return;
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={(event) => {
        if (event.currentTarget === event.target || !event.relatedTarget) setOver(false);
      }}
      onDrop={(event) => {
        if (!hasFiles(event)) return;
        event.preventDefault();
        setOver(false);
        void filesDropped(event.nativeEvent);
      }}
    >
      {children}
      <input
        ref={picker}
        type="file"
        accept=".mid,.midi,.smf,.rmi,.kar,.musicxml,.mxl,.xml,.zip,.json,.sf2,audio/midi,.wav,.aif,.aiff,.aifc,.flac,.ogg,.mp3"
        hidden
        aria-label="choose a MIDI file, a score, a song file or a recorded loop"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = '';
          if (file) void receiveFiles([file]);
        }}
      />
      {over && (
        <Box
          sx={{
            position: 'absolute',
            inset: 12,
            zIndex: 2000,
            display: 'grid',
            placeItems: 'center',
            border: '2px dashed var(--accent)',
            bgcolor: 'color-mix(in srgb, var(--panel) 88%, transparent)',
            fontSize: 20,
            fontWeight: 600,
            pointerEvents: 'none',
          }}
        >
          drop MIDI files, a score, a folder, a zip, a song file or a recorded loop to read it
        </Box>
      )}
    </Box>
  );
}
