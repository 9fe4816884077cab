import * as Comlink from 'comlink';
import type { Groove } from '@/core/library';
import type { Progress } from './reading';
import type { HandedFile, ReadingResult, ReadingWorker } from './reading.worker';

export type { Progress } from './reading';
export type { HandedFile, ReadingResult } from './reading.worker';

/** A reading that goes on off the page's thread. */
export interface LibraryReading {
  result: Promise<ReadingResult>;
  pause(): void;
  resume(): void;
  cancel(): void;
}

const HANDFUL = 250;

export function readFiles(
  files: HandedFile[],
  tell: (progress: Progress, rows: Groove[]) => void,
): LibraryReading {
  const worker = new Worker(new URL('./reading.worker.ts', import.meta.url), { type: 'module' });
  const remote = Comlink.wrap<ReadingWorker>(worker);
  const read = async () => {
    // Handing over ten thousand files at once would hold up the page.
    for (let from = 0; from < files.length; from += HANDFUL) {
      await remote.hand(files.slice(from, from + HANDFUL));
    }
    return remote.read(Comlink.proxy(tell));
  };
  return {
    result: read().finally(() => worker.terminate()),
    pause: () => void remote.pause(),
    resume: () => void remote.resume(),
    cancel: () => void remote.cancel(),
  };
}
