import { commitGesture, redo, undo } from './edit';
import { GATHER_ACTIONS } from './gatherActions';
import { keyName } from './keyNames';
import * as routes from './routes';
import { newSong, restoreDemo } from './session';
import * as shape from './shape';
import * as pads from './pads';
import { fullName, GROUP_KEYS, MENU, openMenu } from './menus';
import { TOOL_GROUPS, useWorkbench, type Stage, type Workbench } from './store';
import * as toolbox from './toolbox';
import * as transport from './transport';
import * as turns from './turns';
import * as view from './view';
import * as weave from './weave';

/** Something the user can do by name: found in the palette, reached by its key, listed with it. */
export interface Action {
  id: string;
  name: string;
  group: 'play' | 'edit' | 'go' | 'gather' | 'shape' | 'tools' | 'weave' | 'files';
  /** Keys in the form `mod+shift+z`; `mod` is Ctrl, or Cmd on a Mac. Several are alternatives. */
  keys?: readonly string[];
  /** Keys one after another, the first of which opens a menu: shown, not bound. */
  chord?: readonly string[];
  /** Only on this stage. */
  stage?: Stage;
  /** Only while a song is open. */
  needsSong?: boolean;
  run: () => void;
}

/** How hard the digit keys 1 to 9 strike: from a ghost note to the hardest accent. */
export const STRENGTHS = [20, 33, 46, 60, 73, 86, 100, 113, 127] as const;

/** The hidden file field of the shell; it has to be pressed from a key or a click. */
let openPicker: () => void = () => {};
export function setFilePicker(open: () => void): void {
  openPicker = open;
}

const song = { needsSong: true } as const;
const shapeOnly = { group: 'shape', stage: 'shape', needsSong: true } as const;
const weaveOnly = { group: 'weave', stage: 'weave', needsSong: true } as const;

const stageAction = (stage: Stage, index: number): Action => ({
  ...song,
  id: `go-${stage}`,
  name: `go to ${stage[0].toUpperCase()}${stage.slice(1)}`,
  group: 'go',
  keys: [`alt+${index + 1}`],
  run: () => routes.goToStage(stage),
});

