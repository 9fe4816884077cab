'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import { hitsPerTrack, layoutsOf, mixOf, nameOfKit, READY_LAYOUTS } from '@/core/tracks';
import { layoutOf, type Song } from '@/core/model';
import { cutName } from '@/look/cutName';
import { EditableText } from '@/look/EditableText';
import { keyOf } from '@/state/acts';
import * as balance from '@/state/balance/balance';
import { isComparing } from '@/state/balance/compared';
import { toggleKits } from '@/state/balance/kits';
import { openNumbers } from '@/state/balance/numbers';
import { useWorkbench } from '@/state/store';

/** How the kit is split into tracks. */
export function LayoutBar() {
  const song = useWorkbench((state) => state.history!.song);
  const all = useWorkbench((state) => state.allTracks);
  const comparing = useWorkbench(isComparing);
  const hits = [...hitsPerTrack(song).values()].reduce((a, b) => a + b, 0);
  const changed = mixOf(song).strips.some(({ mute, solo }) => mute || solo);
  return (
    <Box
      sx={{
        gridArea: 'bar',
        display: 'flex',
        flexWrap: 'wrap',
        alignItems: 'center',
        gap: 1.5,
        px: 2.5,
        py: 1,
        bgcolor: 'var(--panel)',
        borderBottom: '1px solid var(--line)',
      }}
    >
      <Box component="span" sx={{ color: 'text.secondary' }}>
        tracks
      </Box>
      <Layouts song={song} />
      <Kits song={song} />
      <Box sx={{ flex: 1 }} />
      <Box
        className="figures"
        sx={{ fontSize: 13, color: 'text.secondary', display: { xs: 'none', lg: 'block' } }}
      >
        {hits.toLocaleString('en')} hits, each on one track
      </Box>
      <Button title={`the MIDI note of each stroke (${keyOf('numbers')})`} onClick={openNumbers}>
        note map
      </Button>
      <Button onClick={balance.compareMix} aria-pressed={comparing}>
        {comparing ? 'before' : 'compare'} ({keyOf('compare-mix')})
      </Button>
      <Button onClick={balance.hearAll} disabled={!changed}>
        hear all ({keyOf('hear-all-tracks')})
      </Button>
      <Button onClick={balance.toggleAllTracks} aria-pressed={all}>
        {all ? 'only tracks with hits' : 'all tracks'}
      </Button>
    </Box>
  );
}

/** Chooses the layout; one that was made by hand is named and removed here. */
function Layouts({ song }: { song: Song }) {
  const layout = layoutOf(song);
  const own = !(READY_LAYOUTS as readonly string[]).includes(layout.id);
  return (
    <>
      <ToggleButtonGroup
        exclusive
        size="small"
        value={layout.id}
        aria-label={`how the kit is split into tracks (${keyOf('next-layout')})`}
        onChange={(_, id: string | null) => id && balance.chooseLayout(id)}
      >
        {layoutsOf(song).map(({ id, name }) => (
          <ToggleButton key={id} value={id} sx={{ textTransform: 'none', px: 1.5 }}>
            <Box component="span" sx={cutName(120)}>
              {name}
            </Box>
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
      {own && (
        <>
          <Box component="span" sx={{ color: 'text.secondary' }}>
            called
          </Box>
          <EditableText
            value={layout.name}
            label="layout"
            onChange={balance.renameLayout}
            sx={{ maxWidth: 200 }}
          />
          <Button onClick={balance.removeLayout}>remove it</Button>
        </>
      )}
    </>
  );
}

/** Opens the kits. */
function Kits({ song }: { song: Song }) {
  const open = useWorkbench((state) => state.kitsOpen);
  return (
    <Button
      title={`kits: hear others with the song (${keyOf('kits')}); the next one (${keyOf('next-kit')})`}
      aria-pressed={open}
      onClick={toggleKits}
    >
      <Box component="span" sx={cutName(160)}>
        kit: {nameOfKit(song.kit)}
      </Box>
    </Button>
  );
}
