import type { Song } from '@/core';
import { advance, type History, type Step } from '@/core/commands';
import { checkSong, differenceOf, withDifference } from '@/core/model';
import { db, type LoomDb, type UndoState, type UndoStep } from './db';

/** So many steps can be undone after a reload. */
const MOST = 300;
const NOTHING = { fields: {} };

/**
 * The steps of undo of a song, so that they are there again after a reload. Each is written as it is
 * made, as the differences that lead back and on; what is in it besides is the song itself.
 */
export class UndoLog {
  private depth = 0;
  private last: History | undefined;

  constructor(
    private readonly song: string,
    private readonly at: () => LoomDb = db,
  ) {}

  /** What is still to be written. A change is safe before that, in the journal: what it leads back to follows later. */
  private waiting: (() => void)[] = [];

  /** Writes now what is still to be written. */
  writeNow(): void {
    const all = this.waiting;
    this.waiting = [];
    for (const write of all) write();
  }

  /** Writes in a task of its own, in the order of the calls: much may have changed, and the page answers first. */
  private soon(write: () => Promise<void>): Promise<void> {
    return new Promise((done) => {
      this.waiting.push(() => done(write()));
      setTimeout(() => this.writeNow());
    });
  }

  /** Follows a history that was changed by one step: made, undone or redone. */
  follow(history: History, n: number): Promise<void> {
    const before = this.last;
    this.last = history;
    if (!before || before.song === history.song) return Promise.resolve();
    if (history.future.at(-1)?.song === before.song) {
      const depth = (this.depth = Math.max(0, this.depth - 1));
      return this.soon(() => this.put([], depth, n));
    }
    const step = history.past.at(-1);
    if (step?.song !== before.song) {
      // Another way than step by step: what was written leads nowhere.
      this.depth = 0;
      return this.soon(() => this.clear(n));
    }
    const depth = ++this.depth;
    return this.soon(async () => {
      // A step may lead to a song that is equal, and is a step all the same.
      const back = differenceOf(history.song, before.song) ?? NOTHING;
      const forth = differenceOf(before.song, history.song) ?? NOTHING;
      const row: UndoStep = { song: this.song, depth, label: step.label, back, forth };
      await this.put([row], depth, n, history.future.length === 0);
    });
  }

  /**
   * The history of a song that was opened with so many changes, as far as it is known.
   * @param trail the song after each of the changes that were noted and not stored, the stored one first:
   *   what a crash kept from being written here follows from them
   */
  async read(song: Song, n: number, trail: readonly Trodden[] = []): Promise<History> {
    const plain: History = { song, past: [], future: [] };
    this.last = plain;
    const state = await this.at().undoStates.get(this.song);
    const since = state && trail.findIndex((one) => one.n === state.n);
    if (!state || (state.n !== n && (since === undefined || since < 0))) {
      await this.clear(n);
      return plain;
    }
    const rows = await this.at()
      .undoSteps.where('[song+depth]')
      .between([this.song, 0], [this.song, Infinity])
      .toArray();
    this.depth = state.depth;
    const byDepth = new Map(rows.map((row) => [row.depth, row]));
    const known = state.n === n ? song : trail[since!].song;
    const past = stepsFrom(known, 'back', (i) => byDepth.get(state.depth - i)).reverse();
    const future = stepsFrom(known, 'forth', (i) => byDepth.get(state.depth + 1 + i)).reverse();
    let history: History = { song: known, past, future };
    this.last = history;
    if (state.n !== n) {
      for (const next of trail.slice(since! + 1)) {
        history = advance(history, next.song, 'a change');
        await this.follow(history, next.n);
      }
      history = { ...history, song };
      this.last = history;
    }
    return history;
  }

  /** Forgets all steps of a song. */
  async clear(n: number): Promise<void> {
    const at = this.at();
    await at
      .transaction('rw', at.undoSteps, at.undoStates, async () => {
        await at.undoSteps
          .where('[song+depth]')
          .between([this.song, -Infinity], [this.song, Infinity])
          .delete();
        await at.undoStates.put({ song: this.song, depth: 0, n });
      })
      .catch(() => {});
  }

  private async put(
    rows: readonly UndoStep[],
    depth: number,
    n: number,
    ends = false,
  ): Promise<void> {
    const at = this.at();
    const state: UndoState = { song: this.song, depth, n };
    await at
      .transaction('rw', at.undoSteps, at.undoStates, async () => {
        await at.undoSteps.bulkPut([...rows]);
        if (ends) {
          await at.undoSteps
            .where('[song+depth]')
            .between([this.song, depth], [this.song, Infinity], false)
            .delete();
        }
        if (depth > MOST) {
          await at.undoSteps
            .where('[song+depth]')
            .between([this.song, -Infinity], [this.song, depth - MOST])
            .delete();
        }
        await at.undoStates.put(state);
      })
      .catch(() => {});
  }
}

/** The songs that some differences lead to, one after another, as far as they are sound. */
function stepsFrom(song: Song, way: 'back' | 'forth', rowAt: (i: number) => UndoStep | undefined) {
  const steps: Step[] = [];
  let now = song;
  for (let i = 0, row = rowAt(0); row; row = rowAt(++i)) {
    const next = sound(now, row[way]);
    if (!next) break;
    steps.push({ song: (now = next), label: String(row.label) });
  }
  return steps;
}

/** A song with the number of changes in it. */
export interface Trodden {
  n: number;
  song: Song;
}

/** What a difference makes of a song; undefined where that would be no sound song. */
function sound(song: Song, difference: UndoStep['back']): Song | undefined {
  try {
    const next = withDifference(song, difference) as Song;
    return checkSong(next).length === 0 ? next : undefined;
  } catch {
    return undefined;
  }
}
