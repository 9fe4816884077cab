import { withDifference, type Difference } from '@/core/model';
import { db, type LoomDb, type NotedChange } from './db';
import { fastLog, type FastLog } from './fastLog';

/** Where short texts can be kept at once: the browser's `localStorage`, as far as it is used. */
export type Slips = Pick<Storage, 'getItem' | 'setItem' | 'removeItem' | 'key' | 'length'>;

const PREFIX = 'verse-loom-change';
/** Longer changes are too much for where all slips together have a few megabytes. */
const LONGEST_SLIP = 200_000;

/** The browser's own place for slips; nothing where it is not there or not allowed. */
function browserSlips(): Slips | undefined {
  try {
    return globalThis.localStorage;
  } catch {
    return undefined;
  }
}

/**
 * Every change of a song, written down as it is made, until the song as a whole is stored. Three times:
 * as a slip, which is there when the call returns and survives a closed tab; in a file of this tab, which
 * survives a killed browser some milliseconds later; and in the database, from which all of it is read.
 */
export class Journal {
  constructor(
    private readonly at: () => LoomDb = db,
    private readonly slips: () => Slips | undefined = browserSlips,
    private readonly fast: () => FastLog | undefined = fastLog,
  ) {}

  /** @returns whether the change is safe when this returns */
  note(change: NotedChange): boolean {
    const text = JSON.stringify(change.difference);
    this.fast()?.note(change, text);
    this.put(change);
    if (text.length > LONGEST_SLIP) return false;
    try {
      this.slips()?.setItem(slipName(change.song, change.n), text);
      return this.slips() !== undefined;
    } catch {
      return false;
    }
  }

  /**
   * Hands a change to the database, all of it within this call where it is open: a transaction that waits
   * for the page to say that it is done is late by as much as the page is busy.
   */
  private put(change: NotedChange): void {
    const at = this.at();
    try {
      if (at.isOpen()) {
        const { name } = at.journal;
        const transaction = at
          .backendDB()
          .transaction(name, 'readwrite', { durability: 'relaxed' });
        transaction.objectStore(name).put(change);
        transaction.commit();
        return;
      }
    } catch {
      // It is closing, or full: the way round says what is the matter when the song is stored.
    }
    at.journal.put(change).catch(() => {});
  }

  /** What follows on a stored song, change by change without a gap. */
  async after(song: string, n: number): Promise<NotedChange[]> {
    await this.fast()?.ready();
    const found = new Map<number, Difference>();
    const rows = await this.at()
      .journal.where('[song+n]')
      .between([song, n + 1], [song, Infinity])
      .toArray()
      .catch((): NotedChange[] => []);
    for (const row of rows) found.set(row.n, row.difference);
    for (const [at, text] of this.slipsOf(song)) {
      const difference = at > n && !found.has(at) && parsed(text);
      if (difference) found.set(at, difference);
    }
    const changes: NotedChange[] = [];
    for (let next = n + 1; found.has(next); next++) {
      changes.push({ song, n: next, difference: found.get(next)! });
    }
    return changes;
  }

  /** Throws away what is in the stored song by now; of a song that is gone, all. */
  async forget(song: string, upTo = Infinity): Promise<void> {
    for (const [n] of this.slipsOf(song)) {
      if (n <= upTo) this.slips()?.removeItem(slipName(song, n));
    }
    this.fast()?.forget(song, upTo);
    await this.at()
      .journal.where('[song+n]')
      .between([song, -Infinity], [song, upTo], true, true)
      .delete()
      .catch(() => {});
  }

  private slipsOf(song: string): [n: number, text: string][] {
    const slips = this.slips();
    const start = `${PREFIX}/${song}/`;
    const found: [number, string][] = [];
    try {
      for (let i = 0; slips && i < slips.length; i++) {
        const name = slips.key(i)!;
        if (name.startsWith(start)) {
          found.push([Number(name.slice(start.length)), slips.getItem(name) ?? '']);
        }
      }
    } catch {
      // Where slips cannot be read, the database has the changes.
    }
    return found;
  }
}

const slipName = (song: string, n: number) => `${PREFIX}/${song}/${n}`;

function parsed(text: string): Difference | undefined {
  try {
    const value: unknown = JSON.parse(text);
    return typeof value === 'object' && value !== null ? (value as Difference) : undefined;
  } catch {
    return undefined;
  }
}

/**
 * A stored song with the changes that were noted after it.
 * @param isSound tells whether a song may be opened; changes from the first on that spoils it are left out
 */
export function withChanges<T>(
  stored: T,
  changes: readonly NotedChange[],
  isSound: (song: unknown) => song is T,
): { song: T; n: number | undefined } {
  const all = changes.reduce<unknown>((song, { difference }) => safely(song, difference), stored);
  if (isSound(all)) return { song: all, n: changes.at(-1)?.n };
  let song = stored;
  let n: number | undefined;
  for (const change of changes) {
    const next = safely(song, change.difference);
    if (!isSound(next)) break;
    song = next;
    n = change.n;
  }
  return { song, n };
}

/** A journal may hold anything: what cannot be done changes nothing. */
function safely(song: unknown, difference: Difference): unknown {
  try {
    return withDifference(song, difference);
  } catch {
    return undefined;
  }
}

/** A stored song, and the song after each of the changes that were noted after it. */
export function trodden<T>(
  stored: T,
  n: number,
  changes: readonly NotedChange[],
): { n: number; song: T }[] {
  const trail = [{ n, song: stored }];
  for (const change of changes) {
    const song = safely(trail.at(-1)!.song, change.difference) as T | undefined;
    if (song === undefined) break;
    trail.push({ n: change.n, song });
  }
  return trail;
}
