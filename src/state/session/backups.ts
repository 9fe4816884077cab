import { restoreBackup, BACKUP_ENDING, type Restored } from '@/storage/backup';
import { writeBackupAside } from '@/storage/backupAside';
import { whyNot } from '@/storage/failures';
import { backupFolder, keepBackupFolder, lastBackup, noteBackup } from '@/storage/settings';
import { listSongs } from '@/storage/songs';
import { reopenLibrary } from '../gather/gather';
import { notify } from '../notices/notices';
import { platform, type OutFolder } from '../platform';
import { saveNow } from './session';

const nameToday = () => `verse-loom-${new Date().toISOString().slice(0, 10)}.${BACKUP_ENDING}`;

/** Saves everything of this browser as one file. */
export async function saveBackup(): Promise<void> {
  try {
    await saveNow();
    const bytes = await writeBackupAside();
    const name = nameToday();
    platform.saveFile(bytes as BlobPart, name, 'application/zip');
    await noteBackup(Date.now());
    notify(`“${name}” was saved: all songs and your own library. Keep it outside of this browser.`);
  } catch (error) {
    notify(whyNot(error), 'error');
  }
}

/** Lets the user choose a folder into which everything is saved by itself from now on. */
export async function backUpInto(): Promise<void> {
  if (!platform.canOpenFolder()) {
    return notify(
      'This browser does not let a page write into a folder: save a backup by hand.',
      'error',
    );
  }
  const folder = await platform.openFolder('backups');
  if (!folder?.handle) return;
  try {
    await keepBackupFolder(folder.handle);
    await saveNow();
    await writeInto(folder);
    notify(
      `From now on everything is saved into “${folder.name}” by itself, a file a day, while the workbench is open.`,
    );
  } catch (error) {
    notify(whyNot(error), 'error');
  }
}

/** No longer saves into a folder by itself; what is there stays. */
export async function stopBackingUp(): Promise<void> {
  if (!(await backupFolder())) return notify('Nothing is backed up by itself.');
  await keepBackupFolder(undefined);
  notify('Nothing is backed up by itself any more. What is in the folder stays there.');
}

async function writeInto(folder: OutFolder): Promise<void> {
  const bytes = await writeBackupAside();
  await folder.write(nameToday(), new Blob([bytes as BlobPart], { type: 'application/zip' }));
  await noteBackup(Date.now());
}

/** So long after one backup the next one is written by itself, in milliseconds. */
const EVERY = 10 * 60_000;

/** Whether the folder of the backups is there and may be written into; `waits` for the user otherwise. */
export type FolderState = { name: string; waits: boolean };

export async function backupFolderState(): Promise<FolderState | undefined> {
  const handle = await backupFolder();
  if (!handle) return undefined;
  const folder = await platform.keptFolder(handle).catch(() => undefined);
  return { name: handle.name, waits: folder === undefined };
}

/** Saves into the chosen folder, where something has changed since the last time; told by the clock. */
export async function backUpWhenDue(now: number): Promise<void> {
  const handle = await backupFolder().catch(() => undefined);
  if (!handle) return;
  const last = (await lastBackup()) ?? 0;
  if (now - last < EVERY || !(await listSongs()).some(({ changed }) => changed > last)) return;
  try {
    const folder = await platform.keptFolder(handle);
    if (folder) await writeInto(folder);
  } catch {
    notify(
      `Nothing could be saved into “${handle.name}”: it may be full, moved or gone. Choose a folder for the backups again.`,
      'error',
    );
    await keepBackupFolder(undefined);
  }
}

/** Looks now and then whether a backup is due. @returns what ends it */
export function backUpByItself(): () => void {
  const due = setInterval(() => void backUpWhenDue(Date.now()), 60_000);
  return () => clearInterval(due);
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
