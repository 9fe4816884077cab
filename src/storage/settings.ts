import { db, type LoomDb } from './db';

/** When everything was saved as a file last, in milliseconds since 1970; nothing if never. */
export async function lastBackup(at: LoomDb = db()): Promise<number | undefined> {
  const value = (await at.settings.get('last backup'))?.value;
  return typeof value === 'number' && Number.isFinite(value) ? value : undefined;
}

export async function noteBackup(when: number, at: LoomDb = db()): Promise<void> {
  await at.settings.put({ name: 'last backup', value: when });
}
