import * as Comlink from 'comlink';
import { guarded } from '@/workers/guard';
import type { Groove } from '@/core/library';
import type { Progress } from './reading';
import type { HandedFile, ReadingResult, ReadingWorker } from './reading.worker';
import { watchReading, type LibraryReading, type Reader } from './watchReading';

export type { Progress } from './reading';
export type { HandedFile, ReadingResult } from './reading.worker';
export type { LibraryReading } from './watchReading';

const HANDFUL = 250;

/** Reads files into the library, off the page's thread. */
export function readFiles(
  files: readonly HandedFile[],
  tell: (progress: Progress, rows: Groove[]) => void,
): LibraryReading {
  return watchReading(() => readerOf(files), tell);
}

/** Whoever waits for the reading learns that it failed. */
const nobodyWaits = () => {};

/** A worker that these files are handed to. */
function readerOf(files: readonly HandedFile[]): Reader {
  const worker = new Worker(new URL('./reading.worker.ts', import.meta.url), { type: 'module' });
  const { ask, end } = guarded<ReadingWorker>(worker);
  return {
    async read(tell, begun, resumed): Promise<ReadingResult> {
      // Handing over ten thousand files at once would hold up the page.
      for (let from = 0; from < files.length; from += HANDFUL) {
        await ask((remote) => remote.hand(files.slice(from, from + HANDFUL)));
      }
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = ({ data }) => begun(data as string | undefined);
      return ask((remote) =>
        remote.read(Comlink.proxy(tell), Comlink.transfer(port2, [port2]), resumed),
      );
    },
    pause: () => void ask((remote) => remote.pause()).catch(nobodyWaits),
    resume: () => void ask((remote) => remote.resume()).catch(nobodyWaits),
    cancel: () => void ask((remote) => remote.cancel()).catch(nobodyWaits),
    end,
  };
}
