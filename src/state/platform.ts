import type { Chart } from '@/core/deliver';
import type { Song } from '@/core/model';
import type { Paper } from '@/core/notation';

/** A folder that files are written into. */
export interface OutFolder {
  name: string;
  /** What the browser knows it by, where it can be kept. */
  handle?: FileSystemDirectoryHandle;
  /** Writes a file, in folders of its own where its path has some. What is there of that name is replaced whole. */
  write(path: string, content: Blob): Promise<void>;
  /** Opens a file for what writes it by itself; what is there of that name stays until that closes it. */
  reserve(path: string): Promise<FileSystemFileHandle>;
  /** Removes files and folders that were not there before `reserve`: they are empty. */
  forsake(): Promise<void>;
}

/**
 * What the state asks of the page it runs in. The shell gives it; without a page nothing is saved and
 * nothing waits for a frame.
 */
export interface Platform {
  /** Lets the user keep a file. */
  saveFile(content: BlobPart, name: string, type: string): void;
  /** Whether files can be written into a folder that the user chooses. */
  canOpenFolder(): boolean;
  /** Lets the user choose a folder to write into; undefined when it was called off. */
  openFolder(purpose?: 'deliveries' | 'backups'): Promise<OutFolder | undefined>;
  /** Draws the pages of a chart, each as the text of an SVG that stands by itself. */
  drawChart(chart: Chart, paper: Paper): Promise<string[]>;
  /** Draws a song as a picture (PNG); undefined where nothing can be drawn. */
  drawSong(song: Song): Promise<Blob | undefined>;
  /** A folder that was chosen before, as far as the browser lets it be written into without being asked. */
  keptFolder(folder: FileSystemDirectoryHandle): Promise<OutFolder | undefined>;
  /** Opens the browser's way to print pages, each the text of an SVG, on this paper. */
  print(pages: readonly string[], paper: Paper, title: string): Promise<void>;
  /** Calls once the next frame is drawn: what the eye does not wait for. */
  afterFrame(run: () => void): void;
  /** Goes to a field, or presses what opens it, by the beginning of its name. @returns whether it is there */
  reachField(name: string): boolean;
  /** Puts the focus on the first element that is shown and matches. @returns whether there is one */
  focusOn(selector: string): boolean;
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
  canOpenFolder: () => false,
  openFolder: async () => undefined,
  drawChart: async () => [],
  drawSong: async () => undefined,
  keptFolder: async () => undefined,
  print: async () => {},
  afterFrame: (run) => void setTimeout(run),
  reachField: () => false,
  focusOn: () => false,
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
