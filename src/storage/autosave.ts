import type { Song } from '@/core';
import { saveSong } from './songs';

/** Whether what is on screen is kept; `failed` carries a sentence. */
export type Saving = { state: 'saved' } | { state: 'waiting' } | { state: 'failed'; why: string };

/** Changes are written at the latest this long after they were made. */
const DELAY_MS = 300;
/** After a failure it is tried again by itself. */
const RETRY_MS = 5000;

/** Keeps the newest value of one song in the database. */
export class Autosave {
  private pending: Song | undefined;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private writing: Promise<void> = Promise.resolve();

  constructor(
    private readonly tell: (saving: Saving, song?: Song) => void,
    private readonly write: (song: Song) => Promise<void> = saveSong,
  ) {}

  /** Writes this song soon; only the newest one counts. */
  keep(song: Song): void {
    this.pending = song;
    this.tell({ state: 'waiting' });
    this.timer ??= setTimeout(() => void this.flush(), DELAY_MS);
  }

  /** Writes what is pending now, as when the page is hidden. */
  flush(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    this.writing = this.writing.then(() => this.writePending());
    return this.writing;
  }

  private async writePending(): Promise<void> {
    const song = this.pending;
    if (!song) return;
    try {
      await this.write(song);
      if (this.pending === song) {
        this.pending = undefined;
        this.tell({ state: 'saved' }, song);
      }
    } catch (error) {
      this.tell({ state: 'failed', why: whyNot(error) });
      this.timer ??= setTimeout(() => void this.flush(), RETRY_MS);
    }
  }
}

/** A failed write in words: what happened, what is kept, what to do. */
export function whyNot(error: unknown): string {
  const names = [error, (error as { inner?: unknown } | undefined)?.inner].map(
    (e) => (e as { name?: string } | undefined)?.name ?? '',
  );
  const keep = 'Your changes are on screen only: keep this tab open and export the song as MIDI.';
  if (names.includes('QuotaExceededError')) {
    return `Not saved: this browser’s storage is full. ${keep} Deleting songs or freeing disk space helps; saving is tried again by itself.`;
  }
  return `Not saved: this browser does not let Verse Loom store songs (a private window, or storage switched off). ${keep}`;
}
