import * as Comlink from 'comlink';
import { died } from '@/workers/died';
import type { BackupWorker } from './backup.worker';

/** Everything of this browser as one file, packed off the page's thread. */
export async function writeBackupAside(): Promise<Uint8Array> {
  const worker = new Worker(new URL('./backup.worker.ts', import.meta.url), { type: 'module' });
  try {
    return await Promise.race([Comlink.wrap<BackupWorker>(worker).write(), died(worker)]);
  } finally {
    worker.terminate();
  }
}
