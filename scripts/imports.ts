import { readdirSync, readFileSync } from 'node:fs';
import path from 'node:path';
import ts from 'typescript';

export interface Import {
  from: string;
  /** The file of ours, or the name as it is written: a package, a style sheet, a table. */
  to: string;
  ours: boolean;
}

/** Every file of the application, as a path from the folder of the project; tests are left out. */
export const sourceFiles = (): string[] =>
  readdirSync('src', { recursive: true, encoding: 'utf8' })
    .map((file) => path.posix.join('src', file))
    .filter((file) => /\.tsx?$/.test(file) && !/\.(test|d)\.tsx?$/.test(file));

/** The import graph of the application: every import of every file, types included. */
export function importsOf(files: readonly string[]): Import[] {
  const known = new Set(files);
  const resolved = (from: string, name: string) => {
    const base = name.startsWith('@/')
      ? `src/${name.slice(2)}`
      : name.startsWith('.') && path.posix.join(path.posix.dirname(from), name);
    if (!base) return undefined;
    return [base, `${base}.ts`, `${base}.tsx`, `${base}/index.ts`].find((file) => known.has(file));
  };
  return files.flatMap((from) => {
    const { importedFiles } = ts.preProcessFile(readFileSync(from, 'utf8'), true, true);
    return importedFiles.map(({ fileName }) => {
      const file = resolved(from, fileName);
      return { from, to: file ?? fileName, ours: file !== undefined };
    });
  });
}

/** The whole graph, for the scripts. */
export const main = (): Import[] => importsOf(sourceFiles());
