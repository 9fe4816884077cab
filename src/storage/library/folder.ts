import { isGrooveFile } from '@/core/library';
import type { HandedFile } from './reading.worker';

/** A folder that the browser lets one read, remembered until it is read. */
interface FolderHandle extends FileSystemDirectoryHandle {
  requestPermission?(options: { mode: 'read' }): Promise<PermissionState>;
}

/** Whether a remembered folder may be read again; the browser may ask the user. */
export async function mayRead(folder: FileSystemDirectoryHandle): Promise<boolean> {
  const answer = await (folder as FolderHandle).requestPermission?.({ mode: 'read' });
  return (answer ?? 'granted') === 'granted';
}

/** The groove files of a folder and of those in it. */
export async function filesOfFolder(
  folder: FileSystemDirectoryHandle,
  path = folder.name,
): Promise<HandedFile[]> {
  const files: HandedFile[] = [];
  for await (const item of folder.values()) {
    const under = `${path}/${item.name}`;
    if (item.kind === 'directory') {
      files.push(...(await filesOfFolder(item, under)));
    } else if (isGrooveFile(item.name)) {
      files.push({ path: under, file: await item.getFile() });
    }
  }
  return files;
}
