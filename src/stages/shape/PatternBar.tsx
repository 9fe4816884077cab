'use client';

import { PATTERN_KINDS, type PatternKind, MAX_BARS } from '@/core/model';
import ExpandMoreIcon from '@mui/icons-material/ExpandMore';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Divider from '@mui/material/Divider';
import IconButton from '@mui/material/IconButton';
import Menu from '@mui/material/Menu';
import MenuItem from '@mui/material/MenuItem';
import Tooltip from '@mui/material/Tooltip';
import { memo, useState } from 'react';
import type { Pattern } from '@/core';
import { barsOf, passesOf, swingUnitOf } from '@/core/pattern';
import { STEP_RATES } from '@/core/time';
import { shelfOf, usesOf } from '@/core/weave';
import { ChoiceField, plainOptions } from '@/look/ChoiceField';
import { DyeSwatch } from '@/look/DyeSwatch';
import { EditableText } from '@/look/EditableText';
import { MeterField } from '@/look/MeterField';
import { NumberField } from '@/look/NumberField';
import { keyOf } from '@/state/acts';
import { edit } from '@/state/session/edit';
import { askToPut } from '@/state/gather/ownLibrary';
import { removeShown } from '@/state/gather/shelf';
import { setBars, setMeter, setStep } from '@/state/shape/frame';
import { addPattern, duplicatePattern, showPattern } from '@/state/shape/shape';
import { useWorkbench } from '@/state/store';
import { growPattern } from '@/state/shape/turns';
import { MenuButton } from './Menus';

/** Which pattern is shown, and the frame it is written in. */
export const PatternBar = memo(function PatternBar({ pattern }: { pattern: Pattern }) {
  const uses = useWorkbench((state) =>
    usesOf(state.history!.song, state.opened?.pattern ?? pattern.id),
  );
  const passes = passesOf(pattern);
  return (
    <Box
      sx={{
        display: 'flex',
        alignItems: 'center',
        gap: { xs: 0.75, lg: 1.5 },
        height: 54,
        px: 2,
        bgcolor: 'var(--panel)',
        borderBottom: '1px solid var(--line)',
      }}
    >
      <PatternMenu pattern={pattern} />
      <EditableText
        value={pattern.name}
        label="name of the pattern"
        onChange={(name) => edit({ type: 'rename pattern', pattern: pattern.id, name })}
        sx={{ fontSize: 16, fontWeight: 600, maxWidth: { xs: 190, lg: 260 }, minWidth: 80 }}
      />
      <Box sx={{ fontSize: 12, color: 'text.secondary', whiteSpace: 'nowrap' }}>
        {uses === 0 ? 'not in the song yet' : uses === 1 ? 'in 1 place' : `in ${uses} places`}
        {passes > 1 && ` · heard in full after ${passes} times`}
      </Box>
      <Box sx={{ flex: 1 }} />
      <ChoiceField
        label="kind"
        value={pattern.kind}
        options={plainOptions(PATTERN_KINDS)}
        width={98}
        onChange={(kind) =>
          edit({ type: 'set pattern kind', pattern: pattern.id, kind: kind as PatternKind })
        }
      />
      <NumberField
        label="bars"
        value={barsOf(pattern)}
        min={0.25}
        max={MAX_BARS}
        onChange={setBars}
      />
      <MeterField meter={pattern.meter} onChange={setMeter} />
      <NumberField
        label="swing %"
        value={pattern.swing?.percent ?? 50}
        min={50}
        max={75}
        width={70}
        onChange={(percent) =>
          edit({
            type: 'set swing',
            pattern: pattern.id,
            percent,
            unit: swingUnitOf(pattern),
          })
        }
      />
      <ChoiceField
        label="step"
        value={String(pattern.step)}
        options={STEP_RATES.map(({ ticks, name }) => [String(ticks), name])}
        width={108}
        onChange={(step) => setStep(Number(step))}
      />
      <MenuButton menu="pattern" />
      <Tooltip title={keyOf('grow')}>
        <Button onClick={growPattern}>grow</Button>
      </Tooltip>
    </Box>
  );
});

const NONE: readonly Pattern[] = [];

/** All patterns of the song, and what can be done with this one. */
function PatternMenu({ pattern }: { pattern: Pattern }) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  const patterns = useWorkbench((state) => (anchor ? shelfOf(state.history!.song) : NONE));
  const then = (run: () => void) => () => {
    setAnchor(null);
    run();
  };
  return (
    <>
      <Tooltip title={`patterns (next: ${keyOf('next-pattern')})`}>
        <IconButton
          size="small"
          aria-label="choose a pattern"
          onClick={(event) => setAnchor(event.currentTarget)}
          sx={{ borderRadius: 1, p: 0.25 }}
        >
          <DyeSwatch dye={pattern.dye} />
          <ExpandMoreIcon fontSize="small" />
        </IconButton>
      </Tooltip>
      <Menu
        open={!!anchor}
        anchorEl={anchor}
        onClose={() => setAnchor(null)}
        slotProps={{ paper: { sx: { maxHeight: 520 } } }}
      >
        {patterns.map((other) => (
          <MenuItem
            key={other.id}
            selected={other.id === pattern.id}
            onClick={then(() => showPattern(other.id))}
            sx={{ gap: 1.5 }}
          >
            <DyeSwatch dye={other.dye} size={20} />
            {other.name}
          </MenuItem>
        ))}
        <Divider />
        <PatternAction id="new-pattern" name="new pattern" run={then(addPattern)} />
        <PatternAction
          id="duplicate-pattern"
          name="duplicate this one"
          run={then(duplicatePattern)}
        />
        <PatternAction
          id="to-library"
          name="put it into the library …"
          run={then(() => askToPut())}
        />
        <PatternAction id="remove-pattern" name="remove this one" run={then(removeShown)} />
      </Menu>
      <Tooltip title={keyOf('new-pattern')}>
        <Button onClick={addPattern}>new</Button>
      </Tooltip>
    </>
  );
}

function PatternAction({ id, name, run }: { id: string; name: string; run: () => void }) {
  return (
    <MenuItem onClick={run} sx={{ gap: 3 }}>
      <Box sx={{ flex: 1 }}>{name}</Box>
      <Box className="figures" sx={{ fontSize: 12, color: 'text.secondary' }}>
        {keyOf(id)}
      </Box>
    </MenuItem>
  );
}