/** All commands, in the order the list of keys shows them. */
export const ACTIONS: readonly Action[] = [
  {
    ...song,
    id: 'play',
    name: 'play or stop',
    group: 'play',
    keys: ['space'],
    run: transport.playOrStop,
  },
  {
    ...song,
    id: 'to-start',
    name: 'go to the start',
    group: 'play',
    keys: ['home'],
    run: transport.toStart,
  },
  {
    ...song,
    id: 'hear',
    name: 'hear the pattern or the song',
    group: 'play',
    keys: ['h'],
    run: transport.toggleHear,
  },
  {
    ...song,
    id: 'click',
    name: 'click on or off',
    group: 'play',
    keys: ['c'],
    run: transport.toggleClick,
  },
  {
    ...song,
    id: 'count-in',
    name: 'count-in of one bar on or off',
    group: 'play',
    keys: ['n'],
    run: transport.toggleCountIn,
  },
  {
    ...song,
    id: 'no-loop',
    name: 'stop looping',
    group: 'play',
    keys: ['shift+l'],
    run: clearLoops,
  },

  { ...song, id: 'undo', name: 'undo', group: 'edit', keys: ['mod+z'], run: undo },
  { ...song, id: 'redo', name: 'redo', group: 'edit', keys: ['mod+shift+z', 'mod+y'], run: redo },
  {
    id: 'palette',
    name: 'find a command',
    group: 'edit',
    keys: ['mod+k'],
    run: () => openDialog('palette'),
  },
  {
    id: 'keys',
    name: 'list of keys',
    group: 'edit',
    keys: ['shift+slash', 'f1'],
    run: () => openDialog('keys'),
  },

  { id: 'go-songs', name: 'go to the songs', group: 'go', keys: ['alt+0'], run: routes.goToSongs },
  ...(['gather', 'shape', 'weave', 'balance', 'deliver'] as const).map(stageAction),

  {
    ...shapeOnly,
    id: 'write',
    name: 'place or remove a hit at the cursor; keep what a tool shows',
    keys: ['enter'],
    run: () => (useWorkbench.getState().tool ? toolbox.keepTool() : shape.writeAtCursor()),
  },
  ...STRENGTHS.map((velocity, i): Action => ({
    ...shapeOnly,
    id: `strike-${i + 1}`,
    name: `place a hit of strength ${i + 1} (velocity ${velocity})`,
    keys: [`${i + 1}`],
    run: () => shape.writeAtCursor(velocity),
  })),
  {
    ...shapeOnly,
    id: 'left',
    name: 'cursor one step left',
    keys: ['left'],
    run: () => shape.moveCursor(-1, 0),
  },
  {
    ...shapeOnly,
    id: 'right',
    name: 'cursor one step right',
    keys: ['right'],
    run: () => shape.moveCursor(1, 0),
  },
  {
    ...shapeOnly,
    id: 'up',
    name: 'cursor one row up',
    keys: ['up'],
    run: () => shape.moveCursor(0, -1),
  },
  {
    ...shapeOnly,
    id: 'down',
    name: 'cursor one row down',
    keys: ['down'],
    run: () => shape.moveCursor(0, 1),
  },
  {
    ...shapeOnly,
    id: 'select-left',
    name: 'select to the left',
    keys: ['shift+left'],
    run: () => shape.moveCursor(-1, 0, true),
  },
  {
    ...shapeOnly,
    id: 'select-right',
    name: 'select to the right',
    keys: ['shift+right'],
    run: () => shape.moveCursor(1, 0, true),
  },
  {
    ...shapeOnly,
    id: 'select-up',
    name: 'select one row up',
    keys: ['shift+up'],
    run: () => shape.moveCursor(0, -1, true),
  },
  {
    ...shapeOnly,
    id: 'select-down',
    name: 'select one row down',
    keys: ['shift+down'],
    run: () => shape.moveCursor(0, 1, true),
  },
  {
    ...shapeOnly,
    id: 'loop-bars',
    name: 'loop the bars of the selection or cursor',
    keys: ['l'],
    run: shape.loopChosen,
  },
  {
    ...shapeOnly,
    id: 'select-row',
    name: 'select the row',
    keys: ['r'],
    run: () => shape.selectRow(),
  },
  {
    ...shapeOnly,
    id: 'select-all',
    name: 'select everything',
    keys: ['mod+a'],
    run: shape.selectAll,
  },
  {
    ...shapeOnly,
    id: 'clear',
    name: 'select nothing; take back what a tool shows',
    keys: ['escape'],
    run: () => (useWorkbench.getState().tool ? toolbox.dropTool() : shape.clearSelection()),
  },
  { ...shapeOnly, id: 'louder', name: 'louder', keys: ['pageup'], run: () => shape.addVelocity(4) },
  {
    ...shapeOnly,
    id: 'softer',
    name: 'softer',
    keys: ['pagedown'],
    run: () => shape.addVelocity(-4),
  },
  {
    ...shapeOnly,
    id: 'earlier',
    name: 'move one step earlier',
    keys: ['alt+left'],
    run: () => shape.moveChosen(-1, 0),
  },
  {
    ...shapeOnly,
    id: 'later',
    name: 'move one step later',
    keys: ['alt+right'],
    run: () => shape.moveChosen(1, 0),
  },
  {
    ...shapeOnly,
    id: 'row-up',
    name: 'move one row up',
    keys: ['alt+up'],
    run: () => shape.moveChosen(0, -1),
  },
  {
    ...shapeOnly,
    id: 'row-down',
    name: 'move one row down',
    keys: ['alt+down'],
    run: () => shape.moveChosen(0, 1),
  },
  {
    ...shapeOnly,
    id: 'turn',
    name: 'strike it another way (open, rim, bell …)',
    keys: ['v'],
    run: shape.turnArticulation,
  },
  { ...shapeOnly, id: 'copy', name: 'copy hits', keys: ['mod+c'], run: shape.copyChosen },
  { ...shapeOnly, id: 'cut', name: 'cut hits', keys: ['mod+x'], run: shape.cutChosen },
  {
    ...shapeOnly,
    id: 'paste',
    name: 'paste hits at the cursor',
    keys: ['mod+v'],
    run: pasteUnlessText,
  },
  {
    ...shapeOnly,
    id: 'paste-onto',
    name: 'paste onto the row of the cursor',
    keys: ['mod+shift+v'],
    run: () => shape.paste({ onto: useWorkbench.getState().cursor.piece }),
  },
  {
    ...shapeOnly,
    id: 'paste-only',
    name: 'paste only what is for the rows of the selection, or of the cursor',
    keys: ['mod+alt+v'],
    run: () => shape.paste({ only: shape.chosenRows() }),
  },
  {
    ...shapeOnly,
    id: 'paste-mode',
    name: 'pasting adds, or replaces what is there',
    keys: ['shift+v'],
    run: shape.turnPasteMode,
  },
  {
    ...shapeOnly,
    id: 'paint-more',
    name: 'paint on every second, third … step',
    keys: ['bracketright'],
    run: () => shape.turnPaintEvery(1),
  },
  {
    ...shapeOnly,
    id: 'paint-less',
    name: 'paint more densely',
    keys: ['bracketleft'],
    run: () => shape.turnPaintEvery(-1),
  },
  {
    ...shapeOnly,
    id: 'mute-row',
    name: 'mute the row while listening',
    keys: ['m'],
    run: () => view.toggleMute(),
  },
  {
    ...shapeOnly,
    id: 'solo-row',
    name: 'solo the row while listening',
    keys: ['shift+m'],
    run: () => view.toggleSolo(),
  },
  {
    ...shapeOnly,
    id: 'hear-turn',
    name: 'hear the next change for the turn',
    keys: ['y'],
    run: turns.hearNextTurn,
  },
  {
    ...shapeOnly,
    id: 'take-turn',
    name: 'take the change that is heard',
    keys: ['u'],
    run: turns.takeHeardTurn,
  },
  {
    ...shapeOnly,
    id: 'dismiss-turn',
    name: 'dismiss the change that is heard',
    keys: ['shift+u'],
    run: turns.dismissHeardTurn,
  },
  { ...shapeOnly, id: 'grow-now', name: 'grow', keys: ['g'], run: turns.growPattern },
  {
    ...shapeOnly,
    id: 'zoom-in',
    name: 'zoom time in',
    keys: ['equal'],
    run: () => view.zoomTime(1.25),
  },
  {
    ...shapeOnly,
    id: 'zoom-out',
    name: 'zoom time out',
    keys: ['minus'],
    run: () => view.zoomTime(0.8),
  },
  {
    ...shapeOnly,
    id: 'rows-taller',
    name: 'taller rows',
    keys: ['shift+equal'],
    run: () => view.zoomRows(1.2),
  },
  {
    ...shapeOnly,
    id: 'rows-lower',
    name: 'lower rows',
    keys: ['shift+minus'],
    run: () => view.zoomRows(1 / 1.2),
  },
  { ...shapeOnly, id: 'zoom-fit', name: 'zoom to fit', keys: ['z'], run: view.zoomToFit },
  {
    ...shapeOnly,
    id: 'follow',
    name: 'follow the playhead or stay',
    keys: ['w'],
    run: view.toggleFollow,
  },
  { ...shapeOnly, id: 'pads', name: 'show or hide the pads', keys: ['p'], run: pads.togglePads },
  {
    ...shapeOnly,
    id: 'record',
    name: 'record the pads, or stop recording',
    keys: ['shift+p'],
    run: pads.toggleRecording,
  },
  {
    ...shapeOnly,
    id: 'record-mode',
    name: 'recording adds to what is there, or replaces it',
    keys: ['alt+p'],
    run: pads.turnRecordMode,
  },
  {
    ...shapeOnly,
    id: 'controller',
    name: 'listen to a MIDI controller',
    keys: ['alt+shift+p'],
    run: () => void pads.connectController(),
  },
  {
    ...shapeOnly,
    id: 'roll-again',
    name: 'roll the dice of a tool again',
    keys: ['x'],
    run: toolbox.rollAgain,
  },
  ...TOOL_GROUPS.map((group): Action => ({
    ...shapeOnly,
    id: `menu-${group}`,
    name: `menu: ${group === 'time' ? 'shape of time' : group}`,
    keys: [GROUP_KEYS[group]],
    run: () => openMenu(group),
  })),
  ...MENU.map((entry): Action => ({
    ...shapeOnly,
    id: entry.id,
    name: fullName(entry),
    group: 'tools',
    chord: [GROUP_KEYS[entry.group], entry.letter],
    run: entry.run,
  })),
  {
    ...shapeOnly,
    id: 'duplicate',
    name: 'duplicate hits after themselves',
    keys: ['mod+d'],
    run: shape.duplicateChosen,
  },
  {
    ...shapeOnly,
    id: 'delete',
    name: 'remove hits',
    keys: ['delete', 'backspace'],
    run: shape.removeChosen,
  },
  {
    ...shapeOnly,
    id: 'coarser',
    name: 'coarser steps',
    keys: ['comma'],
    run: () => shape.turnStep(-1),
  },
  {
    ...shapeOnly,
    id: 'finer',
    name: 'finer steps',
    keys: ['period'],
    run: () => shape.turnStep(1),
  },
  {
    ...shapeOnly,
    id: 'longer',
    name: 'one bar longer',
    keys: ['shift+period'],
    run: () => shape.addBars(1),
  },
  {
    ...shapeOnly,
    id: 'shorter',
    name: 'one bar shorter',
    keys: ['shift+comma'],
    run: () => shape.addBars(-1),
  },
  {
    ...shapeOnly,
    id: 'remove-strand',
    name: 'take this row out of the pattern',
    keys: ['shift+delete'],
    run: () => shape.removeStrand(),
  },
  {
    ...shapeOnly,
    id: 'next-pattern',
    name: 'next pattern',
    keys: ['j'],
    run: () => shape.turnPattern(1),
  },
  {
    ...shapeOnly,
    id: 'previous-pattern',
    name: 'previous pattern',
    keys: ['shift+j'],
    run: () => shape.turnPattern(-1),
  },
  {
    ...song,
    id: 'new-pattern',
    name: 'new pattern',
    group: 'shape',
    keys: ['alt+n'],
    run: newPatternInShape,
  },
  {
    ...shapeOnly,
    id: 'duplicate-pattern',
    name: 'duplicate the pattern',
    keys: ['alt+d'],
    run: shape.duplicatePattern,
  },
  {
    ...shapeOnly,
    id: 'remove-pattern',
    name: 'remove the pattern from the song',
    keys: ['alt+delete'],
    run: shape.removePattern,
  },

  ...GATHER_ACTIONS,

  {
    ...weaveOnly,
    id: 'previous-place',
    name: 'previous section',
    keys: ['left'],
    run: () => weave.turnPlace(-1),
  },
  {
    ...weaveOnly,
    id: 'next-place',
    name: 'next section',
    keys: ['right'],
    run: () => weave.turnPlace(1),
  },
  {
    ...weaveOnly,
    id: 'play-place',
    name: 'play from this section',
    keys: ['enter'],
    run: () => void transport.play(weave.selectedStart()),
  },
  {
    ...weaveOnly,
    id: 'add-section',
    name: 'add a section',
    keys: ['a'],
    run: () => weave.addSection(),
  },
  {
    ...weaveOnly,
    id: 'take-onto-place',
    name: 'lay strands of a pattern over this section …',
    keys: ['t'],
    run: () => openDialog('take'),
  },
  { ...weaveOnly, id: 'loop-place', name: 'loop this section', keys: ['l'], run: weave.loopPlace },
  {
    ...weaveOnly,
    id: 'repeat-place',
    name: 'repeat this section',
    keys: ['mod+d'],
    run: weave.repeatPlace,
  },
  {
    ...weaveOnly,
    id: 'place-earlier',
    name: 'move this section earlier',
    keys: ['alt+left'],
    run: () => weave.shiftPlace(-1),
  },
  {
    ...weaveOnly,
    id: 'place-later',
    name: 'move this section later',
    keys: ['alt+right'],
    run: () => weave.shiftPlace(1),
  },
  {
    ...weaveOnly,
    id: 'remove-place',
    name: 'remove this section',
    keys: ['delete', 'backspace'],
    run: weave.removePlace,
  },

  {
    ...song,
    id: 'guides',
    name: 'guides: a bass line to play against',
    group: 'files',
    keys: ['alt+g'],
    run: () => openDialog('guides'),
  },
  {
    id: 'import',
    name: 'import a MIDI file',
    group: 'files',
    keys: ['mod+o'],
    run: () => openPicker(),
  },
  {
    ...song,
    id: 'export',
    name: 'export MIDI',
    group: 'files',
    keys: ['mod+e'],
    run: () => routes.goToStage('deliver'),
  },
  {
    id: 'new-song',
    name: 'new song',
    group: 'files',
    keys: ['alt+shift+n'],
    run: () => void startSong(),
  },
  {
    id: 'demo',
    name: 'restore the demo songs',
    group: 'files',
    keys: ['alt+shift+r'],
    run: () => void restoreDemo(),
  },
];

