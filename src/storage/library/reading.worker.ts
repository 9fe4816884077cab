import * as Comlink from 'comlink';
import type { Groove } from '@/core/library';
import { db, type SourceFile } from '../db';
import { unlisted } from './library';
import { readInto, type Found, type Progress } from './reading';
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
  /** Reads what was handed over. */
  async read(tell: (progress: Progress, rows: Groove[]) => void): Promise<ReadingResult> {
    cancelled = false;
    const problems: string[] = [];
    const files: Found[] = [];
    for (const { path, file } of handed) {
      if (!/\.zip$/i.test(path)) {
        files.push({
          path,
          size: file.size,
          modified: file.lastModified,
          bytes: async () => new Uint8Array(await file.arrayBuffer()),
        });
        continue;
      }
      const unzipped = unzipGrooves(new Uint8Array(await file.arrayBuffer()), file.name);
      if ('problem' in unzipped) problems.push(unzipped.problem);
      else {
        files.push(...unzipped.files);
        problems.push(
          ...unzipped.refused.map((name) => `“${name}” leads out of its zip and was refused.`),
        );
      }
    }
    const progress = await readInto(db(), files, {
      go: () => paused?.promise ?? Promise.resolve(),
      cancelled: () => cancelled,
      tell,
    });
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

export type ReadingWorker = typeof readingWorker;

Comlink.expose(readingWorker);
