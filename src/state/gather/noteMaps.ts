import { create } from 'zustand';
import { namesOf, type NotesOfFile } from '@/core/library';
import { count, type NoteMapChoice } from '@/core/midi';
import { db } from '@/storage/db';
import {
  familyChoice,
  filesOfFamily,
  notesOfFamily,
  rereadFamily,
} from '@/storage/library/reading';
import { closeDialog, openDialog } from '../dialogs/dialogs';
import { grooveById, replaceGrooves, useGather } from './gather';
import { notify } from '../notices/notices';

/** The note map of a family of one's own files, while it is looked at. */
export interface NoteMapState {
  family?: string;
  files: number;
  /** How its files are read now; absent finds the drums of each, and the note map that fits them. */
  through?: NoteMapChoice;
  /** How often each of the 128 notes is struck, on the drums and on each channel; absent while it is counted. */
  counts?: NotesOfFile;
  busy: boolean;
}

export const useNoteMap = create<NoteMapState>(() => ({ files: 0, busy: false }));

/** Opens the note map of the chosen groove's family. */
export async function openNoteMap(): Promise<void> {
  const groove = grooveById(useGather.getState().chosen);
  if (!groove?.id.startsWith('own/')) {
    return notify(
      'Note maps are for your own files: choose a groove of them first. The shipped grooves need none.',
    );
  }
  await openMapOf(groove.family, groove.through);
}

/** Opens the note map of the folder that a file lies in whose drums were not found. */
export const openNoteMapOf = (path: string) => openMapOf(namesOf(path).family);

/** @param read how one of the files is read, for a folder that nothing was chosen for */
async function openMapOf(family: string, read?: NoteMapChoice): Promise<void> {
  const through = (await familyChoice(db(), family)) ?? read;
  const files = await filesOfFamily(db(), family);
  useNoteMap.setState({ family, files, through, counts: undefined, busy: false });
  openDialog('note map');
  const counts = await notesOfFamily(db(), family);
  if (useNoteMap.getState().family === family) useNoteMap.setState({ counts });
}

/**
 * Reads the family again through another note map, or from another channel.
 * @param choice absent finds the drums of each file, and the map that fits them best
 */
export async function readFamilyThrough(choice: NoteMapChoice | undefined): Promise<void> {
  const { family, busy } = useNoteMap.getState();
  if (family === undefined || busy) return;
  useNoteMap.setState({ busy: true });
  try {
    const { rows, undrummed } = await rereadFamily(db(), family, choice);
    replaceGrooves(rows);
    notify(
      [
        `“${family}” was read again: ${count(rows.length, 'groove')}.`,
        undrummed > 0 ? `In ${count(undrummed, 'file')} no drums were found.` : '',
        'What was kept stays as it is.',
      ]
        .filter(Boolean)
        .join(' '),
    );
    closeDialog();
  } catch {
    notify(`“${family}” could not be read again: the browser's storage does not answer.`, 'error');
  } finally {
    useNoteMap.setState({ busy: false });
  }
}