export function openDialog(dialog: Workbench['dialog']): void {
  commitGesture();
  useWorkbench.setState({ dialog });
}

export function closeDialog(): void {
  useWorkbench.setState({ dialog: undefined });
}

export async function startSong(): Promise<void> {
  routes.goToSong(await newSong(), 'shape');
}

let pasting: ReturnType<typeof setTimeout> | undefined;

/**
 * Pastes the hits that were copied here, unless the browser's own clipboard turns out to hold
 * tablature: the page hears of that right after the key.
 */
function pasteUnlessText(): void {
  pasting = setTimeout(() => shape.paste());
}

/** Called when text was pasted that belongs elsewhere. */
export function keepFromPasting(): void {
  clearTimeout(pasting);
}

function newPatternInShape(): void {
  shape.addPattern();
  routes.goToStage('shape');
}

function clearLoops(): void {
  transport.setSongLoop(undefined);
  transport.setPatternLoop(undefined);
}

/** Whether an action can be done on the screen that is shown. */
export function isAvailable(action: Action, state: Workbench): boolean {
  const open = state.status === 'ready';
  return (!action.needsSong || open) && (!action.stage || (open && action.stage === state.stage));
}

/** The key of an action by its id, for tooltips; empty when it has none. */
export function keyOf(id: string): string {
  const action = ACTIONS.find((other) => other.id === id);
  return action ? keysOf(action) : '';
}

/** The first keys of an action, as a person reads them: "Ctrl K", or "T then Q". */
export function keysOf({ keys, chord }: Action): string {
  if (keys) return keyName(keys[0]);
  return chord ? chord.map(keyName).join(' then ') : '';
}
