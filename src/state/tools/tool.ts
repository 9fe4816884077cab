import type { Command, Pattern } from '@/core';
import type { HandCommand, HandName, OptionsOf } from '@/core/commands';
import { HIT_LIMITS, pieceOf } from '@/core/model';
import { LANES, chosenHits } from '@/core/pattern';
import { STEP_RATES, type Bpm } from '@/core/time';
import { useWorkbench, type ToolGroup, type ToolValue } from '../store';

/** One value that a tool asks for. */
export type Field = { id: string; label: string } & (
  | { kind: 'number'; value: number; min: number; max: number; step?: number; unit?: string }
  | { kind: 'choice'; value: string; options: readonly (readonly [string, string])[] }
  | { kind: 'text'; value: string; fits: RegExp; says: string }
  | { kind: 'passes'; value: readonly number[]; of: string }
  | { kind: 'seed'; value: number }
);

/** What a tool works on. */
export interface Bench {
  pattern: Pattern;
  ids: readonly string[];
  bpm: Bpm;
}

/** Something with values, whose effect is seen and heard before it is kept. */
export interface Tool {
  id: string;
  name: string;
  group: ToolGroup;
  /** The letter that opens it once the menu of its group is open. */
  letter: string;
  /** Works without a selection. */
  free?: true;
  fields(bench: Bench): Field[];
  commands(values: ToolValues, bench: Bench): Command[];
  /** What the user should know about the values as they are. */
  remark?(values: ToolValues, bench: Bench): string | undefined;
  /** Changes the selection instead of the song. */
  select?(values: ToolValues, bench: Bench): string[];
}

/** The values of a tool, read by what they are. */
export class ToolValues {
  constructor(private readonly values: Readonly<Record<string, ToolValue>>) {}
  number(id: string): number {
    return Number(this.values[id]);
  }
  text(id: string): string {
    return String(this.values[id] ?? '');
  }
  list(id: string): readonly number[] {
    const value = this.values[id];
    return Array.isArray(value) ? value : [];
  }
}

export const number = (
  id: string,
  label: string,
  value: number,
  [min, max]: readonly [number, number],
  more: { step?: number; unit?: string } = {},
): Field => ({ kind: 'number', id, label, value, min, max, ...more });

export const choice = (
  id: string,
  label: string,
  value: string,
  options: readonly (readonly [string, string])[],
): Field => ({ kind: 'choice', id, label, value, options });

export const seed: Field = { kind: 'seed', id: 'seed', label: 'roll', value: 1 };
export const percent = (id: string, label: string, value: number, high = 100) =>
  number(id, label, value, [0, high], { unit: '%' });
export const velocity = (id: string, label: string, value: number) =>
  number(id, label, value, HIT_LIMITS.velocity);
export const ms = (id: string, label: string, value: number, limits: readonly [number, number]) =>
  number(id, label, value, limits, { unit: 'ms' });

export const RATES = STEP_RATES.map(({ ticks, name }) => [String(ticks), name] as const);

export function by<K extends HandName>(
  { pattern, ids }: Bench,
  type: K,
  options: OptionsOf<K>,
): Command[] {
  return [{ pattern: pattern.id, type, ids, options } as { pattern: string } & HandCommand];
}

/** The softest and loudest of the chosen hits, in the order they are struck. */
export function ends({ pattern, ids }: Bench): [first: number, last: number] {
  const hits = chosenHits(pattern, new Set(ids)).sort((a, b) => a.hit.at - b.hit.at);
  return [hits[0]?.hit.velocity ?? 40, hits.at(-1)?.hit.velocity ?? 112];
}

/** The piece all chosen hits are on, or the cursor's. */
export function pieceHere({ pattern, ids }: Bench): string {
  const chosen = chosenHits(pattern, new Set(ids));
  return chosen[0]?.piece ?? useWorkbench.getState().cursor.piece;
}

export const rowOptions = (pattern: Pattern, but?: string) =>
  pattern.strands
    .filter(({ piece }) => piece !== but)
    .map(({ piece }) => [piece, pieceOf(piece).name] as const);
export const cursorPiece = () => useWorkbench.getState().cursor.piece;

export const LANE_OPTIONS = Object.entries(LANES).map(([id, { name }]) => [id, name] as const);
