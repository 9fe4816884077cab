import { DEMO_PREFIX } from '@/demo';

/** How much of the browser's storage is used, in bytes. */
export interface Room {
  used: number;
  /** What the browser would give at most. */
  most: number;
  /** Whether the browser promised not to clear it by itself. */
  safe: boolean;
}

/** @returns undefined where the browser does not say */
export async function roomLeft(): Promise<Room | undefined> {
  try {
    const { usage, quota } = await navigator.storage.estimate();
    if (usage === undefined || !quota) return undefined;
    return { used: usage, most: quota, safe: await navigator.storage.persisted() };
  } catch {
    return undefined;
  }
}

let asked = false;

/** Asks the browser to keep songs for good, once a song of one's own has been worked on. */
export async function askForRoom(songId: string): Promise<void> {
  if (asked || songId.startsWith(DEMO_PREFIX)) return;
  asked = true;
  try {
    if (!(await navigator.storage.persisted())) await navigator.storage.persist();
  } catch {
    // Where it cannot be asked for, songs are kept as before.
  }
}
