import * as routes from '../routes';
import { backUpInto, saveBackup, stopBackingUp } from '../session/backups';
import { handOver, handOverAgain, printChart, stopWriting } from '../deliver/writing';
import { showHanded } from '../deliver/wishes';
import { compareWithFile, saveSongFile } from '../session/files';
import { makePoint, openPoints } from '../session/savePoints';
import { newSong, restoreDemo } from '../session/session';
import { toggleLock } from '../weave/weave';
import { notify } from '../notices/notices';
import { openDialog } from '../dialogs/dialogs';
import { BEGINNINGS } from '../session/beginnings';
import { platform } from '../platform';
import { useWorkbench } from '../store';
import type { Act } from './act';

const song = { needsSong: true } as const;

export async function startSong(): Promise<void> {
  routes.goToSong(await newSong(), 'shape');
}

function takeNewVersion(): void {
  if (!platform.takeNewVersion()) notify('This is the newest version that your browser has found.');
}

function install(): void {
  if (platform.install()) return;
  notify(
    'The browser does not offer to install it now: it may be installed already, or its menu has an entry for it.',
  );
}

/** So many frames the stage that is gone to is waited for. */
const FRAMES = 240;

/** Writes the files that Deliver lists; from another stage, goes there and puts the focus on what does so. */
function exportNow(): void {
  if (useWorkbench.getState().stage === 'deliver') return void handOver();
  routes.goToStage('deliver');
  const focus = (frames: number): void => {
    const there =
      useWorkbench.getState().stage === 'deliver' && platform.focusOn('[data-hand-over]');
    if (!there && frames > 0) platform.afterFrame(() => focus(frames - 1));
  };
  focus(FRAMES);
}

/** Files in and out, and songs. */
export const FILE_ACTS: readonly Act[] = [
  {
    ...song,
    id: 'make-point',
    name: 'make a save point',
    also: 'version snapshot copy keep',
    group: 'files',
    keys: ['alt+s'],
    run: () => void makePoint(),
  },
  {
    ...song,
    id: 'save-points',
    name: 'save points: compare, bring back …',
    also: 'versions compare restore difference',
    group: 'files',
    keys: ['alt+shift+s'],
    run: openPoints,
  },
  {
    ...song,
    id: 'compare-file',
    name: 'compare with a file: a colleague’s version …',
    also: 'merge versions take over',
    group: 'files',
    run: () => void compareWithFile(),
  },
  {
    ...song,
    id: 'history',
    name: 'history: go back to any step …',
    also: 'undo history list',
    group: 'edit',
    keys: ['alt+z'],
    run: () => openDialog('history'),
  },
  {
    ...song,
    id: 'lock-song',
    name: 'lock or unlock the song',
    also: 'keep from change unlock',
    group: 'edit',
    run: () => toggleLock('song'),
  },
  {
    ...song,
    id: 'guides',
    name: 'reference parts: a bass line to play against',
    also: 'melody reference riff',
    group: 'files',
    keys: ['alt+g'],
    run: () => openDialog('guides'),
  },
  {
    id: 'import',
    name: 'open a file: MIDI, a song or a backup',
    also: 'import load',
    group: 'files',
    keys: ['mod+o'],
    run: () => platform.chooseFile(),
  },
  {
    ...song,
    id: 'export',
    name: 'export MIDI',
    also: 'save write file deliver',
    group: 'files',
    keys: ['mod+e'],
    run: exportNow,
  },
  {
    ...song,
    id: 'hand-over',
    name: 'write the files that Deliver lists',
    also: 'wav stems mix bounce export render midi save',
    group: 'files',
    keys: ['alt+shift+e'],
    run: () => void handOver(),
  },
  {
    ...song,
    id: 'hand-over-again',
    name: 'export again, as last time',
    also: 'deliver repeat last delivery export',
    group: 'files',
    keys: ['alt+e'],
    run: () => void handOverAgain(),
  },
  {
    ...song,
    id: 'print-chart',
    name: 'print the chart, or save it as PDF',
    also: 'paper sheet music notation score',
    group: 'files',
    run: () => {
      showHanded('chart');
      routes.goToStage('deliver');
      void printChart();
    },
  },
  {
    ...song,
    id: 'live-midi',
    name: 'send MIDI to instruments while it plays …',
    also: 'live output port clock sync receiver',
    group: 'files',
    run: () => {
      showHanded('live');
      routes.goToStage('deliver');
    },
  },
  {
    ...song,
    id: 'stop-writing',
    name: 'cancel the files that are being written',
    also: 'cancel stop',
    group: 'files',
    run: stopWriting,
  },
  {
    ...song,
    id: 'save-file',
    name: 'save the song as a file',
    group: 'files',
    keys: ['mod+s'],
    run: () => saveSongFile(),
  },
  {
    id: 'backup',
    name: 'save a backup of everything',
    group: 'files',
    run: () => void saveBackup(),
  },
  {
    id: 'backup-folder',
    name: 'back everything up into a folder by itself …',
    group: 'files',
    run: () => void backUpInto(),
  },
  {
    id: 'stop-backups',
    name: 'no longer back up by itself',
    group: 'files',
    run: () => void stopBackingUp(),
  },
  {
    id: 'new-version',
    name: 'use the new version of the workbench',
    group: 'files',
    run: takeNewVersion,
  },
  {
    id: 'install',
    name: 'install the workbench as an application',
    group: 'files',
    run: install,
  },
  {
    id: 'bin',
    name: 'the bin: deleted songs',
    also: 'trash recover restore',
    group: 'files',
    run: () => openDialog('bin'),
  },
  {
    id: 'new-song',
    name: 'new song',
    group: 'files',
    keys: ['alt+shift+n'],
    run: () => void startSong(),
  },
  ...BEGINNINGS.map(({ id, name, says, run }): Act => ({
    id: `begin-${id}`,
    name: `begin: ${name}`,
    also: says,
    group: 'files',
    needsSong: true,
    run,
  })),
  {
    id: 'demo',
    name: 'restore the demo songs',
    group: 'files',
    keys: ['alt+shift+r'],
    run: () => void restoreDemo(),
  },
];
