import { ValidationError } from 'yup';
import { findStrand, type Command, type Song } from '@/core';
import {
  asks,
  CHOOSING,
  COMMANDS,
  fieldsOf,
  schemaOf,
  SELECT_FIRST,
  toldBy,
  type Bench,
  type ChoosingName,
  type CommandName,
  type Field,
  type Offer,
  type Values,
} from '@/core/commands';
import { allIds } from '@/core/pattern';
import { notify } from '../notices/notices';
import { cancelGesture, commitGesture, editOrSay, preview, songBefore } from '../session/edit';
import { patternOn, shownPattern, useWorkbench, type OpenTool, type ToolValue } from '../store';
import { chosenIds, rowsNow, select } from './shape';

/** What a command works on now: the pattern as it is without what a gesture shows. */
export function benchNow(ids: readonly string[] = chosenIds()): Bench | undefined {
  const state = useWorkbench.getState();
  const song = songBefore();
  const shown = shownPattern(state);
  const pattern = song && shown && patternOn(state, song);
  if (!song || !pattern) return undefined;
  const { cursor, articulations, lane } = state;
  const articulation = articulations[cursor.piece] ?? '';
  return { song, pattern, ids, cursor, articulation, lane: lane?.id ?? 'pan' };
}

/** What stands behind a name that is offered: what it takes, and how it is called. */
function offered(name: CommandName | ChoosingName): {
  values: Values;
  offer?: Offer;
  needsHits?: true;
} {
  return isChoosing(name) ? CHOOSING[name] : COMMANDS[name];
}

function isChoosing(name: string): name is ChoosingName {
  return Object.hasOwn(CHOOSING, name);
}

/** Makes an offered command, or opens its panel where it asks for something. */
export function runOffered(name: CommandName | ChoosingName): void {
  const { values, needsHits } = offered(name);
  if (asks(values)) return openTool(name as OpenTool['name']);
  commitGesture();
  const bench = benchNow();
  if (!bench) return;
  if (isChoosing(name)) {
    const { selection } = useWorkbench.getState();
    return select(onShownRows(CHOOSING[name].choose({ ...bench, ids: selection }, {} as never)));
  }
  if (needsHits && bench.ids.length === 0) return notify(SELECT_FIRST, 'error');
  editOrSay({ type: name, ...toldBy(values, bench) } as Command);
}

/**
 * Makes a command with given values at once, without its panel; what is not given is as the panel would ask.
 * Where nothing is selected it works on the row of the cursor.
 */
export function runWith(name: CommandName, values: Readonly<Record<string, ToolValue>>): void {
  commitGesture();
  const { selection, cursor } = useWorkbench.getState();
  const shown = shownPattern(useWorkbench.getState());
  const row = shown && findStrand(shown, cursor.piece)?.hits.map(({ id }) => id);
  const bench = benchNow(selection.length > 0 ? selection : row);
  if (!bench) return;
  if (bench.ids.length === 0) return notify(SELECT_FIRST, 'error');
  editOrSay({ type: name, ...toldBy(COMMANDS[name].values, bench, values) } as Command);
}

/** What is hidden is not chosen, so that nothing is changed unseen. */
function onShownRows(ids: readonly string[]): readonly string[] {
  const shown = shownPattern(useWorkbench.getState());
  if (!shown) return ids;
  const rows = new Set(rowsNow(shown));
  const hidden = shown.strands.filter(({ piece }) => !rows.has(piece));
  const unseen = new Set(hidden.flatMap(({ hits }) => hits.map(({ id }) => id)));
  return unseen.size === 0 ? ids : ids.filter((id) => !unseen.has(id));
}

