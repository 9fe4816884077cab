import { whyUnchanged } from '@/core';
import { allIds } from '@/core/pattern';
import { cancelGesture, commitGesture, preview } from './edit';
import { chosenIds, select } from './shape';
import { notify, openSongNow, shownPattern, useWorkbench, type ToolValue } from './store';
import { findTool, ToolValues, type Bench } from './tools';

/** What a tool works on now: the pattern as it is without the preview. */
export function benchNow(ids: readonly string[]): Bench | undefined {
  const { gesture } = useWorkbench.getState();
  const song = gesture?.before.song ?? openSongNow();
  const shown = shownPattern(useWorkbench.getState());
  const pattern = song.patterns.find(({ id }) => id === shown?.id);
  return pattern && { pattern, ids, bpm: song.tempo[0].bpm };
}

/** Opens a tool on the chosen hits and shows at once what it does. */
export function openTool(id: string): void {
  commitGesture();
  const tool = findTool(id);
  const ids = chosenIds();
  const bench = benchNow(ids);
  if (!tool || !bench) return;
  if (ids.length === 0 && !tool.free) {
    notify(
      'Nothing is selected. Select hits first: drag with Shift, or press R for a row.',
      'error',
    );
    return;
  }
  const values = Object.fromEntries(tool.fields(bench).map((field) => [field.id, field.value]));
  if (ids.length > 0) select(ids);
  useWorkbench.setState({ tool: { id, ids, values }, menu: undefined });
  apply();
}

/** Changes one value of the open tool; what it does is seen and heard at once. */
export function setToolValue(id: string, value: ToolValue): void {
  const { tool } = useWorkbench.getState();
  if (!tool) return;
  useWorkbench.setState({ tool: { ...tool, values: { ...tool.values, [id]: value } } });
  apply();
}

function apply(): void {
  const { tool: open } = useWorkbench.getState();
  const tool = open && findTool(open.id);
  const bench = open && benchNow(open.ids);
  if (!open || !tool || !bench) return;
  const values = new ToolValues(open.values);
  if (tool.select) {
    select(tool.select(values, bench));
    return;
  }
  const commands = tool.commands(values, bench);
  const before = useWorkbench.getState().gesture?.before.song ?? openSongNow();
  preview(commands, tool.name.replace(/ …$/, ''));
  const same = openSongNow() === before;
  const problem = same
    ? commands.map((command) => whyUnchanged(before, command)).find(Boolean)
    : undefined;
  if (problem !== open.problem) useWorkbench.setState({ tool: { ...open, problem } });
}

/** Rolls the dice of the open tool again. */
export function rollAgain(): void {
  const { tool } = useWorkbench.getState();
  if (tool?.values.seed !== undefined) setToolValue('seed', Number(tool.values.seed) + 1);
}

/** Keeps what the open tool shows, as one step of undo. */
export function keepTool(): void {
  const { tool } = useWorkbench.getState();
  if (!tool) return;
  const before = allOf();
  commitGesture();
  useWorkbench.setState({ tool: undefined });
  // Hits that a tool wrote are chosen, so that the next one works on them.
  const written = [...allOf()].filter((id) => !before.has(id));
  if (tool.id === 'roll' && written.length > 0) select(written);
}

function allOf(): ReadonlySet<string> {
  const { gesture } = useWorkbench.getState();
  const shown = shownPattern(useWorkbench.getState());
  const song = gesture?.before.song ?? openSongNow();
  const pattern = song.patterns.find(({ id }) => id === shown?.id);
  return pattern ? allIds(pattern) : new Set();
}

/** Takes back what the open tool shows. */
export function dropTool(): void {
  cancelGesture();
}
