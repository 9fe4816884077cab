import 'fake-indexeddb/auto';
import { writeBackupAside } from '@/storage/backupAside';
import { backupFolder } from '@/storage/settings';
import { listSongs } from '@/storage/songs';
import { platform, setPlatform, type OutFolder } from '../platform';
import { useWorkbench } from '../store';
import { backUpInto, backupFolderState, backUpWhenDue, stopBackingUp } from './backups';

jest.mock('@/workers');
jest.mock('@/storage/backupAside', () => ({
  writeBackupAside: jest.fn(async () => Uint8Array.of(1, 2, 3)),
}));
jest.mock('@/storage/songs', () => ({ listSongs: jest.fn(async () => []) }));
jest.mock('./session', () => ({ saveNow: jest.fn(async () => {}) }));

const MINUTE = 60_000;
const written: string[] = [];
const handle = { kind: 'directory', name: 'cellar' } as FileSystemDirectoryHandle;
const folder: OutFolder = {
  name: 'cellar',
  handle,
  write: async (path) => void written.push(path),
  reserve: jest.fn(),
  forsake: jest.fn(),
};
const said = () => useWorkbench.getState().notices.at(-1)?.message;
const keptFolder = jest.fn(async (): Promise<OutFolder | undefined> => folder);
setPlatform({
  ...platform,
  canOpenFolder: () => true,
  openFolder: async () => folder,
  keptFolder,
});
const changedAt = (changed: number) =>
  jest.mocked(listSongs).mockResolvedValue([{ changed } as never]);

beforeEach(async () => {
  written.length = 0;
  await backUpInto();
});

test('a folder that is chosen is written into at once, and again when something has changed and time has passed', async () => {
  expect(said()).toMatch(/saved into “cellar” by itself/);
  expect(written).toEqual([expect.stringMatching(/^verse-loom-\d{4}-\d\d-\d\d\.backup\.zip$/)]);
  expect(await backupFolderState()).toEqual({ name: 'cellar', waits: false });
  const now = Date.now();
  changedAt(now + MINUTE);
  await backUpWhenDue(now + 5 * MINUTE);
  expect(written).toHaveLength(1);
  await backUpWhenDue(now + 11 * MINUTE);
  expect(written).toHaveLength(2);
  changedAt(now - 20 * MINUTE);
  await backUpWhenDue(now + 30 * MINUTE);
  expect(written).toHaveLength(2);
});

test('what the browser does not let be written waits, and nothing is written after it was stopped', async () => {
  changedAt(Date.now() + MINUTE);
  keptFolder.mockResolvedValue(undefined);
  await backUpWhenDue(Date.now() + 20 * MINUTE);
  expect(written).toHaveLength(1);
  expect(await backupFolderState()).toEqual({ name: 'cellar', waits: true });
  keptFolder.mockResolvedValue(folder);
  await stopBackingUp();
  await backUpWhenDue(Date.now() + 20 * MINUTE);
  expect(written).toHaveLength(1);
  expect(await backupFolderState()).toBeUndefined();
});

test('a folder that is gone or full is said once, and not tried again', async () => {
  changedAt(Date.now() + MINUTE);
  jest.mocked(writeBackupAside).mockRejectedValueOnce(new Error('full'));
  await backUpWhenDue(Date.now() + 20 * MINUTE);
  expect(said()).toMatch(/Nothing could be saved into “cellar”/);
  expect(await backupFolder()).toBeUndefined();
});
