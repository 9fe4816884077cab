'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { memo, useEffect, useRef, type KeyboardEvent } from 'react';
import * as yup from 'yup';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { keyOf } from '@/state/acts';
import type { OpenTool, ToolValue } from '@/state/store';
import { benchNow, dropTool, keepTool, rollAgain, setToolValue } from '@/state/shape/toolbox';
import { findTool, ToolValues, type Field } from '@/state/tools';

/** The open tool: its values, and what it shows kept or taken back. */
export function ToolPanel({ open }: { open: OpenTool }) {
  const panel = useRef<HTMLDivElement>(null);
  const tool = findTool(open.id);
  const bench = benchNow(open.ids);
  useEffect(() => {
    // A slider or a text is ready for keys; a choice would take Enter for itself.
    const ready = 'input[type=range], input[type=text]:not([aria-hidden]), [data-keep]';
    panel.current?.querySelector<HTMLElement>(ready)?.focus();
  }, [open.id]);
  if (!tool || !bench) return null;
  const values = new ToolValues(open.values);
  const remark = tool.remark?.(values, bench);
  const fields = tool.fields(bench);
  const onKeyDown = (event: KeyboardEvent) => {
    const target = event.target as HTMLElement;
    if (event.key === 'Enter' && !target.closest('[role=combobox], button')) leave(keepTool);
    else if (event.key === 'Escape') leave(dropTool);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <Box
      ref={panel}
      role="group"
      aria-label={tool.name}
      onKeyDown={onKeyDown}
      sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}
    >
      <Box>
        <Typography variant="h3">{tool.name.replace(/ …$/, '')}</Typography>
        {!tool.free && (
          <Typography variant="body2" sx={{ color: 'text.secondary' }}>
            {open.ids.length === 1 ? '1 hit' : `${open.ids.length} hits`}, seen and heard at once
          </Typography>
        )}
      </Box>
      {fields.map((field) => (
        <FieldOf key={field.id} field={field} value={open.values[field.id]} values={values} />
      ))}
      {(open.problem ?? remark) && (
        <Typography variant="body2" role="status" sx={{ color: 'text.secondary' }}>
          {open.problem ?? remark}
        </Typography>
      )}
      <Ends selects={tool.select !== undefined} />
    </Box>
  );
}

function leave(end: () => void): void {
  end();
  document.querySelector<HTMLElement>('[role=grid]')?.focus();
}

const Ends = memo(function Ends({ selects }: { selects: boolean }) {
  return (
    <>
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
        <Button data-keep variant="contained" onClick={() => leave(keepTool)}>
          {selects ? 'done' : 'keep'}
        </Button>
        <Button onClick={() => leave(dropTool)}>{selects ? 'close' : 'take back'}</Button>
      </Box>
      <Typography variant="body2" sx={{ color: 'text.secondary' }}>
        Enter keeps, Esc takes back
      </Typography>
    </>
  );
});

interface FieldProps {
  field: Field;
  value: ToolValue | undefined;
  values: ToolValues;
}

function FieldOf({ field, value, values }: FieldProps) {
  const set = (next: ToolValue) => setToolValue(field.id, next);
  switch (field.kind) {
    case 'number':
      return <NumberRow {...field} value={Number(value ?? field.value)} />;
    case 'choice':
      return (
        <ChoiceField
          label={field.label}
          value={String(value ?? field.value)}
          options={field.options}
          onChange={set}
        />
      );
    case 'text':
      return <TextRow field={field} value={String(value ?? field.value)} onChange={set} />;
    case 'passes':
      return (
        <Box>
          <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>{field.label}</Box>
          <ToggleButtonGroup
            value={value ?? field.value}
            aria-label={field.label}
            onChange={(_, next: number[]) => set([...next].sort((a, b) => a - b))}
            sx={{ flexWrap: 'wrap' }}
          >
            {Array.from({ length: values.number(field.of) }, (_, i) => (
              <ToggleButton
                key={i}
                value={i + 1}
                aria-label={`pass ${i + 1}`}
                sx={{ minWidth: 32 }}
              >
                {i + 1}
              </ToggleButton>
            ))}
          </ToggleButtonGroup>
        </Box>
      );
    case 'seed':
      return (
        <Button onClick={rollAgain} title={keyOf('roll-again')}>
          roll again ({String(value)})
        </Button>
      );
  }
}

/** A slider for the eye, and a field for exact values beside it. Drawn anew only when its own value changes. */
const NumberRow = memo(function NumberRow(field: Field & { kind: 'number' }) {
  const { id, label, value, min, max, step = 1, unit } = field;
  const onChange = (next: number) => setToolValue(id, next);
  return (
    <Box>
      <Box sx={{ fontSize: 12, color: 'text.secondary' }}>{label}</Box>
      <Box
        sx={{
          display: 'grid',
          gridTemplateColumns: 'minmax(0, 1fr) 76px',
          gap: 1.5,
          alignItems: 'center',
        }}
      >
        <Slider
          aria-label={label}
          value={value}
          min={min}
          max={max}
          step={step}
          onChange={(_, next) => onChange(next as number)}
          sx={{ py: 1 }}
        />
        <NumberField
          label={unit ?? ''}
          name={label}
          value={value}
          min={min}
          max={max}
          width={76}
          onChange={onChange}
        />
      </Box>
    </Box>
  );
});

function TextRow(props: {
  field: Field & { kind: 'text' };
  value: string;
  onChange: (value: string) => void;
}) {
  const { field, value, onChange } = props;
  const fits = yup.string().matches(field.fits, field.says).isValidSync(value);
  return (
    <TextField
      label={field.label}
      value={value}
      error={!fits}
      helperText={fits ? undefined : field.says}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ htmlInput: { autoComplete: 'off', spellCheck: false } }}
    />
  );
}
