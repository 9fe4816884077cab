import { nanoid } from 'nanoid';
import type { Command } from '@/core';
import { grownSelection, invertedSelection, shrunkSelection, LANES, type LaneId, chosenHits } from '@/core/pattern';
import type { HandCommand, HandName, OptionsOf } from '@/core/commands';
import { barTicks } from '@/core/time';
import { commitGesture, editOrSay } from './edit';
import * as shape from './shape';
import { notify, shownPattern, useWorkbench, type ToolGroup } from './store';
import { openTool } from './toolbox';
import { TOOLS } from './tools';
import { growPattern, offerTurns } from './turns';
import * as view from './view';

/** One line of the menu of a group: a tool, or something that is done at once. */
export interface MenuEntry {
  id: string;
  name: string;
  group: ToolGroup;
  letter: string;
  run: () => void;
}

/** The key that opens the menu of a group. */
export const GROUP_KEYS: Readonly<Record<ToolGroup, string>> = {
  select: 'f',
  velocity: 'd',
  timing: 't',
  voice: 'i',
  time: 's',
  ornaments: 'o',
  row: 'k',
  pattern: 'b',
};

const shown = () => shownPattern(useWorkbench.getState());

/** A hand that needs no values. */
function atOnce<K extends HandName>(type: K, options: OptionsOf<K>): void {
  const pattern = shown();
  if (!pattern) return;
  const command = { pattern: pattern.id, type, ids: shape.chosenIds(), options };
  editOrSay(command as { pattern: string } & HandCommand);
}

type WithoutPattern<T> = T extends { pattern: string } ? Omit<T, 'pattern'> : never;

function toPattern(command: WithoutPattern<Command>): void {
  const pattern = shown();
  if (pattern) editOrSay({ ...command, pattern: pattern.id } as Command);
}

function reselect(change: (pattern: NonNullable<ReturnType<typeof shown>>) => string[]): void {
  const pattern = shown();
  if (pattern) shape.select(change(pattern));
}

const chosen = () => new Set(useWorkbench.getState().selection);

/** The bars of the selection, or the bar of the cursor, counted from 0. */
function barsHere(): { from: number; to: number } {
  const pattern = shown();
  const { selection, cursor } = useWorkbench.getState();
  if (!pattern) return { from: 0, to: 1 };
  const ats = chosenHits(pattern, new Set(selection)).map(({ hit }) => hit.at);
  const places = ats.length > 0 ? ats : [cursor.at];
  const bar = barTicks(pattern.meter);
  return {
    from: Math.floor(Math.min(...places) / bar),
    to: Math.floor(Math.max(...places) / bar) + 1,
  };
}

