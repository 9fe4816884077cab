import { nanoid } from 'nanoid';
import type { Command } from '@/core';
import { MENUS, type Menu } from '@/core/commands';
import { barOfStep, LANES, type LaneId } from '@/core/pattern';
import { openDialog } from '../dialogs/dialogs';
import { liftHere, ownTracksHere } from '../balance/lifting';
import { notify } from '../notices/notices';
import { platform } from '../platform';
import { edit, editOrSay } from '../session/edit';
import * as pads from '../shape/pads';
import * as routes from '../routes';
import { moreLikeShown } from '../gather/drafted';
import { askToPut } from '../gather/ownLibrary';
import { removeShown } from '../gather/shelf';
import * as clips from '../shape/clips';
import * as frame from '../shape/frame';
import * as shape from '../shape/shape';
import { useWorkbench } from '../store';
import * as toolbox from '../shape/toolbox';
import * as turns from '../shape/turns';
import * as view from '../shape/view';
import { MENU_KEYS, type Act } from './act';
import { pasteUnlessElse } from './pasting';

/** How hard the digit keys 1 to 9 strike: from a ghost note to the hardest accent. */
export const STRENGTHS = [20, 33, 46, 60, 73, 86, 100, 113, 127] as const;

/** On which times a pattern is played its hits may sound, with a key for each: every n-th, from 1 on. */
const EVERY = ['every time', 'every second time', 'every third time', 'every fourth time'] as const;

const song = { needsSong: true } as const;
const shapeOnly = { group: 'shape', stage: 'shape', needsSong: true } as const;

function newPatternInShape(): void {
  shape.addPattern();
  routes.goToStage('shape');
}

const inMenu = (of: Menu, letter: string, words: string): Act['menu'] => ({ of, letter, words });

/** A line of a menu that has no key of its own. */
const line = (of: Menu, letter: string, id: string, words: string, run: () => void): Act => ({
  ...shapeOnly,
  group: 'tools',
  id,
  name: `${MENUS[of]}: ${words}`,
  menu: { of, letter, words },
  run,
});

/** Both parts go onto the shelf; the pattern itself plays on where it is laid out. */
function splitHere(): void {
  const bench = toolbox.benchNow();
  if (!bench) return;
  const { from } = barOfStep(bench.pattern, bench.cursor.at);
  const command: Command = {
    type: 'split pattern',
    id: bench.pattern.id,
    at: from,
    first: nanoid(8),
    second: nanoid(8),
  };
  if (from === 0) notify('Put the cursor inside the pattern: it is cut at the bar of the cursor.');
  else if (editOrSay(command)) notify('Both parts are on the shelf, behind the whole.');
}

/** Moves the shown pattern along the shelf. */
function movePattern(by: 1 | -1): void {
  const bench = toolbox.benchNow();
  if (!bench) return;
  const now = bench.song.patterns.indexOf(bench.pattern);
  if (now + by >= 0) edit({ type: 'move pattern', id: bench.pattern.id, to: now + by });
}

/** The lines of the menus that are no commands of the song: how it is shown, and what opens. */
const MENU_LINES: readonly Act[] = [
  line('row', 'o', 'open-row', 'open or close', () => view.toggleRowView('open')),
  line('row', 'f', 'fold-row', 'fold or unfold', () => view.toggleRowView('folded')),
  line('row', 'h', 'hide-row', 'hide', () => view.toggleRowView('hidden')),
  line('row', 'a', 'show-rows', 'show all rows', view.showAllRows),
  line('row', 'g', 'only-track', 'its track alone, or all', () => view.toggleOnlyTrack()),
  line('row', 'u', 'row-higher', 'move up', () => view.moveCursorRow(-1)),
  line('row', 'd', 'row-lower', 'move down', () => view.moveCursorRow(1)),
  line('row', 't', 'staff-order', 'back to staff order', view.staffOrderRows),
  line('row', 'e', 'hear-all', 'hear all rows again', view.hearAllRows),
  line('row', 'n', 'add-strand', 'another kit piece …', () => {
    platform.reachField('add a kit piece');
  }),
  ...(Object.keys(LANES) as LaneId[])
    .filter((id) => id !== 'velocity')
    .map((id, i) =>
      line('row', String(i + 1), `lane-${id}`, `lane: ${LANES[id].name}`, () => view.showLane(id)),
    ),
  line('row', '0', 'no-lane', 'close the lane', () => view.showLane(undefined)),
  line('pattern', 'o', 'offer-turns', 'offer changes for the last bar', turns.offerTurns),
  line('pattern', 'u', 'split', 'cut in two at the bar of the cursor', splitHere),
  line('pattern', 'p', 'take-to', 'copy parts to other patterns …', () => openDialog('take')),
  line('pattern', 'l', 'lift-track', 'extract the track of this row to a new pattern', () =>
    liftHere(false),
  ),
  line('pattern', 'j', 'lift-cropped', 'extract it, cropped to its hits', () => liftHere(true)),
  line('pattern', 'n', 'own-tracks', 'separate by track: a pattern for each', ownTracksHere),
  line('pattern', 'y', 'tablature', 'drum tablature …', () => openDialog('tablature')),
];

