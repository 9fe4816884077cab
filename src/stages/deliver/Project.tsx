'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Typography from '@mui/material/Typography';
import { useEffect, useState } from 'react';
import { samplesOf, type Song } from '@/core/model';
import { shelfOf, songBars } from '@/core/weave';
import { songPicture } from '@/look/songPicture';
import { compareWithFile } from '@/state/session/files';
import { handOver } from '@/state/deliver/writing';

/** The whole song as one file, which any Verse Loom opens. */
export function Project({ song }: { song: Song }) {
  const rows: readonly (readonly [string, string])[] = [
    ['bars', String(songBars(song))],
    ['sections', String(song.sections.length)],
    ['patterns', String(shelfOf(song).length)],
    ['reference parts', String(song.guides.length)],
    ['offcuts', String(song.offcuts.length)],
    ['kit', song.kit.name],
    ['sounds of its own', String(samplesOf(song.kit).length)],
    ['track layouts', String(song.layouts.length)],
    ['note map', song.noteMap.name],
  ];
  return (
    <Box component="section" aria-label="what will be written" sx={{ gridColumn: 'span 2' }}>
      <Box sx={{ display: 'grid', gap: 2, maxWidth: 640 }}>
        <Box sx={{ display: 'flex', alignItems: 'center', minHeight: 40 }}>
          <Typography variant="h2" sx={{ flex: 1 }}>
            The song as a file
          </Typography>
          <Button onClick={() => void compareWithFile()} sx={{ mr: 1 }}>
            compare with a file …
          </Button>
          <Button data-hand-over variant="contained" onClick={() => void handOver()}>
            save the song
          </Button>
        </Box>
        <Typography>
          Everything of “{song.name}”, in one zip that any Verse Loom opens: for a colleague, or to
          be sure of it. A colleague’s version is laid beside it to be compared, and taken over
          section by section.
        </Typography>
        <SongPicture song={song} />
        <Box
          component="dl"
          sx={{ m: 0, display: 'grid', gridTemplateColumns: '160px 1fr', rowGap: 0.5 }}
        >
          {rows.map(([what, value]) => (
            <Box key={what} sx={{ display: 'contents' }}>
              <Box component="dt" sx={{ color: 'text.secondary' }}>
                {what}
              </Box>
              <Box component="dd" className="figures" sx={{ m: 0 }}>
                {value}
              </Box>
            </Box>
          ))}
        </Box>
      </Box>
    </Box>
  );
}

/** The picture that the file has in it. */
function SongPicture({ song }: { song: Song }) {
  const [address, setAddress] = useState<string>();
  useEffect(() => {
    let gone = false;
    let made: string | undefined;
    void songPicture(song).then((picture) => {
      if (gone) return;
      made = URL.createObjectURL(picture);
      setAddress(made);
    });
    return () => {
      gone = true;
      if (made) URL.revokeObjectURL(made);
    };
  }, [song]);
  if (!address) return null;
  return (
    <Box
      component="img"
      src={address}
      alt={`the picture of ${song.name} that is in the file`}
      sx={{ width: '100%', border: '1px solid var(--line)' }}
    />
  );
}
