'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import TextField from '@mui/material/TextField';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Typography from '@mui/material/Typography';
import { memo, useEffect, useRef, type KeyboardEvent } from 'react';
import type { Field } from '@/core/commands';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { isInFront, isWrittenInto } from '@/look/writtenInto';
import { keyOf } from '@/state/acts';
import type { OpenTool, ToolValue } from '@/state/store';
import { dropTool, keepTool, rollAgain, setToolValue, toolShown } from '@/state/shape/toolbox';

/** The open tool: its values, and what it shows kept or taken back. */
export function ToolPanel({ open }: { open: OpenTool }) {
  const panel = useRef<HTMLDivElement>(null);
  const shown = toolShown(open);
  useEffect(() => {
    // A slider or a text is ready for keys; a choice would take Enter for itself.
    const ready = 'input[type=range], input[type=text]:not([aria-hidden]), [data-keep]';
    panel.current?.querySelector<HTMLElement>(ready)?.focus();
  }, [open.name]);
  useEffect(() => {
    // Wherever the focus is, digits are the number of the tool, Enter keeps and Escape takes back.
    const onKeyDown = (event: globalThis.KeyboardEvent) => {
      const { target, key, ctrlKey, metaKey, altKey } = event;
      if (!(target instanceof HTMLElement) || ctrlKey || metaKey || altKey) return;
      if (isInFront(target) || isWrittenInto(target)) return;
      if (/^[\d.,-]$/.test(key)) {
        const row =
          target.closest('[data-number]') ?? panel.current?.querySelector('[data-number]');
        const field = row?.querySelector<HTMLElement>('input[type=text]');
        // The field that has the focus by now gets what is typed.
        if (field) field.focus();
        else event.preventDefault();
      } else if (key === 'Escape') leave(dropTool);
      else if (key === 'Enter' && !target.closest('[role=combobox], button')) leave(keepTool);
      else return;
      if (!/^[\d.,-]$/.test(key)) event.preventDefault();
      event.stopPropagation();
    };
    document.addEventListener('keydown', onKeyDown, true);
    return () => document.removeEventListener('keydown', onKeyDown, true);
  }, []);
  if (!shown) return null;
  const { title, fields, problems, hits, remark, chooses } = shown;
  const onKeyDown = (event: KeyboardEvent) => {
    // Only from a text: lists and buttons of the panel answer to these keys themselves.
    if (!isWrittenInto(event.target)) return;
    if (event.key === 'Enter') leave(keepTool);
    else if (event.key === 'Escape') leave(dropTool);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <Box
      ref={panel}
      role="group"
      aria-label={title}
      onKeyDown={onKeyDown}
      sx={{ display: 'flex', flexDirection: 'column', gap: 1.5 }}
    >
      <Box>
        <Typography variant="h3">{title}</Typography>
        {hits !== undefined && (
          <Typography variant="body2" sx={{ color: 'text.secondary' }}>
            {hits === 1 ? '1 hit' : `${hits} hits`}, seen and heard at once
          </Typography>
        )}
      </Box>
      {fields.map((field) => (
        <FieldOf
          key={field.name}
          field={field}
          values={open.values}
          problem={problems[field.name]}
        />
      ))}
      {remark && (
        <Typography variant="body2" role="status" sx={{ color: 'text.secondary' }}>
          {remark}
        </Typography>
      )}
      <Ends selects={chooses} />
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
  values: OpenTool['values'];
  problem: string | undefined;
}

function FieldOf({ field, values, problem }: FieldProps) {
  const { name, label } = field;
  const set = (next: ToolValue) => setToolValue(name, next);
  switch (field.kind) {
    case 'number':
      return <NumberRow {...field} value={Number(values[name] ?? field.value)} />;
    case 'choice':
      return (
        <ChoiceField
          label={label}
          value={String(values[name] ?? field.value)}
          options={field.options.map(([id, words]) => [String(id), words] as const)}
          onChange={(next) => set(field.options.find(([id]) => String(id) === next)![0])}
        />
      );
    case 'text':
      return (
        <TextRow
          label={label}
          value={String(values[name] ?? field.value)}
          problem={problem}
          onChange={set}
        />
      );
    case 'some':
      return (
        <Box>
          <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>{label}</Box>
          <ToggleButtonGroup
            value={values[name] ?? field.value}
            aria-label={label}
            onChange={(_, next: number[]) => set([...next].sort((a, b) => a - b))}
            sx={{ flexWrap: 'wrap' }}
          >
            {Array.from({ length: Number(values[field.upTo]) }, (_, i) => (
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
          roll again ({String(values[name] ?? field.value)})
        </Button>
      );
  }
}

/** A slider for the eye, and a field for exact values beside it. Drawn anew only when its own value changes. */
const NumberRow = memo(function NumberRow(field: Field & { kind: 'number' }) {
  const { name, label, unit, per } = field;
  // Shown and typed in the unit, whatever it is kept in.
  const shown = (of: number) => Math.round(of * per * 1e6) / 1e6;
  const [min, max] = field.limits.map(shown);
  const [value, step] = [shown(field.value), shown(field.step)];
  const onChange = (next: number) => setToolValue(name, Math.round((next / per) * 1e6) / 1e6);
  return (
    <Box>
      <Box sx={{ fontSize: 12, color: 'text.secondary' }}>{label}</Box>
      <Box
        data-number
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
          label={unit}
          name={label}
          value={value}
          min={min}
          max={max}
          width={76}
          live
          leave={(by) => leave(by === 'Enter' ? keepTool : dropTool)}
          onChange={onChange}
        />
      </Box>
    </Box>
  );
});

function TextRow(props: {
  label: string;
  value: string;
  problem: string | undefined;
  onChange: (value: string) => void;
}) {
  const { label, value, problem, onChange } = props;
  return (
    <TextField
      label={label}
      value={value}
      error={problem !== undefined}
      helperText={problem}
      onChange={(event) => onChange(event.target.value)}
      slotProps={{ htmlInput: { autoComplete: 'off', spellCheck: false } }}
    />
  );
}
