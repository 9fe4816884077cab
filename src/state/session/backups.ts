import { restoreBackup, writeBackup, BACKUP_ENDING, type Restored } from '@/storage/backup';
import { whyNot } from '@/storage/failures';
import { lastBackup, noteBackup } from '@/storage/settings';
import { listSongs } from '@/storage/songs';
import { reopenLibrary } from '../gather/gather';
import { notify } from '../notices/notices';
import { platform } from '../platform';
import { saveNow } from './session';

/** Saves everything of this browser as one file. */
export async function saveBackup(): Promise<void> {
  try {
    await saveNow();
    const bytes = await writeBackup();
    const day = new Date().toISOString().slice(0, 10);
    const name = `verse-loom-${day}.${BACKUP_ENDING}`;
    platform.saveFile(bytes as BlobPart, name, 'application/zip');
    await noteBackup(Date.now());
    notify(`“${name}” was saved: all songs and your own library. Keep it outside of this browser.`);
  } catch (error) {
    notify(whyNot(error), 'error');
  }
}

/**
 * Puts back what a backup holds, beside what is here.
 * @returns whether the file was a backup, or said why it cannot be read
 */
export async function receiveBackup(bytes: Uint8Array, name: string): Promise<boolean> {
  try {
    const restored = await restoreBackup(bytes, name);
    if (!restored) return false;
    if ('problem' in restored) notify(restored.problem, 'error');
    else {
      notify(saysRestored(restored));
      for (const problem of restored.problems.slice(0, 3)) notify(problem, 'error');
      if (restored.grooves > 0) await reopenLibrary();
    }
  } catch (error) {
    notify(whyNot(error), 'error');
  }
  return true;
}

function saysRestored({ songs, copies, same, grooves, problems }: Restored): string {
  const count = (n: number, what: string) => `${n} ${what}${n === 1 ? '' : 's'}`;
  const parts = [
    `${count(songs, 'song')} put back`,
    copies > 0 && `${copies} beside another that is here under its name`,
    same > 0 && `${same} already here as ${same === 1 ? 'it was' : 'they were'}`,
    grooves > 0 && `${count(grooves, 'groove')} of your library put back`,
    problems.length > 0 && `${problems.length} could not be read whole`,
  ];
  return `The backup: ${parts.filter(Boolean).join(', ')}. Nothing here was overwritten.`;
}

/** So many own songs changed since the last backup are worth a word. */
const WORTH_A_WORD = 3;

/** A gentle word when much has changed since the last backup; nothing otherwise. */
export async function backupReminder(): Promise<string | undefined> {
  const last = (await lastBackup()) ?? 0;
  const changed = (await listSongs()).filter((song) => !song.demo && song.changed > last).length;
  if (changed < WORTH_A_WORD) return undefined;
  return last === 0
    ? `${changed} songs are in this browser alone.`
    : `${changed} songs have changed since the last backup.`;
}
