import * as Comlink from 'comlink';
import type { BackupWorker } from './backup.worker';

/** Everything of this browser as one file, packed off the page's thread. */
export async function writeBackupAside(): Promise<Uint8Array> {
  const worker = new Worker(new URL('./backup.worker.ts', import.meta.url), { type: 'module' });
  const died = new Promise<never>((_, reject) => {
    worker.onerror = () => reject(new Error('The worker died.'));
  });
  try {
    return await Promise.race([Comlink.wrap<BackupWorker>(worker).write(), died]);
  } finally {
    worker.terminate();
  }
}
