import { useLiveQuery } from 'dexie-react-hooks';
import { backupFolderState, backupReminder, type FolderState } from './backups';

/** A word about how much is not in any backup; nothing while it is little. */
export function useBackupReminder(): string | undefined {
  return useLiveQuery(() => backupReminder().catch(() => undefined));
}

/** The folder that everything is saved into by itself. */
export function useBackupFolder(): FolderState | undefined {
  return useLiveQuery(() => backupFolderState().catch(() => undefined));
}
