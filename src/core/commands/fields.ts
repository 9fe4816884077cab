import type { Limits } from '../model';
import type { Bench, Option, Value, Values } from './value';

/** What a value of a panel can be while it is set. */
export type FieldValue = number | string | readonly number[];

/** One value that is asked for, as a panel shows it. */
export type Field = { name: string; label: string } & (
  | {
      kind: 'number';
      value: number;
      limits: Limits;
      step: number;
      unit: string;
      /** How many of the unit a value of 1 is. */
      per: number;
    }
  | { kind: 'choice'; value: string | number; options: readonly Option<string | number>[] }
  | { kind: 'text'; value: string }
  /** Some of the numbers up to the value of another field. */
  | { kind: 'some'; value: readonly number[]; upTo: string }
  | { kind: 'seed'; value: number }
);

/** The fields of a panel, from what a command takes. */
export function fieldsOf(values: Values, bench: Bench): Field[] {
  return Object.entries(values).flatMap(([name, value]) => fieldOf(name, value, bench) ?? []);
}

function fieldOf(name: string, value: Value<unknown>, bench: Bench): Field | undefined {
  const { ask, shape } = value;
  if (!ask) return undefined;
  const now = <T>(of: T | ((b: Bench) => T)): T =>
    typeof of === 'function' ? (of as (b: Bench) => T)(bench) : of;
  const head = { name, label: now(ask.label) };
  const initial = now(ask.initial) as never;
  if (ask.seed) return { ...head, kind: 'seed', value: initial };
  if (ask.upTo) return { ...head, kind: 'some', value: initial, upTo: ask.upTo };
  if (ask.options) {
    const options = now(ask.options) as readonly Option<string | number>[];
    return { ...head, kind: 'choice', value: initial, options };
  }
  if (shape.kind === 'number') {
    const limits = ask.limits ? now(ask.limits) : shape.limits;
    const step = ask.step ? now(ask.step) : 1;
    const per = ask.per ? now(ask.per) : 1;
    return { ...head, kind: 'number', value: initial, limits, step, unit: ask.unit ?? '', per };
  }
  return { ...head, kind: 'text', value: initial };
}

/** Whether the user is asked for anything before a command can be made. */
export function asks(values: Values): boolean {
  return Object.values(values).some(({ ask }) => ask !== undefined);
}

/**
 * What a command is told: what was set in its panel, what it asks for as it begins, and what is found
 * in what is looked at.
 */
export function toldBy(
  values: Values,
  bench: Bench,
  set: Readonly<Record<string, FieldValue>> = {},
): Record<string, unknown> {
  const told: Record<string, unknown> = {};
  for (const field of fieldsOf(values, bench)) told[field.name] = set[field.name] ?? field.value;
  for (const [name, { from }] of Object.entries(values)) if (from) told[name] = from(bench);
  return told;
}