const AT_ONCE: readonly MenuEntry[] = (
  [
    ['select', 'select-everything', 'everything', 'a', shape.selectAll],
    ['select', 'select-this-row', 'the row', 'r', () => shape.selectRow()],
    ['select', 'select-bar', 'the bar', 'b', shape.selectBar],
    [
      'select',
      'grow-selection',
      'grow by a hit each way',
      'g',
      () => reselect((p) => grownSelection(p, chosen())),
    ],
    [
      'select',
      'shrink-selection',
      'shrink by a hit each way',
      's',
      () => reselect((p) => shrunkSelection(p, chosen())),
    ],
    [
      'select',
      'invert-selection',
      'invert',
      'i',
      () => reselect((p) => invertedSelection(p, chosen())),
    ],

    ['voice', 'turn-way', 'next articulation', 'v', shape.turnArticulation],

    ['time', 'reverse', 'reverse', 'r', () => atOnce('reverse', {})],
    ['time', 'mirror', 'mirror', 'm', () => atOnce('mirror', {})],
    ['time', 'half-time', 'half time', 'h', () => atOnce('half time', {})],
    ['time', 'double-time', 'double time', 'd', () => atOnce('double time', {})],
    ['time', 'fill-bar', 'repeat to fill the bar', 'b', () => shape.fillWithChosen('bar')],
    [
      'time',
      'fill-pattern',
      'repeat to fill the pattern',
      'p',
      () => shape.fillWithChosen('pattern'),
    ],

    ['ornaments', 'reverse-sound', 'reverse the sound', 'x', () => atOnce('reverse the sound', {})],
    [
      'ornaments',
      'plain',
      'take ornaments off',
      'z',
      () => atOnce('take ornaments off', { of: 'all' }),
    ],

    ['row', 'open-row', 'open or close', 'o', () => view.turnRowView('open')],
    ['row', 'fold-row', 'fold or unfold', 'f', () => view.turnRowView('folded')],
    ['row', 'hide-row', 'hide', 'h', () => view.turnRowView('hidden')],
    ['row', 'show-rows', 'show all rows', 'a', view.showAllRows],
    ['row', 'row-higher', 'move up', 'u', () => view.moveCursorRow(-1)],
    ['row', 'row-lower', 'move down', 'd', () => view.moveCursorRow(1)],
    ['row', 'staff-order', 'back to staff order', 't', view.staffOrderRows],
    ['row', 'hear-all', 'hear all rows again', 'e', view.hearAllRows],
    ['row', 'as-it-came', 'as it came from its groove', 'c', asItCame],
    ['row', 'clear-row', 'take its hits out', 'q', clearRow],
    ['row', 'remove-row', 'take out of the pattern', 'x', () => shape.removeStrand()],
    ...(Object.keys(LANES) as LaneId[])
      .filter((id) => id !== 'velocity')
      .map((id, i) => [
        'row',
        `lane-${id}`,
        `lane: ${LANES[id].name}`,
        String(i + 1),
        () => view.showLane(id),
      ]),
    ['row', 'no-lane', 'close the lane', '0', () => view.showLane(undefined)],

    ['pattern', 'grow', 'grow: double it, open the turn', 'g', growPattern],
    ['pattern', 'offer-turns', 'offer changes for the last bar', 'o', offerTurns],
    [
      'pattern',
      'write-swing',
      'write the swing into the hits',
      'w',
      () => toPattern({ type: 'write swing into the hits' }),
    ],
    ['pattern', 'take-swing', 'take the swing out of the hits', 't', takeSwingOut],
    [
      'pattern',
      'write-cycles',
      'write cycles and loops out',
      'c',
      () => toPattern({ type: 'write cycles out' }),
    ],
    [
      'pattern',
      'insert-bar',
      'insert a bar before',
      'i',
      () => toPattern({ type: 'insert bars', before: barsHere().from, count: 1 }),
    ],
    [
      'pattern',
      'repeat-bars',
      'repeat the bar',
      'r',
      () => toPattern({ type: 'repeat bars', ...barsHere() }),
    ],
    [
      'pattern',
      'remove-bars',
      'remove the bar',
      'x',
      () => toPattern({ type: 'remove bars', ...barsHere() }),
    ],
    [
      'pattern',
      'crop',
      'crop to the bar',
      'k',
      () => toPattern({ type: 'crop to bars', ...barsHere() }),
    ],
    ['pattern', 'split', 'cut in two at the bar of the cursor', 'u', splitHere],
    ['pattern', 'take-to', 'take strands to other patterns …', 'p', openTake],
    ['pattern', 'tablature', 'drum tablature …', 'y', openTablature],
  ] as [ToolGroup, string, string, string, () => void][]
).map(([group, id, name, letter, run]) => ({ id, name, group, letter, run }));

function takeSwingOut(): void {
  const pattern = shown();
  if (pattern) toPattern({ type: 'take swing out of the hits', unit: pattern.step });
}

function asItCame(): void {
  toPattern({ type: 'as it came', piece: useWorkbench.getState().cursor.piece });
}

function clearRow(): void {
  toPattern({ type: 'clear strand', piece: useWorkbench.getState().cursor.piece });
}

/** Both parts go onto the shelf; the pattern itself plays on where it is laid out. */
function splitHere(): void {
  const pattern = shown();
  if (!pattern) return;
  const at = barsHere().from * barTicks(pattern.meter);
  const command: Command = {
    type: 'split pattern',
    id: pattern.id,
    at,
    ids: [nanoid(8), nanoid(8)],
  };
  if (editOrSay(command)) notify('Both parts are on the shelf, behind the whole.');
}

function openTake(): void {
  commitGesture();
  useWorkbench.setState({ dialog: 'take' });
}

export function openTablature(): void {
  commitGesture();
  useWorkbench.setState({ dialog: 'tablature' });
}

/** Every line of every menu: what is done at once first, then what asks for values. */
export const MENU: readonly MenuEntry[] = [
  ...AT_ONCE,
  ...TOOLS.map(({ id, name, group, letter }) => ({
    id,
    name,
    group,
    letter,
    run: () => openTool(id),
  })),
];

export function openMenu(menu: ToolGroup | undefined): void {
  useWorkbench.setState({ menu });
}

/** What a line of a menu is called where its group is not seen: "velocity: ramp …". */
export function fullName({ group, name }: MenuEntry): string {
  return `${group === 'time' ? 'shape of time' : group}: ${name}`;
}
