import { aside } from '@/workers/guard';
import type { BackupWorker } from './backup.worker';

/** Everything of this browser as one file, packed off the page's thread. */
export function writeBackupAside(): Promise<Uint8Array> {
  const worker = new Worker(new URL('./backup.worker.ts', import.meta.url), { type: 'module' });
  return aside<BackupWorker, Uint8Array>(worker, (remote) => remote.write()).result;
}