/** What is done in Shape. */
export const SHAPE_ACTS: readonly Act[] = [
  {
    ...shapeOnly,
    id: 'write',
    name: 'place or remove a hit at the cursor; keep what a tool shows',
    keys: ['enter'],
    run: () => (useWorkbench.getState().tool ? toolbox.keepTool() : shape.writeAtCursor()),
  },
  ...STRENGTHS.map((velocity, i): Act => ({
    ...shapeOnly,
    id: `strike-${i + 1}`,
    name: `place a hit of strength ${i + 1} (velocity ${velocity}), or give it to the selection`,
    keys: [`${i + 1}`],
    run: () => shape.strikeChosen(velocity),
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
    id: 'clear',
    name: 'select nothing; take back what a tool shows; leave the changes for the turn',
    keys: ['escape'],
    run: () => {
      const { tool, selection, turn } = useWorkbench.getState();
      if (tool) toolbox.dropTool();
      else if (selection.length === 0 && turn) turns.closeTurns();
      else shape.clearSelection();
    },
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
    id: 'nudge-earlier',
    name: 'play it a millisecond earlier',
    also: 'nudge push fine ahead',
    keys: ['alt+shift+left'],
    run: () => shape.nudgeChosen(-1),
  },
  {
    ...shapeOnly,
    id: 'nudge-later',
    name: 'play it a millisecond later',
    also: 'nudge lay back fine behind',
    keys: ['alt+shift+right'],
    run: () => shape.nudgeChosen(1),
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
    id: 'next-articulation',
    name: 'strike it another way (open, rim, bell …)',
    keys: ['v'],
    menu: inMenu('voice', 'v', 'next articulation'),
    run: shape.nextArticulation,
  },
  {
    ...shapeOnly,
    id: 'quantize-row',
    name: 'quantize the selection, or the row, onto its steps',
    also: 'snap grid tighten',
    keys: ['q'],
    run: () => toolbox.runWith('quantize', {}),
  },
  ...EVERY.map((words, i): Act => ({
    ...shapeOnly,
    id: `every-${i + 1}`,
    name: `the selection, or the row, sounds ${words}`,
    also: 'cycle pass conditional repeat',
    keys: [`shift+${i + 1}`],
    run: () => toolbox.runWith('cycle', { of: i + 1, on: [1] }),
  })),
  {
    ...shapeOnly,
    id: 'copy',
    name: 'copy hits',
    keys: ['mod+c'],
    passes: true,
    run: clips.copyChosen,
  },
  {
    ...shapeOnly,
    id: 'cut',
    name: 'cut hits',
    keys: ['mod+x'],
    passes: true,
    run: clips.cutChosen,
  },
  {
    ...shapeOnly,
    id: 'paste',
    name: 'paste hits at the cursor',
    keys: ['mod+v'],
    passes: true,
    run: () => pasteUnlessElse(() => clips.paste()),
  },
  {
    ...shapeOnly,
    id: 'paste-onto',
    name: 'paste onto the row of the cursor',
    keys: ['mod+shift+v'],
    run: () => clips.paste({ onto: useWorkbench.getState().cursor.piece }),
  },
  {
    ...shapeOnly,
    id: 'paste-only',
    name: 'paste only what is for the rows of the selection, or of the cursor',
    keys: ['mod+alt+v'],
    run: () => clips.paste({ only: shape.chosenRows() }),
  },
  {
    ...shapeOnly,
    id: 'paste-mode',
    name: 'pasting adds, or replaces what is there',
    keys: ['shift+v'],
    run: clips.togglePasteMode,
  },
  {
    ...shapeOnly,
    id: 'paint-more',
    name: 'paint on every second, third … step',
    keys: ['bracketright'],
    run: () => shape.changePaintEvery(1),
  },
  {
    ...shapeOnly,
    id: 'paint-less',
    name: 'paint more densely',
    keys: ['bracketleft'],
    run: () => shape.changePaintEvery(-1),
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
  {
    ...shapeOnly,
    id: 'grow',
    name: 'grow: double it, vary its end',
    keys: ['g'],
    menu: inMenu('pattern', 'g', 'grow: double it, vary its end'),
    run: turns.growPattern,
  },
  {
    ...shapeOnly,
    id: 'usual-kit',
    name: 'have the usual kit play it',
    also: 'transcribe slices loop',
    run: turns.playOnUsualKit,
  },
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
    run: pads.toggleRecordMode,
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
  ...(Object.keys(MENUS) as Menu[]).map((menu): Act => ({
    ...shapeOnly,
    id: `menu-${menu}`,
    name: `menu: ${MENUS[menu]}`,
    keys: [MENU_KEYS[menu]],
    run: () => view.openMenu(menu),
  })),
  {
    ...shapeOnly,
    id: 'duplicate',
    name: 'duplicate hits after themselves',
    keys: ['mod+d'],
    run: clips.duplicateChosen,
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
    run: () => frame.nextStepRate(-1),
  },
  {
    ...shapeOnly,
    id: 'finer',
    name: 'finer steps',
    keys: ['period'],
    run: () => frame.nextStepRate(1),
  },
  {
    ...shapeOnly,
    id: 'triplets',
    name: 'triplets, or straight steps',
    keys: ['alt+period'],
    run: frame.toggleTriplets,
  },
  {
    ...shapeOnly,
    id: 'longer',
    name: 'one bar longer',
    keys: ['shift+period'],
    run: () => frame.addBars(1),
  },
  {
    ...shapeOnly,
    id: 'shorter',
    name: 'one bar shorter',
    keys: ['shift+comma'],
    run: () => frame.addBars(-1),
  },
  {
    ...shapeOnly,
    id: 'remove-strand',
    name: 'take this row out of the pattern',
    keys: ['shift+delete'],
    menu: inMenu('row', 'x', 'remove from the pattern'),
    run: () => frame.removeStrand(),
  },
  {
    ...shapeOnly,
    id: 'next-pattern',
    name: 'next pattern',
    keys: ['j'],
    run: () => shape.nextPattern(1),
  },
  {
    ...shapeOnly,
    id: 'previous-pattern',
    name: 'previous pattern',
    keys: ['shift+j'],
    run: () => shape.nextPattern(-1),
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
    id: 'more-like-pattern',
    name: 'draft eight patterns like this one',
    also: 'more like this neighbours variations generate',
    run: moreLikeShown,
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
    id: 'rename',
    name: 'rename the pattern',
    run: () => platform.reachField('name of the pattern'),
  },
  {
    ...shapeOnly,
    id: 'pattern-kind',
    name: 'kind of the pattern',
    run: () => platform.reachField('kind'),
  },
  {
    ...shapeOnly,
    id: 'pattern-meter',
    name: 'meter of the pattern',
    run: () => platform.reachField('meter'),
  },
  {
    ...shapeOnly,
    id: 'pattern-later',
    name: 'move the pattern later on the shelf',
    run: () => movePattern(1),
  },
  {
    ...shapeOnly,
    id: 'pattern-earlier',
    name: 'move the pattern earlier on the shelf',
    run: () => movePattern(-1),
  },
  ...MENU_LINES,
  {
    ...shapeOnly,
    id: 'to-library',
    name: 'put the pattern into the library …',
    also: 'own groove family tags save',
    keys: ['alt+l'],
    run: () => askToPut(),
  },
  {
    ...shapeOnly,
    id: 'remove-pattern',
    name: 'remove the pattern from the song',
    keys: ['alt+delete'],
    run: removeShown,
  },
];
