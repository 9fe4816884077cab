'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import DialogActions from '@mui/material/DialogActions';
import DialogContent from '@mui/material/DialogContent';
import DialogTitle from '@mui/material/DialogTitle';
import {
  clashesOf,
  nearestStroke,
  noteOf,
  READY_MAPS,
  strokeKey,
  strokesOfKit,
  type Kit,
  type NoteMap,
  type Stroke,
} from '@/core/model';
import { NOTE_MAP_FORMS } from '@/core/midi';
import { partName } from '@/core/tracks';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { WhileOpen } from '@/look/WhileOpen';
import * as numbers from '@/state/balance/numbers';
import { connectController } from '@/state/shape/pads';
import { kitOf, useWorkbench } from '@/state/store';

/** Which note each stroke goes out as, and which notes come in as it. */
export function NumbersDialog() {
  const open = useWorkbench((state) => state.dialog === 'numbers');
  return (
    <WhileOpen
      open={open}
      onClose={numbers.closeNumbers}
      maxWidth="sm"
      fullWidth
      aria-labelledby="numbers-title"
    >
      <Body />
    </WhileOpen>
  );
}

function Body() {
  const kit = useWorkbench(kitOf);
  const map = useWorkbench((state) => state.history!.song.noteMap);
  const controller = useWorkbench((state) => state.pads.controller);
  const clashes = clashesOf(map, kit);
  const ready = READY_MAPS.some(({ name }) => name === map.name);
  const strokes = strokesOfKit(kit);
  const elsewhere = map.only ? strokes.filter((one) => !(strokeKey(one) in map.notes)).length : 0;
  return (
    <>
      <DialogTitle id="numbers-title">Note map: the MIDI note of each stroke</DialogTitle>
      <DialogContent sx={{ display: 'grid', gap: 1.5 }}>
        <Box sx={{ display: 'flex', alignItems: 'center', gap: 2, pt: 1 }}>
          <ChoiceField
            label="map"
            value={map.name}
            width={230}
            options={[
              ...(ready ? [] : [[map.name, map.name] as const]),
              ...READY_MAPS.map(({ name }) => [name, name] as const),
            ]}
            onChange={numbers.chooseMap}
          />
          <Box role="status" sx={{ fontSize: 13, color: 'text.secondary' }}>
            {clashes.size === 0
              ? 'no two strokes share a note'
              : `shared: ${[...clashes.keys()].map((note) => `note ${note}`).join(', ')}`}
            {elsewhere > 0 && `; ${elsewhere} strokes go to the nearest that it has`}
          </Box>
        </Box>
        <Box
          role="group"
          aria-label="notes of strokes"
          sx={{
            display: 'grid',
            gridTemplateColumns: 'minmax(0, 1fr) 92px minmax(0, 1fr) auto',
            columnGap: 2,
            rowGap: 1.5,
            alignItems: 'center',
            maxHeight: 420,
            overflowY: 'auto',
            pt: 1,
          }}
        >
          {strokes.map((stroke) => (
            <Row key={strokeKey(stroke)} stroke={stroke} map={map} kit={kit} shared={clashes} />
          ))}
        </Box>
      </DialogContent>
      <DialogActions>
        <Button onClick={() => void numbers.loadNumbers()}>from a file</Button>
        {NOTE_MAP_FORMS.map((form) => (
          <Button key={form} onClick={() => numbers.saveNumbers(form)}>
            as {form.toUpperCase()}
          </Button>
        ))}
        <Box sx={{ flex: 1 }} />
        {!controller && (
          <Button onClick={() => void connectController()}>connect a controller</Button>
        )}
        <Button variant="contained" onClick={numbers.closeNumbers}>
          done
        </Button>
      </DialogActions>
    </>
  );
}

function Row(props: {
  stroke: Stroke;
  map: NoteMap;
  kit: Kit;
  shared: ReadonlyMap<number, readonly Stroke[]>;
}) {
  const { stroke, map, kit, shared } = props;
  const waits = useWorkbench(
    ({ learning }) => learning !== undefined && strokeKey(learning) === strokeKey(stroke),
  );
  const note = noteOf(stroke.piece, stroke.articulation, map, kit);
  const name = partName(stroke, kit);
  const nearest = nearestStroke(stroke, map, kit);
  const goes =
    map.only && nearest && strokeKey(nearest) !== strokeKey(stroke) ? nearest : undefined;
  const others = (shared.get(note) ?? []).filter((one) => strokeKey(one) !== strokeKey(stroke));
  const reads = Object.entries(map.reads ?? {})
    .filter(([, key]) => key === strokeKey(stroke))
    .map(([one]) => one);
  return (
    <>
      <Box sx={{ minWidth: 0 }}>{name}</Box>
      <NumberField
        label="note"
        name={name}
        value={note}
        min={0}
        max={127}
        integer
        width={92}
        onChange={(to) => numbers.setNote(stroke, to)}
      />
      <Box sx={{ fontSize: 13, color: 'text.secondary', minWidth: 0 }}>
        {goes && `goes out as ${partName(goes, kit).toLowerCase()}`}
        {!goes && others.length > 0 && (
          <Box component="span" sx={{ color: 'error.main' }}>
            as {others.map((one) => partName(one, kit).toLowerCase()).join(' and ')}
          </Box>
        )}
        {reads.length > 0 && ` read from note ${reads.join(', ')}`}
      </Box>
      <Button
        aria-pressed={waits}
        aria-label={`learn the note of ${name}`}
        onClick={() => numbers.learn(stroke)}
      >
        {waits ? 'strike it' : 'learn'}
      </Button>
    </>
  );
}
