import type { Song } from '@/core';
import { checkSong, differenceOf, type Difference } from '@/core/model';
import { Journal } from './journal';
import { saveSong, WrittenElsewhere } from './songs';
import { whyNot, withinPatience } from './failures';

/**
 * Whether the last change of a song is kept; `failed` carries a sentence. `noted`: it waits to be
 * stored and is safe until then, so that the page may be left.
 */
export type Saving =
  { state: 'saved' } | { state: 'waiting'; noted: boolean } | { state: 'failed'; why: string };

/** A song whose last changes are not in storage. */
export interface Unsaved {
  song: Song;
  why: string;
}

/** Changes are written at the latest this long after they were made. */
const DELAY_MS = 300;
/** Of a song that takes long to write, so much longer: writing it never takes more of the time. */
const SHARE = 20;
/** After a failure it is tried again by itself. */
const RETRY_MS = 5000;

/** What this tab knows of one song: its newest value, and which one is in storage. */
interface Line {
  song: Song;
  /** Changes in it. */
  n: number;
  /** Changes in what is stored; -1 where nothing is. */
  stored: number;
  saving: Saving;
  timer?: ReturnType<typeof setTimeout>;
  writing?: Promise<void>;
  /** How long the last writing took, in ms. */
  took: number;
}

export interface KeeperTells {
  saving(song: Song, saving: Saving): void;
  /** A change was made and noted. */
  changed?(id: string, n: number, difference: Difference): void;
  /** Another tab wrote or deleted what this one was to write: what is here goes its own way. */
  parted(song: Song, how: 'newer' | 'gone'): void;
}

/**
 * Keeps the songs of a tab: every one has a line of its own, so that what is not stored of one is never
 * dropped for another. Each change is noted in the journal at once; the song as a whole follows.
 */
export class Keeper {
  private readonly lines = new Map<string, Line>();

  constructor(
    private readonly tells: KeeperTells,
    private readonly write: typeof saveSong = saveSong,
    private readonly journal = new Journal(),
  ) {}

  /**
   * A song as it is in storage now, or as it is to be stored.
   * @param n changes in it
   * @param stored changes in the stored form; -1 where there is none
   */
  opened(song: Song, n: number, stored: number): void {
    const line: Line = { song, n, stored, saving: { state: 'saved' }, took: 0 };
    this.lines.set(song.id, line);
    if (n !== stored) this.soon(line, 0);
  }

  /** Takes a song that could not be stored, and goes on trying. */
  adopt(song: Song, why: string): void {
    const saving: Saving = { state: 'failed', why };
    const line: Line = { song, n: 0, stored: -1, saving, took: 0 };
    this.lines.set(song.id, line);
    this.tell(line, saving);
    this.soon(line, RETRY_MS);
  }

  /** Notes a change and writes the song soon. */
  keep(song: Song): void {
    const line = this.lines.get(song.id);
    if (!line || line.song === song) return;
    const difference = differenceOf(line.song, song) ?? { fields: {} };
    line.song = song;
    line.n++;
    const noted = this.journal.note({ song: song.id, n: line.n, difference });
    this.tells.changed?.(song.id, line.n, difference);
    this.tell(line, line.saving.state === 'failed' ? line.saving : { state: 'waiting', noted });
    this.soon(line, Math.max(DELAY_MS, line.took * SHARE));
  }

  /** How many changes are in the newest value of a song. */
  changesIn(id: string): number {
    return this.lines.get(id)?.n ?? 0;
  }

  /** Writes what is pending of a song, or of all, now. */
  async flush(id?: string): Promise<void> {
    const lines = [...this.lines.values()].filter(({ song }) => id === undefined || song.id === id);
    await Promise.all(lines.map((line) => this.flushLine(line)));
  }

  /** The newest value of a song, where storage does not have it. */
  unsaved(id: string): (Unsaved & { n: number; stored: number }) | undefined {
    const line = this.lines.get(id);
    if (!line || line.saving.state !== 'failed') return undefined;
    return { song: line.song, why: line.saving.why, n: line.n, stored: line.stored };
  }

  allUnsaved(): Unsaved[] {
    return [...this.lines.keys()].flatMap((id) => this.unsaved(id) ?? []);
  }

  /** Whether leaving the page now would lose something. */
  get isAtRisk(): boolean {
    return [...this.lines.values()].some(
      ({ saving }) => saving.state === 'failed' || (saving.state === 'waiting' && !saving.noted),
    );
  }

  /** Lets go of a song that is stored; one that is not stays, and is tried again. */
  async close(id: string): Promise<void> {
    // What failed before may fail for long: nobody waits for it.
    if (this.unsaved(id)) return;
    await this.flush(id);
    if (this.lines.get(id)?.saving.state === 'saved') this.drop(id);
  }

  /** Forgets a song and what is pending of it. */
  drop(id: string): void {
    clearTimeout(this.lines.get(id)?.timer);
    this.lines.delete(id);
  }

  private soon(line: Line, ms: number): void {
    line.timer ??= setTimeout(() => void this.flushLine(line), ms);
  }

  private flushLine(line: Line): Promise<void> {
    clearTimeout(line.timer);
    line.timer = undefined;
    line.writing = (line.writing ?? Promise.resolve()).then(() => this.writeLine(line));
    return line.writing;
  }

  private async writeLine(line: Line): Promise<void> {
    const { song, n } = line;
    if (n === line.stored || this.lines.get(song.id) !== line) return;
    const [problem] = checkSong(song);
    if (problem) {
      const why = `Not saved: the last change made the song unsound (${problem.where}: ${problem.what}). Undo it; what is stored is the song before it.`;
      return this.tell(line, { state: 'failed', why });
    }
    const began = performance.now();
    try {
      await withinPatience(this.write(song, { n, expects: line.stored }));
    } catch (error) {
      if (error instanceof WrittenElsewhere) {
        this.drop(song.id);
        return this.tells.parted(line.song, error.how);
      }
      this.tell(line, { state: 'failed', why: whyNot(error) });
      return this.soon(line, RETRY_MS);
    }
    line.took = performance.now() - began;
    line.stored = n;
    void this.journal.forget(song.id, n);
    if (line.n === n) this.tell(line, { state: 'saved' });
    else {
      if (line.saving.state === 'failed') this.tell(line, { state: 'waiting', noted: true });
      this.soon(line, DELAY_MS);
    }
  }

  private tell(line: Line, saving: Saving): void {
    line.saving = saving;
    this.tells.saving(line.song, saving);
  }
}
