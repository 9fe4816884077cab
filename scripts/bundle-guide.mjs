/** Puts the pages of the guide, and the pictures they show, where the application reads them. */
import { cpSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';

const from = 'docs/guide';
const to = 'public/guide';
const PICTURE = /\.\.\/screenshots\/([\w-]+\.png)/g;

rmSync(to, { recursive: true, force: true });
mkdirSync(to, { recursive: true });
for (const page of readdirSync(from).filter((name) => name.endsWith('.md'))) {
  const text = readFileSync(join(from, page), 'utf8');
  for (const [path] of text.matchAll(PICTURE)) {
    cpSync(join(from, path), join(to, basename(path)));
  }
  writeFileSync(join(to, page), text.replace(PICTURE, '/guide/$1'));
}
