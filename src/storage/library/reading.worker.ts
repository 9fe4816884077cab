import * as Comlink from 'comlink';
import type { Groove } from '@/core/library';
import { db, type SourceFile } from '../db';
import { unlisted } from './library';
import { readInto, type Found, type Progress, type Resumed } from './reading';
import { unzipGrooves } from './unzip';

/** A file as the page hands it over. */
export interface HandedFile {
  path: string;
  file: File;
}

/** What a reading came to. */
export interface ReadingResult {
  progress: Progress;
  /** What could not be looked into at all, a sentence each. */
  problems: string[];
  /** The files that are not listed by themselves, with the reason of each. */
  unlisted: SourceFile[];
}

const handed: HandedFile[] = [];
let paused: { promise: Promise<void>; end: () => void } | undefined;
let cancelled = false;

/** Reads files and stores them, off the page's thread. */
const readingWorker = {
  /** Takes some of the files that are to be read. */
  hand(files: HandedFile[]): void {
    handed.push(...files);
  },
  /**
   * Reads what was handed over.
   * @param begun is told which file is being read, or nothing when none is
   */
  async read(
    tell: (progress: Progress, rows: Groove[]) => void,
    begun: MessagePort,
    resumed: Resumed,
  ): Promise<ReadingResult> {
    const { files, problems } = await listed();
    const progress = await readInto(
      db(),
      files,
      {
        go: () => paused?.promise ?? Promise.resolve(),
        cancelled: () => cancelled,
        begin: (path) => begun.postMessage(path),
        tell,
      },
      resumed,
    );
    const read = new Set(files.map(({ path }) => path));
    return {
      progress,
      problems,
      unlisted: (await unlisted()).filter(({ path }) => read.has(path)),
    };
  },
  pause(): void {
    if (paused) return;
    let end = () => {};
    const promise = new Promise<void>((done) => (end = done));
    paused = { promise, end };
  },
  resume(): void {
    paused?.end();
    paused = undefined;
  },
  cancel(): void {
    cancelled = true;
    readingWorker.resume();
  },
};

/** The files that were handed over, and those in the zips among them. */
async function listed(): Promise<{ files: Found[]; problems: string[] }> {
  const files: Found[] = [];
  const problems: string[] = [];
  for (const { path, file } of handed) {
    if (cancelled) break;
    if (/\.zip$/i.test(path)) {
      const unzipped = await unzipGrooves(file, file.name);
      files.push(...unzipped.files);
      problems.push(...unzipped.problems);
    } else {
      files.push({
        path,
        size: file.size,
        modified: file.lastModified,
        bytes: async () => new Uint8Array(await file.arrayBuffer()),
      });
    }
  }
  return { files, problems };
}

export type ReadingWorker = typeof readingWorker;

Comlink.expose(readingWorker);