/** Opens the panel of a command on the chosen hits and shows at once what it does. */
function openTool(name: OpenTool['name']): void {
  commitGesture();
  // What chooses hits begins with what is selected, and not with the cursor.
  const { selection } = useWorkbench.getState();
  const bench = isChoosing(name) ? benchNow(selection) : benchNow();
  if (!bench) return;
  const { values, needsHits } = offered(name);
  if (bench.ids.length === 0 && needsHits) return notify(SELECT_FIRST, 'error');
  if (bench.ids.length > 0) select(bench.ids);
  const set = Object.fromEntries(fieldsOf(values, bench).map((field) => [field.name, field.value]));
  useWorkbench.setState({ tool: { name, ids: bench.ids, values: set }, menu: undefined });
  apply();
}

/** The open panel as it is drawn: what it is called, its fields, and what there is to know. */
export interface ToolShown {
  title: string;
  fields: Field[];
  /** What is wrong with the value of a field, by its name. */
  problems: Readonly<Record<string, string>>;
  /** How many hits it works on; absent where it works on none. */
  hits?: number;
  remark?: string;
  /** It chooses hits instead of changing them. */
  chooses: boolean;
}

export function toolShown(open: OpenTool): ToolShown | undefined {
  const bench = benchNow(open.ids);
  const { values, offer, needsHits } = offered(open.name);
  if (!bench || !offer) return undefined;
  const told = toldBy(values, bench, open.values);
  const remark = open.problem ?? offer.remark?.(told as never, bench);
  return {
    title: offer.words.replace(/ …$/, ''),
    fields: fieldsOf(values, bench),
    problems: problemsOf(values, told, bench.song),
    ...(needsHits && { hits: open.ids.length }),
    ...(remark && { remark }),
    chooses: isChoosing(open.name),
  };
}

/** What is wrong with what is asked for; what is found by itself is looked at when it is run. */
function problemsOf(values: Values, told: Record<string, unknown>, song: Song) {
  const asked = Object.entries(values).filter(([, { ask }]) => ask);
  try {
    schemaOf(Object.fromEntries(asked), song).validateSync(told, {
      abortEarly: false,
      strict: true,
    });
    return {};
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    return Object.fromEntries(error.inner.map(({ path, message }) => [path, message]));
  }
}

/** Changes one value of the open panel; what it does is seen and heard at once. */
export function setToolValue(name: string, value: ToolValue): void {
  const { tool } = useWorkbench.getState();
  if (!tool) return;
  useWorkbench.setState({ tool: { ...tool, values: { ...tool.values, [name]: value } } });
  apply();
}

function apply(): void {
  const { tool: open } = useWorkbench.getState();
  const bench = open && benchNow(open.ids);
  if (!open || !bench) return;
  const { values, offer } = offered(open.name);
  const told = toldBy(values, bench, open.values);
  if (isChoosing(open.name)) {
    select(onShownRows(CHOOSING[open.name].choose(bench, told as never)));
    return;
  }
  const command = { type: open.name, ...told } as Command;
  const problem = preview([command], offer?.words.replace(/ …$/, '') ?? open.name);
  if (problem !== open.problem) useWorkbench.setState({ tool: { ...open, problem } });
}

/** Rolls the dice of the open panel again. */
export function rollAgain(): void {
  const { tool } = useWorkbench.getState();
  if (tool?.values.seed !== undefined) setToolValue('seed', Number(tool.values.seed) + 1);
}

/** Keeps what the open panel shows, as one step of undo. */
export function keepTool(): void {
  const { tool } = useWorkbench.getState();
  if (!tool) return;
  const before = idsBefore();
  commitGesture();
  useWorkbench.setState({ tool: undefined });
  // Hits that were written are chosen, so that the next command works on them.
  const written = [...idsBefore()].filter((id) => !before.has(id));
  if (tool.name === 'write a roll' && written.length > 0) select(written);
}

function idsBefore(): ReadonlySet<string> {
  const bench = benchNow([]);
  return bench ? allIds(bench.pattern) : new Set();
}

/** Takes back what the open panel shows. */
export function dropTool(): void {
  const { tool } = useWorkbench.getState();
  cancelGesture();
  // What was selected before is selected again.
  if (tool && isChoosing(tool.name)) select(tool.ids);
}
