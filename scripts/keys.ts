import { readFileSync, writeFileSync } from 'node:fs';
import { withKeyTable } from '../src/state/acts/keyTable';

/** Brings the table of keys in the README up to date. */
export function main(): void {
  writeFileSync('README.md', withKeyTable(readFileSync('README.md', 'utf8')));
}
