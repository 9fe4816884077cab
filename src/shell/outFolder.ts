import type { OutFolder } from '@/state/platform';

/** A folder of the disk that files are written into. */
export function outFolder(folder: FileSystemDirectoryHandle): OutFolder {
  /** What was not there before, the innermost last. */
  const made: { into: FileSystemDirectoryHandle; name: string }[] = [];

  const reserve = async (path: string): Promise<FileSystemFileHandle> => {
    const parts = path.split('/');
    const name = parts.pop()!;
    let into = folder;
    for (const part of parts) {
      const there = await found(into.getDirectoryHandle(part));
      if (!there) made.push({ into, name: part });
      into = there ?? (await into.getDirectoryHandle(part, { create: true }));
    }
    const there = await found(into.getFileHandle(name));
    if (there) return there;
    made.push({ into, name });
    return into.getFileHandle(name, { create: true });
  };

  return {
    name: folder.name,
    handle: folder,
    reserve,
    async write(path, content) {
      const file = await reserve(path);
      // What a stream has written is only in its file once it is closed: nothing stands there by half.
      await content.stream().pipeTo(await file.createWritable());
    },
    async forsake() {
      for (let one = made.pop(); one; one = made.pop()) await removed(one);
    },
  };
}

/** Whether a folder that was kept may be written into without the user being asked. */
export async function mayWrite(folder: FileSystemDirectoryHandle): Promise<boolean> {
  const asked = folder as FileSystemDirectoryHandle & {
    queryPermission?(options: { mode: 'readwrite' }): Promise<PermissionState>;
  };
  return ((await asked.queryPermission?.({ mode: 'readwrite' })) ?? 'granted') === 'granted';
}

/** What an ended worker was writing is let go a moment later. */
const PATIENCE = 50;

async function removed({ into, name }: { into: FileSystemDirectoryHandle; name: string }) {
  for (let tries = 0; tries < PATIENCE; tries++) {
    try {
      return await into.removeEntry(name);
    } catch (error) {
      const held = error instanceof DOMException && error.name === 'NoModificationAllowedError';
      if (!held) return;
      await new Promise((done) => setTimeout(done, 100));
    }
  }
}

/** A handle, where there is something of that name. */
async function found<Handle>(handle: Promise<Handle>): Promise<Handle | undefined> {
  try {
    return await handle;
  } catch (error) {
    if (error instanceof DOMException && error.name === 'NotFoundError') return undefined;
    throw error;
  }
}
