import { REACHES, type Reach } from '@/core/weave';
import { db, type LoomDb } from './db';

/** When everything was saved as a file last, in milliseconds since 1970; nothing if never. */
export async function lastBackup(at: LoomDb = db()): Promise<number | undefined> {
  const value = (await at.settings.get('last backup'))?.value;
  return typeof value === 'number' && Number.isFinite(value) ? value : undefined;
}

export async function noteBackup(when: number, at: LoomDb = db()): Promise<void> {
  await at.settings.put({ name: 'last backup', value: when });
}

const FOLDER = 'backup folder';

/** The folder that backups go into by themselves; undefined where none was chosen. */
export async function backupFolder(
  at: LoomDb = db(),
): Promise<FileSystemDirectoryHandle | undefined> {
  const value = (await at.settings.get(FOLDER))?.value;
  const isFolder = (value as FileSystemDirectoryHandle | undefined)?.kind === 'directory';
  return isFolder ? (value as FileSystemDirectoryHandle) : undefined;
}

/** @param folder nothing: backups go nowhere by themselves */
export async function keepBackupFolder(
  folder: FileSystemDirectoryHandle | undefined,
  at: LoomDb = db(),
): Promise<void> {
  if (folder) await at.settings.put({ name: FOLDER, value: folder });
  else await at.settings.delete(FOLDER);
}

const TOUR = 'tour shown';

/** Whether the tour was shown to this browser. */
export async function isTourShown(at: LoomDb = db()): Promise<boolean> {
  return (await at.settings.get(TOUR))?.value === true;
}

export async function noteTourShown(at: LoomDb = db()): Promise<void> {
  await at.settings.put({ name: TOUR, value: true });
}

const REACH = 'reach';

/** How far edits go, as it was chosen last; undefined where it never was. */
export async function chosenReach(at: LoomDb = db()): Promise<Reach | undefined> {
  const value = (await at.settings.get(REACH))?.value;
  return REACHES.find((reach) => reach === value);
}

export async function noteReach(reach: Reach, at: LoomDb = db()): Promise<void> {
  await at.settings.put({ name: REACH, value: reach });
}
