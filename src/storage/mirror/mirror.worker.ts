import { db } from '../db';
import { mirrorLine, type MirrorWord } from './changes';
import { Mirror, type Changes } from './mirror';
import { privateShelf } from './opfs';
import { MIRRORED } from './tables';

/** Changes that come within this time are brought together, in ms. */
const TOGETHER = 250;
/** Bringing takes no more than this share of the time. */
const SHARE = 10;

const changes: Changes = new Map();
let wake = () => {};
const line = mirrorLine();

line?.addEventListener('message', ({ data }: MessageEvent<MirrorWord>) => {
  if (data.says !== 'changed') return;
  const { table, keys } = data;
  const known = changes.get(table);
  if (known === 'all') return;
  if (!keys) changes.set(table, 'all');
  else changes.set(table, new Set([...(known ?? []), ...keys]));
  wake();
});

/** Brings what changes, for as long as this tab lives. One tab of a browser does so at a time. */
async function work(): Promise<never> {
  const shelf = await privateShelf(true);
  if (!shelf) return new Promise(() => {});
  const mirror = new Mirror(shelf, db());
  await mirror.open();
  for (const table of MIRRORED) changes.set(table, 'all');
  for (;;) {
    const now = new Map(changes);
    changes.clear();
    const began = performance.now();
    try {
      for (const { id, n = 0 } of await mirror.bring(now)) {
        line?.postMessage({ says: 'mirrored', song: id, n });
      }
    } catch {
      // Full, or closing: what could not be brought is tried again with what comes next.
      for (const [table] of now) changes.set(table, 'all');
      await new Promise((later) => setTimeout(later, 10_000));
    }
    const took = performance.now() - began;
    await new Promise((later) => setTimeout(later, Math.max(TOGETHER, took * SHARE)));
    if (changes.size === 0) await new Promise<void>((woken) => (wake = woken));
  }
}

void navigator.locks.request('verse-loom mirror', work);
