import Dexie, { type Table } from 'dexie';
import type { Song } from '@/core';

/** What the list of songs shows of a song, without reading the song. */
export interface SongHead {
  id: string;
  name: string;
  bpm: number;
  bars: number;
  patterns: number;
  /** Milliseconds since 1970. */
  changed: number;
  demo: boolean;
}

/** A stored song. `song` is checked when it is read: it may come from another version. */
export interface SongBody {
  id: string;
  song: Song;
}

/** The browser's own database. Each version of its tables is declared below and never changed. */
export class LoomDb extends Dexie {
  heads!: Table<SongHead, string>;
  bodies!: Table<SongBody, string>;

  constructor(name = 'verse-loom') {
    super(name);
    this.version(1).stores({ heads: 'id, changed', bodies: 'id' });
  }
}

let shared: LoomDb | undefined;

export function db(): LoomDb {
  return (shared ??= new LoomDb());
}
