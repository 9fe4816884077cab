import { fullName, GROUP_KEYS, MENU, openMenu } from '../menus';
import * as pads from '../pads';
import * as routes from '../routes';
import * as shape from '../shape';
import { TOOL_GROUPS, useWorkbench } from '../store';
import * as toolbox from '../toolbox';
import * as turns from '../turns';
import * as view from '../view';
import type { Action } from './action';

/** How hard the digit keys 1 to 9 strike: from a ghost note to the hardest accent. */
export const STRENGTHS = [20, 33, 46, 60, 73, 86, 100, 113, 127] as const;

const song = { needsSong: true } as const;
const shapeOnly = { group: 'shape', stage: 'shape', needsSong: true } as const;

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

/** What is done in Shape. */
export const SHAPE_ACTIONS: readonly Action[] = [
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
];
