import type { LoomDb, SongHead } from '../db';
import { HEAD_STARTS, headEnd, headOfPack, markOf, packOf, rowBytes, rowsOfPack } from './packs';
import { isFixed, isMirrored, isOfSong, MARK, MIRRORED } from './tables';

/** How many versions of a row are kept. */
const VERSIONS = 3;
/** A pack is ended beyond this, in bytes. */
const LARGEST = 8 * 1024 ** 2;

/** Where packs lie. */
export interface Shelf {
  names(): Promise<string[]>;
  /** @param upTo bytes from the beginning; absent is all */
  read(name: string, upTo?: number): Promise<Uint8Array>;
  /** All of it is there once this is done, or nothing of it. */
  write(name: string, bytes: Uint8Array): Promise<void>;
  remove(name: string): Promise<void>;
}

/** Rows that changed: by table their keys, or all of a table. */
export type Changes = Map<string, Set<string> | 'all'>;

/** The rows that came back from the mirror. */
export interface Restored {
  songs: number;
  /** Rows of the other tables. */
  others: number;
  /** Packs that could not be read: older versions came back of what was in them, or nothing. */
  damaged: number;
  /** The song that was worked on last. */
  newest?: { name: string; changed: number };
}

const keyOf = (table: string, key: string) => `${table} ${key}`;

/**
 * A second copy of the database, in files beside it: browsers have thrown away a whole database after they were
 * killed. Rows go into packs, a file each, written aside and renamed and under a sum; the last three versions of each
 * row are kept. Packs are read only to restore.
 */
export class Mirror {
  /** The packs a row is in, the newest first, and the mark of its newest version. */
  private readonly rows = new Map<string, { packs: string[]; mark: number | undefined }>();
  /** Of each pack, how many of its rows are among those kept. */
  private readonly live = new Map<string, number>();
  private last = 0;

  constructor(
    private readonly shelf: Shelf,
    private readonly at: LoomDb,
  ) {}

  /** Finds out what is in it. */
  async open(): Promise<void> {
    const held = new Map<string, number>();
    for (const name of (await this.shelf.names()).sort()) {
      const start = await this.shelf.read(name, HEAD_STARTS);
      const head = headOfPack(await this.shelf.read(name, headEnd(start) || 0));
      if (!head) {
        await this.shelf.remove(name);
        continue;
      }
      this.last = Math.max(this.last, Number(name.slice(0, NUMBER)) || 0);
      this.live.set(name, 0);
      for (const { table, key, mark } of head.entries) {
        this.counts(name, table, key, mark);
        held.set(keyOf(table, key), (held.get(keyOf(table, key)) ?? 0) + 1);
      }
    }
    // That a row is gone has to be known as long as any pack holds it.
    for (const [id, { packs, mark }] of this.rows) {
      if (mark !== undefined || held.get(id) !== 1) continue;
      this.live.set(packs[0], this.live.get(packs[0])! - 1);
      this.rows.delete(id);
    }
    await this.clear();
  }

  /** Brings all that differs from the database. */
  async bringAll(): Promise<void> {
    await this.bring(new Map(MIRRORED.map((table) => [table, 'all'])));
  }

  /**
   * Brings rows that changed.
   * @returns the heads of songs that are in the mirror now as they are there
   * @throws where the database is not the one that the mirror is a copy of: what it lacks was lost and not deleted
   */
  async bring(changes: Changes): Promise<SongHead[]> {
    if (this.rows.size > 0 && !(await this.isMarked())) {
      throw new Error('The database is to be restored from the mirror first.');
    }
    const brought: SongHead[] = [];
    let pack: { table: string; key: string; bytes?: Uint8Array }[] = [];
    let size = 0;
    let of = '';
    const put = async () => {
      if (pack.length > 0) await this.write(pack);
      pack = [];
      size = 0;
    };
    for (const [table, key] of await this.differing(changes)) {
      // A song has packs of its own, and so have the rows of each other table: what is old goes with its pack.
      if (table !== of || table === 'bodies') await put();
      of = table;
      const rows = await this.rowsOf(table, key);
      for (const [its, row] of rows) {
        const bytes = row === undefined ? undefined : safely(row);
        if (row !== undefined && !bytes) continue;
        const known = this.rows.get(keyOf(its, key));
        if (bytes ? known?.mark === markOf(bytes) : known?.mark === undefined) continue;
        pack.push({ table: its, key, ...(bytes && { bytes }) });
        size += bytes?.length ?? 0;
      }
      const head = rows.find(([its]) => its === 'heads')?.[1];
      if (head) brought.push(head as SongHead);
      if (size > LARGEST) await put();
    }
    await put();
    await this.mark();
    return brought;
  }

