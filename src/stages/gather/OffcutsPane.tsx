'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import type { Offcut } from '@/core';
import { DyeSwatch } from '@/look/DyeSwatch';
import { edit } from '@/state/session/edit';
import { chooseGroove } from '@/state/gather/gather';
import { recover } from '@/state/gather/keeping';
import { useWorkbench } from '@/state/store';

const NONE: readonly Offcut[] = [];

/** What was passed over or removed. It stays until it is emptied by hand. */
export function OffcutsPane() {
  const offcuts = useWorkbench((state) => state.history!.song.offcuts ?? NONE);
  if (offcuts.length === 0) {
    return (
      <Box sx={{ p: 2, color: 'text.secondary' }}>
        Nothing was rejected or removed yet. What is comes here, and can be recovered.
      </Box>
    );
  }
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateRows: 'minmax(0, 1fr) auto',
        minHeight: 0,
        height: '100%',
      }}
    >
      <Box
        component="ul"
        aria-label="offcuts"
        sx={{ listStyle: 'none', m: 0, p: 1, overflowY: 'auto' }}
      >
        {offcuts.map(({ id, why, pattern, groove }) => {
          const name = pattern?.name ?? groove?.name ?? id;
          return (
            <Box
              component="li"
              key={id}
              sx={{
                display: 'grid',
                gridTemplateColumns: '26px minmax(0, 1fr) auto auto',
                alignItems: 'center',
                gap: 0.75,
                py: 0.5,
                borderBottom: '1px solid var(--fine-line)',
              }}
            >
              {pattern ? <DyeSwatch dye={pattern.dye} size={22} /> : <span />}
              <Box sx={{ minWidth: 0 }}>
                <Box sx={{ fontWeight: 550, overflowWrap: 'anywhere' }}>{name}</Box>
                <Box sx={{ fontSize: 12, color: 'text.secondary' }}>
                  {why === 'passed' ? `rejected, ${groove?.family ?? ''}` : 'removed from the song'}
                </Box>
              </Box>
              {groove ? (
                <Button size="small" variant="text" onClick={() => void chooseGroove(groove.id)}>
                  hear
                </Button>
              ) : (
                <span />
              )}
              <Button size="small" aria-label={`recover ${name}`} onClick={() => recover(id)}>
                recover
              </Button>
            </Box>
          );
        })}
      </Box>
      <Box sx={{ p: 1.25, borderTop: '1px solid var(--line)' }}>
        <Button fullWidth onClick={() => edit({ type: 'empty offcuts' })}>
          empty the offcuts ({offcuts.length})
        </Button>
      </Box>
    </Box>
  );
}
