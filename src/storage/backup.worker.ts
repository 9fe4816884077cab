import * as Comlink from 'comlink';
import { writeBackup } from './backup';

const backupWorker = {
  async write(): Promise<Uint8Array> {
    const bytes = await writeBackup();
    return Comlink.transfer(bytes, [bytes.buffer]);
  },
};

export type BackupWorker = typeof backupWorker;

Comlink.expose(backupWorker);
