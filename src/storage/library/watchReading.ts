import type { Groove } from '@/core/library';
import type { Progress, Resumed } from './reading';
import type { ReadingResult } from './reading.worker';

/** A reading that goes on off the page's thread. */
export interface LibraryReading {
  result: Promise<ReadingResult>;
  pause(): void;
  resume(): void;
  cancel(): void;
}

/** What reads, and can be ended in the middle of a file. */
export interface Reader {
  read(
    tell: (progress: Progress, rows: Groove[]) => void,
    begun: (path?: string) => void,
    resumed: Resumed,
  ): Promise<ReadingResult>;
  pause(): void;
  resume(): void;
  cancel(): void;
  end(): void;
}

/** How long one file may take, and how long a reading may take to stop, in ms. */
export const PER_FILE = 15_000;
export const TO_STOP = 1500;

const TOO_LONG = 'It took longer than 15 seconds to read and was given up.';
const BROKE_OFF = 'Reading it broke off, and it was given up.';

/**
 * Watches over a reading: a file that takes too long, or that its reader dies at, is given up and named, and the
 * rest goes on; what is to stop is stopped, whatever it is at.
 * @param start makes a reader; a further one when the last was ended
 */
export function watchReading(
  start: () => Reader,
  tell: (progress: Progress, rows: Groove[]) => void,
): LibraryReading {
  const givenUp = new Map<string, string>();
  let reader: Reader;
  let progress: Progress | undefined;
  let isPaused = false;
  let at: string | undefined;
  let timer: ReturnType<typeof setTimeout> | undefined;
  let settle: { done(result: ReadingResult): void; failed(error: unknown): void };
  const settled = new Promise<ReadingResult>((done, failed) => (settle = { done, failed }));

  const end = () => {
    clearTimeout(timer);
    reader.end();
  };
  const run = () => {
    const mine = (reader = start());
    if (isPaused) mine.pause();
    const told = (now: Progress, rows: Groove[]) => {
      if (reader !== mine) return;
      progress = now;
      tell(now, rows);
    };
    const begun = (path?: string) => {
      if (reader !== mine) return;
      clearTimeout(timer);
      at = path;
      if (path !== undefined) timer = setTimeout(giveUp, PER_FILE, path, TOO_LONG);
    };
    mine.read(told, begun, { progress, givenUp }).then(
      (result) => reader === mine && settle.done(result),
      (error) => {
        if (reader !== mine) return;
        // A reader that dies at a file dies at that one again: the rest goes on without it.
        if (at !== undefined && !givenUp.has(at)) giveUp(at, BROKE_OFF);
        else settle.failed(error);
      },
    );
  };
  const giveUp = (path: string, why: string) => {
    givenUp.set(path, why);
    end();
    run();
  };
  const stop = () => {
    const where = at === undefined ? '' : ` in the middle of “${at}”`;
    const problems = [`Reading was stopped${where}. What was read until then is in the library.`];
    const nothing = { done: 0, total: 0, fresh: 0, duplicates: 0, unread: 0, unchanged: 0 };
    settle.done({ progress: progress ?? nothing, problems, unlisted: [] });
  };
  run();
  return {
    result: settled.finally(end),
    pause() {
      isPaused = true;
      reader.pause();
    },
    resume() {
      isPaused = false;
      reader.resume();
    },
    cancel() {
      reader.cancel();
      setTimeout(stop, TO_STOP);
    },
  };
}
