'use client';

import CasinoIcon from '@mui/icons-material/Casino';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import { useEffect } from 'react';
import { pieceOf } from '@/core/model';
import type { Boldness } from '@/core/vary';
import { laidPlaces, placeName } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { useWorkbench } from '@/state/store';
import { chosenPlaces, saidPlaces } from '@/state/weave/choosing';
import {
  hearOffer,
  leaveVarying,
  rollOffers,
  takeOffers,
  toggleView,
  useVarying,
} from '@/state/weave/views';
import { Card } from './Card';
import { PanelHead } from './FindingList';

/** Small changes for the chosen places: each is heard in its place before it is taken. */
export function VaryPanel() {
  const song = useWorkbench((state) => state.history!.song);
  const chosen = useWorkbench((state) => state.placeIds);
  const row = useWorkbench((state) => state.row);
  const { offers, heard, count, bold, seed, pieces } = useVarying();
  useEffect(() => leaveVarying, []);
  useEffect(() => rollOffers(), [chosen]);
  const names = new Map(laidPlaces(song).map((laid) => [laid.place.id, placeName(song, laid)]));
  return (
    <Card label="vary">
      <PanelHead
        title="Vary"
        says={`${offers.length} offers for ${saidPlaces(chosenPlaces().length)}, ${pieces ? `on the ${pieces.map((id) => pieceOf(id, song.kit).name.toLowerCase()).join(', ')}` : 'on all pieces'}; what is locked or was changed by hand stays.`}
      >
        <NumberField
          label="each"
          value={count}
          min={1}
          max={8}
          integer
          onChange={(next) => rollOffers({ count: next })}
        />
        <ChoiceField
          label="bold"
          value={String(bold)}
          options={[
            ['1', 'hardly'],
            ['2', 'heard'],
            ['3', 'bold'],
          ]}
          width={84}
          onChange={(next) => rollOffers({ bold: Number(next) as Boldness })}
        />
        <ChoiceField
          label="pieces"
          value={pieces ? 'row' : 'all'}
          options={[
            ['all', 'all'],
            ['row', row ? pieceOf(row, song.kit).name : 'the chosen row'],
          ]}
          width={110}
          onChange={(next) => rollOffers({ pieces: next === 'row' && row ? [row] : undefined })}
        />
        <Button
          startIcon={<CasinoIcon />}
          onClick={() => rollOffers({ seed: seed + 1 })}
          title="other offers"
        >
          roll {seed}
        </Button>
        <Button
          variant="contained"
          disabled={offers.length === 0}
          onClick={() => takeOffers(offers)}
        >
          take all
        </Button>
        <Button onClick={() => toggleView('vary')}>done</Button>
      </PanelHead>
      <Box
        component="ul"
        aria-label="offers"
        sx={{
          listStyle: 'none',
          m: 0,
          p: 0,
          height: 84,
          overflowY: 'auto',
          display: 'grid',
          gridTemplateColumns: 'repeat(auto-fill, minmax(330px, 1fr))',
          gap: 0.5,
          alignContent: 'start',
        }}
      >
        {offers.map((offer) => (
          <Box
            component="li"
            key={`${offer.place}/${offer.from}/${offer.kind}`}
            sx={{
              display: 'flex',
              alignItems: 'center',
              gap: 0.75,
              border: '1px solid',
              borderColor: heard === offer ? 'var(--accent)' : 'var(--fine-line)',
              px: 0.75,
              minWidth: 0,
            }}
          >
            <Box sx={{ fontSize: 12, color: 'text.secondary', whiteSpace: 'nowrap' }}>
              {names.get(offer.place)}
            </Box>
            <Box
              title={offer.says}
              sx={{
                flex: 1,
                minWidth: 0,
                fontSize: 13,
                overflow: 'hidden',
                textOverflow: 'ellipsis',
                whiteSpace: 'nowrap',
              }}
            >
              {offer.says}
            </Box>
            <Button
              variant="text"
              aria-pressed={heard === offer}
              aria-label={`hear: ${offer.says}`}
              onClick={() => hearOffer(offer)}
              sx={{ px: 0.5, py: 0.125 }}
            >
              {heard === offer ? 'without' : 'hear'}
            </Button>
            <Button
              variant="text"
              aria-label={`take: ${offer.says}`}
              onClick={() => takeOffers([offer])}
              sx={{ px: 0.5, py: 0.125 }}
            >
              take
            </Button>
          </Box>
        ))}
        {offers.length === 0 && (
          <Box component="li" sx={{ color: 'text.secondary' }}>
            Nothing to offer here: choose other sections, or more pieces.
          </Box>
        )}
      </Box>
    </Card>
  );
}
