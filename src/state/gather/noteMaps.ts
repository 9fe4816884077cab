import { create } from 'zustand';
import { count, guessNoteMap, type NoteMapChoice } from '@/core/midi';
import { db } from '@/storage/db';
import { notesOfFamily, rereadFamily } from '@/storage/library/reading';
import { closeDialog, openDialog } from '../dialogs/dialogs';
import { grooveById, replaceGrooves, useGather } from './gather';
import { notify } from '../notices/notices';

/** The note map of a family of one's own files, while it is looked at. */
export interface NoteMapState {
  family?: string;
  files: number;
  /** How often each of the 128 notes is struck; absent while it is counted. */
  counts?: Uint32Array;
  /** The map that the notes seem to be written through. */
  guess: NoteMapChoice['map'];
  busy: boolean;
}

export const useNoteMap = create<NoteMapState>(() => ({ files: 0, guess: 'gm', busy: false }));

/** Opens the note map of the chosen groove's family. */
export async function openNoteMap(): Promise<void> {
  const groove = grooveById(useGather.getState().chosen);
  if (!groove?.id.startsWith('own/')) {
    return notify(
      'Note maps are for your own files: choose a groove of them first. The shipped grooves need none.',
    );
  }
  const { family } = groove;
  const files = useGather
    .getState()
    .grooves.filter((row) => row.family === family && row.id.startsWith('own/')).length;
  useNoteMap.setState({ family, files, counts: undefined, busy: false });
  openDialog('note map');
  const counts = await notesOfFamily(db(), family);
  if (useNoteMap.getState().family === family) {
    useNoteMap.setState({ counts, guess: guessNoteMap(counts) });
  }
}

/**
 * Reads the family again through another note map.
 * @param choice absent is the map that fits each file best
 */
export async function readFamilyThrough(choice: NoteMapChoice | undefined): Promise<void> {
  const { family, busy } = useNoteMap.getState();
  if (family === undefined || busy) return;
  useNoteMap.setState({ busy: true });
  try {
    const rows = await rereadFamily(db(), family, choice);
    replaceGrooves(rows);
    notify(
      `“${family}” was read again: ${count(rows.length, 'groove')}. What was kept stays as it is.`,
    );
    closeDialog();
  } catch {
    notify(`“${family}” could not be read again: the browser's storage does not answer.`, 'error');
  } finally {
    useNoteMap.setState({ busy: false });
  }
}
