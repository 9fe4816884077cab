'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Checkbox from '@mui/material/Checkbox';
import FormControlLabel from '@mui/material/FormControlLabel';
import { drummerOf, LIMBS, MAX_SPEED, pieceOf, type Limb } from '@/core/model';
import { cloth, REACH_NAMES } from '@/core/weave';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { keyOf } from '@/state/acts';
import { useWorkbench } from '@/state/store';
import { goToFinding, hearHere, mendFinding, setDrummer, useFindings } from '@/state/weave/views';
import { saidPieces } from '@/state/weave/choosing';
import { Card } from './Card';
import { FindingList, PanelHead } from './FindingList';

/** Moments that ask for more than two hands and two feet, and the least that mends each. */
export function PlayablePanel() {
  const wrong = useFindings((state) => state.findings?.wrong);
  const finding = useWorkbench((state) => state.finding);
  const reach = useWorkbench((state) => state.reach);
  const here = wrong?.[finding];
  return (
    <Card label="playable">
      <PanelHead
        title="Playable"
        says={
          !wrong
            ? 'Looking …'
            : here
              ? `Leaving out the ${saidPieces(here.leave.map(({ piece }) => piece))} mends it; reach: ${REACH_NAMES[reach]}.`
              : 'Two hands and two feet play all of it.'
        }
      >
        {here && (
          <>
            <Button onClick={hearHere} title={keyOf('hear-here')}>
              hear it
            </Button>
            <Button onClick={() => mendFinding(false)}>mend it</Button>
            <Button variant="contained" onClick={() => mendFinding(true)}>
              mend all {wrong.length}
            </Button>
          </>
        )}
      </PanelHead>
      <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) auto', gap: 1.5 }}>
        <FindingList
          label="moments nobody plays"
          items={wrong?.map(({ says }) => says) ?? []}
          chosen={finding}
          empty="Nothing is asked for that a drummer cannot play."
          onChoose={goToFinding}
        />
        <Player />
      </Box>
    </Card>
  );
}

/** Who is to play it. */
function Player() {
  const song = useWorkbench((state) => state.history!.song);
  const row = useWorkbench((state) => state.row);
  const drummer = drummerOf(song);
  const piece = row ?? cloth(song).rows[0]?.piece;
  const box = (label: string, checked: boolean, onChange: (on: boolean) => void) => (
    <FormControlLabel
      sx={{ m: 0, whiteSpace: 'nowrap', '& .MuiFormControlLabel-label': { fontSize: 12 } }}
      control={
        <Checkbox
          size="small"
          sx={{ p: 0.25 }}
          checked={checked}
          onChange={(event) => onChange(event.target.checked)}
        />
      }
      label={label}
    />
  );
  return (
    <Box
      sx={{
        display: 'grid',
        gridTemplateColumns: 'repeat(3, 112px)',
        gap: 1,
        pt: 1,
        alignContent: 'start',
      }}
    >
      <ChoiceField
        label="leading hand"
        value={drummer.lead}
        options={[
          ['right', 'right'],
          ['left', 'left'],
        ]}
        width={112}
        onChange={(lead) => setDrummer({ lead: lead as 'right' })}
      />
      <NumberField
        label="strokes a second"
        value={drummer.speed}
        min={MAX_SPEED[0]}
        max={MAX_SPEED[1]}
        width={112}
        onChange={(speed) => setDrummer({ speed })}
      />
      {piece && (
        <ChoiceField
          label={pieceOf(piece, song.kit).name.toLowerCase()}
          value={drummer.limbs?.[piece] ?? 'any'}
          options={[['any', 'any limb'], ...LIMBS.map((limb) => [limb, limb] as const)]}
          width={112}
          onChange={(limb) => {
            const { [piece]: _, ...others } = drummer.limbs ?? {};
            const limbs = limb === 'any' ? others : { ...others, [piece]: limb as Limb };
            setDrummer({ limbs: Object.keys(limbs).length > 0 ? limbs : undefined });
          }}
        />
      )}
      <Box sx={{ gridColumn: '1 / -1', display: 'flex', justifyContent: 'space-between' }}>
        {box('open-handed', drummer.openHanded ?? false, (on) =>
          setDrummer({ openHanded: on || undefined }),
        )}
        {box('double pedal', drummer.doublePedal ?? false, (on) =>
          setDrummer({ doublePedal: on || undefined }),
        )}
        {box('percussion too', drummer.percussion ?? false, (on) =>
          setDrummer({ percussion: on || undefined }),
        )}
      </Box>
    </Box>
  );
}
