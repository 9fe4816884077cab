import { db, type LoomDb } from '../db';
import { onFirstChange } from './changes';
import type { Restored, Shelf } from './mirror';
import { privateShelf } from './opfs';
import { MARK } from './tables';

export type { Restored } from './mirror';

/** The page is drawn before the mirror is begun, in ms. */
const LATER = 4000;

/** Has a worker keep the mirror from now on. */
export function keepMirror(): void {
  if (typeof Worker === 'undefined' || !navigator.storage?.getDirectory || !navigator.locks) return;
  onFirstChange(() => {
    setTimeout(() => {
      new Worker(new URL('./mirror.worker.ts', import.meta.url), { type: 'module' });
    }, LATER);
  });
}

/**
 * Puts back what the browser has lost, from the mirror.
 * @param begun called where something was lost: putting it back may take a while
 * @returns nothing where nothing was lost
 */
export async function restoreLost(
  begun: () => void = () => {},
  at: LoomDb = db(),
  shelfOf: () => Promise<Shelf | undefined> = () => privateShelf(false),
): Promise<Restored | undefined> {
  const isKnown = await at.settings.get(MARK).catch((error: unknown) => {
    if (!isBroken(error)) throw error;
    return undefined;
  });
  if (isKnown) return undefined;
  const shelf = await shelfOf();
  if (!shelf || (await shelf.names()).length === 0) return undefined;
  begun();
  if (!at.isOpen()) {
    await at.delete();
    await at.open();
  }
  const { Mirror } = await import('./mirror');
  const mirror = new Mirror(shelf, at);
  await mirror.open();
  const restored = await mirror.restore();
  return restored.songs + restored.others + restored.damaged > 0 ? restored : undefined;
}

/** Whether a database cannot be opened at all. One of a newer version is whole, and so is one that takes its time. */
function isBroken(error: unknown): boolean {
  const { name, inner } = (error ?? {}) as { name?: string; inner?: { name?: string } };
  const names = [name, inner?.name];
  return !names.includes('VersionError') && names.includes('OpenFailedError');
}