  /** Puts back what the database lacks, each row as it was last. */
  async restore(): Promise<Restored> {
    const restored: Restored = { songs: 0, others: 0, damaged: 0 };
    const seen = new Set<string>();
    for (const name of (await this.shelf.names()).sort().reverse()) {
      const rows = await rowsOfPack(await this.shelf.read(name));
      if (!rows) {
        restored.damaged++;
        continue;
      }
      const fresh = rows.filter(({ table, key }) => !seen.has(keyOf(table, key)));
      for (const { table, key } of rows) seen.add(keyOf(table, key));
      for (const { table, key, row } of fresh) {
        if (row === undefined || !isMirrored(table)) continue;
        if (!(await this.putBack(table, key, row))) continue;
        if (table === 'bodies') restored.songs++;
        else if (!isOfSong(table)) restored.others++;
        if (table !== 'heads') continue;
        const { name: called, changed } = row as SongHead;
        if (!(restored.newest && restored.newest.changed >= changed)) {
          restored.newest = { name: called, changed };
        }
      }
    }
    await this.mark();
    return restored;
  }

  private async putBack(table: string, key: string, row: unknown): Promise<boolean> {
    const of = this.at.table<unknown, string>(table);
    if (await of.get(key)) return false;
    await of.put(row);
    return true;
  }

  private async isMarked(): Promise<boolean> {
    return (await this.at.settings.get(MARK)) !== undefined;
  }

  /** Says in the database that the mirror is a copy of it. */
  private async mark(): Promise<void> {
    if (this.rows.size === 0 || (await this.isMarked())) return;
    await this.at.settings.put({ name: MARK, value: true });
  }

  /** The rows that may differ: of songs, each once. */
  private async differing(changes: Changes): Promise<[table: string, key: string][]> {
    const found = new Map<string, [string, string]>();
    const add = (table: string, key: string) => {
      if (table === 'settings' && key === MARK) return;
      const of = isOfSong(table) ? 'bodies' : table;
      found.set(keyOf(of, key), [of, key]);
    };
    for (const [table, keys] of changes) {
      if (!isMirrored(table)) continue;
      if (keys !== 'all') {
        for (const key of keys) add(table, key);
        continue;
      }
      const there = new Set(
        (await this.at.table(table).toCollection().primaryKeys()).map((key) => String(key)),
      );
      const start = `${table} `;
      for (const key of there) {
        const known = this.rows.get(start + key)?.mark;
        if (known === undefined) add(table, key);
        else if (!isFixed(table)) {
          const bytes = safely(await this.at.table(table).get(key));
          if (bytes && markOf(bytes) !== known) add(table, key);
        }
      }
      for (const [row, { mark }] of this.rows) {
        const key = row.slice(start.length);
        if (mark !== undefined && row.startsWith(start) && !there.has(key)) add(table, key);
      }
    }
    return [...found.values()];
  }

  /** A row as it is now, undefined where it is gone; of a song all its rows, which go together. */
  private async rowsOf(table: string, key: string): Promise<[table: string, row: unknown][]> {
    if (table !== 'bodies') return [[table, await this.at.table(table).get(key)]];
    const { heads, bodies, views } = this.at;
    return this.at.transaction('r', heads, bodies, views, async () => [
      ['heads', await heads.get(key)],
      ['bodies', await bodies.get(key)],
      ['views', await views.get(key)],
    ]);
  }

  private async write(rows: readonly { table: string; key: string; bytes?: Uint8Array }[]) {
    // Names are in the order in which packs were written, whatever the clock does.
    const made = Date.now();
    this.last = Math.max(this.last + 1, made);
    const name = `${String(this.last).padStart(NUMBER, '0')}.pack`;
    await this.shelf.write(name, await packOf(rows, { made, version: this.at.verno }));
    this.live.set(name, 0);
    for (const { table, key, bytes } of rows) {
      this.counts(name, table, key, bytes && markOf(bytes));
    }
    await this.clear();
  }

  /** Counts a row of the newest pack: the oldest of too many versions of it is not wanted any more. */
  private counts(name: string, table: string, key: string, mark: number | undefined): void {
    const id = keyOf(table, key);
    const packs = [name, ...(this.rows.get(id)?.packs ?? [])];
    this.live.set(name, (this.live.get(name) ?? 0) + 1);
    // Of a row that was deleted no version is kept.
    for (const old of packs.splice(mark === undefined ? 1 : VERSIONS)) {
      this.live.set(old, this.live.get(old)! - 1);
    }
    this.rows.set(id, { packs, mark });
  }

  /** Takes packs away that hold nothing that is kept. */
  private async clear(): Promise<void> {
    for (const [name, live] of this.live) {
      if (live > 0) continue;
      await this.shelf.remove(name);
      this.live.delete(name);
    }
  }
}

const NUMBER = 16;

/** A row as bytes; nothing where it holds what only this browser has, as the handle of a folder. */
function safely(row: unknown): Uint8Array | undefined {
  const value = (row as { value?: { kind?: unknown } } | undefined)?.value;
  if (typeof value === 'object' && value?.kind === 'directory') return undefined;
  try {
    return rowBytes(row);
  } catch {
    return undefined;
  }
}
