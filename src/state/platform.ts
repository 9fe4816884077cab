/**
 * What the state asks of the page it runs in. The shell gives it; without a page nothing is saved and
 * nothing waits for a frame.
 */
export interface Platform {
  /** Lets the user keep a file. */
  saveFile(content: BlobPart, name: string, type: string): void;
  /** Calls once the next frame is drawn: what the eye does not wait for. */
  afterFrame(run: () => void): void;
  /** Goes to a field, or presses what opens it, by the beginning of its name. @returns whether it is there */
  reachField(name: string): boolean;
  /** Lets the user choose files, or all files of a folder; none when it was called off. */
  chooseFolder(): Promise<{
    name: string;
    files: readonly File[];
    folder?: FileSystemDirectoryHandle;
  }>;
  /** Lets the user choose a file with one of these endings to look into; undefined when it was called off. */
  chooseOne(endings: readonly `.${string}`[]): Promise<File | undefined>;
  /** Lets the user choose several files with one of these endings; none when it was called off. */
  chooseSome(endings: readonly `.${string}`[]): Promise<readonly File[]>;
  /** Opens the field for a file to import. */
  chooseFile(): void;
  /** Loads the version of the workbench that waits. @returns whether one does */
  takeNewVersion(): boolean;
  /** Asks the browser to install the workbench as an application. @returns whether it can */
  install(): boolean;
}

export let platform: Platform = {
  saveFile() {},
  afterFrame: (run) => void setTimeout(run),
  reachField: () => false,
  chooseFolder: async () => ({ name: '', files: [] }),
  chooseOne: async () => undefined,
  chooseSome: async () => [],
  chooseFile() {},
  takeNewVersion: () => false,
  install: () => false,
};

export function setPlatform(page: Platform): void {
  platform = page;
}
