'use client';

import AddIcon from '@mui/icons-material/Add';
import Button from '@mui/material/Button';
import ListSubheader from '@mui/material/ListSubheader';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import { useState } from 'react';
import type { Pattern } from '@/core';
import { FAMILIES } from '@/core/model';
import { PieceSign } from '@/look/Notehead';
import { addStrand } from '@/state/shape/frame';
import { kitOf, useWorkbench } from '@/state/store';

/** Adds a row for a kit piece that is not there yet. */
export function AddStrand({ pattern }: { pattern: Pattern }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const kit = useWorkbench(kitOf);
  const there = new Set(pattern.strands.map((strand) => strand.piece));
  return (
    <>
      <Button
        variant="text"
        startIcon={<AddIcon />}
        aria-label="add a kit piece"
        onClick={(event) => setAnchor(event.currentTarget)}
        sx={{ width: 148, justifyContent: 'flex-start', flex: 'none' }}
      >
        kit piece
      </Button>
      <Menu
        open={!!anchor}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ paper: { sx: { maxHeight: 420 } } }}
      >
        {FAMILIES.flatMap((family) => {
          const pieces = kit.pieces.filter((p) => p.family === family && !there.has(p.id));
          if (pieces.length === 0) return [];
          return [
            <ListSubheader key={family} sx={{ lineHeight: '28px', bgcolor: 'inherit' }}>
              {family}
            </ListSubheader>,
            ...pieces.map((piece) => (
              <MenuItem
                key={piece.id}
                sx={{ gap: 1.5 }}
                onClick={() => {
                  setAnchor(null);
                  addStrand(piece.id);
                }}
              >
                <PieceSign head={piece.articulations[0].head} />
                {piece.name}
              </MenuItem>
            )),
          ];
        })}
      </Menu>
    </>
  );
}
