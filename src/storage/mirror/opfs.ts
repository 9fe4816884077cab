import type { Shelf } from './mirror';

/** Where the packs lie among the private files of the application. */
const FOLDER = 'mirror';
const ASIDE = '.aside';

type Folder = FileSystemDirectoryHandle & { keys(): AsyncIterable<string> };
type Movable = FileSystemFileHandle & { move?(name: string): Promise<void> };

/**
 * The private files of the application, as a shelf.
 * @param create whether the folder is made where there is none
 * @returns undefined where there is none, or the browser has no such files
 */
export async function privateShelf(create: boolean): Promise<Shelf | undefined> {
  let folder: Folder;
  try {
    const root = await navigator.storage.getDirectory();
    folder = (await root.getDirectoryHandle(FOLDER, { create })) as Folder;
  } catch {
    return undefined;
  }
  return {
    async names() {
      const names: string[] = [];
      for await (const name of folder.keys()) {
        // A pack that was not written to its end when the browser was killed is none.
        if (name.endsWith(ASIDE)) await folder.removeEntry(name).catch(() => {});
        else names.push(name);
      }
      return names;
    },
    async read(name, upTo) {
      const file = await (await folder.getFileHandle(name)).getFile();
      return new Uint8Array(await (upTo === undefined ? file : file.slice(0, upTo)).arrayBuffer());
    },
    async write(name, bytes) {
      const handle: Movable = await folder.getFileHandle(name + ASIDE, { create: true });
      const writable = await handle.createWritable();
      await writable.write(bytes as BufferSource);
      await writable.close();
      // A browser that cannot rename writes it again: its sum says whether all of it is there.
      if (handle.move) return handle.move(name);
      const whole = await (await folder.getFileHandle(name, { create: true })).createWritable();
      await whole.write(bytes as BufferSource);
      await whole.close();
      await folder.removeEntry(name + ASIDE);
    },
    remove: (name) => folder.removeEntry(name),
  };
}
