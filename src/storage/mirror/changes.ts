import type { Dexie, DBCore, DBCoreMutateRequest } from 'dexie';
import { isMirrored } from './tables';

/** Messages between the pages and the mirror of a browser. */
export type MirrorWord =
  /** These rows were written; without keys it is not known which. */
  | { says: 'changed'; table: string; keys?: readonly string[] }
  /** A song is in the mirror with its first `n` changes. */
  | { says: 'mirrored'; song: string; n: number };

let line: BroadcastChannel | undefined;

/** The line; undefined where the browser has no private files, and so no mirror. */
export function mirrorLine(): BroadcastChannel | undefined {
  if (typeof navigator === 'undefined' || !navigator.storage?.getDirectory) return undefined;
  return (line ??= new BroadcastChannel('verse-loom mirror'));
}

let noticed = () => {};

/** Calls back once something was written that the mirror is to have. */
export function onFirstChange(call: () => void): void {
  noticed = () => {
    noticed = () => {};
    call();
  };
}

/** Has a database tell what is written to it, in whichever page or worker. */
export function tellChanges(at: Dexie): void {
  at.use({
    stack: 'dbcore',
    name: 'mirror',
    create: (core: DBCore): DBCore => ({
      ...core,
      table(name) {
        const table = core.table(name);
        if (!isMirrored(name)) return table;
        return {
          ...table,
          async mutate(asked) {
            const done = await table.mutate(asked);
            const keys = keysOf(asked, table.schema.primaryKey.extractKey!);
            mirrorLine()?.postMessage({ says: 'changed', table: name, ...(keys && { keys }) });
            noticed();
            return done;
          },
        };
      },
    }),
  });
}

function keysOf(
  asked: DBCoreMutateRequest,
  keyOf: (row: unknown) => unknown,
): string[] | undefined {
  if (asked.type === 'deleteRange') return undefined;
  if (asked.type === 'delete') return asked.keys.map(String);
  return asked.values.map((row) => String(keyOf(row)));
}
