import * as routes from '../routes';
import { newSong, restoreDemo } from '../session';
import { openDialog, type Action } from './action';

/** The hidden file field of the shell; it has to be pressed from a key or a click. */
let openPicker: () => void = () => {};
export function setFilePicker(open: () => void): void {
  openPicker = open;
}

const song = { needsSong: true } as const;

export async function startSong(): Promise<void> {
  routes.goToSong(await newSong(), 'shape');
}

/** Files in and out, and songs. */
export const FILE_ACTIONS: readonly Action[] = [
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
