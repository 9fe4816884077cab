import type { NotedChange } from './db';

/** Where the logs of all tabs lie among the private files of the application. */
export const FOLDER = 'changes';

/** A change as a line of the log. */
export function lineOf(song: string, n: number, difference: string): string {
  return `${JSON.stringify([song, n])}\t${difference}\n`;
}

/** The changes of a log. Its last line may be cut off, and any may be damaged: those are left out. */
export function linesOf(text: string): NotedChange[] {
  return text.split('\n').flatMap((line): NotedChange[] => {
    const [head, rest] = line.split('\t', 2);
    try {
      const [song, n] = JSON.parse(head) as unknown[];
      const difference = JSON.parse(rest) as NotedChange['difference'];
      if (typeof song !== 'string' || !Number.isSafeInteger(n)) return [];
      if (typeof difference !== 'object' || difference === null) return [];
      return [{ song, n: n as number, difference }];
    } catch {
      return [];
    }
  });
}
