/** What a change touches: its files, and the end-to-end tests of what imports them. */
import { execFileSync } from 'node:child_process';
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { runTypeScript } from './lib.mjs';

const git = (...args) =>
  execFileSync('git', args, { encoding: 'utf8' }).split('\n').filter(Boolean);

/** The folders of src that an end-to-end test is about: its line `@about`. */
export function aboutOf(test) {
  const [, words = ''] = /@about ([^\n*]+)/.exec(readFileSync(test, 'utf8')) ?? [];
  return words.split(/[ ,]+/).filter(Boolean);
}

export const endToEndTests = () =>
  readdirSync('e2e')
    .filter((name) => name.endsWith('.test.ts'))
    .map((name) => `e2e/${name}`);

/**
 * @param commit what is compared with, the work tree included
 * @returns the files that changed and are there, and the end-to-end tests of them: those that changed
 *   themselves, and those about a folder which holds or imports a changed file, a face counting as what
 *   it names
 */
export async function changedSince(commit) {
  const files = [
    ...git('diff', '--name-only', commit),
    ...git('ls-files', '--others', '--exclude-standard'),
  ].filter((file) => existsSync(file));
  const changed = new Set(files);
  const imports = (await runTypeScript('scripts/imports.ts')).filter(({ ours }) => ours);
  const importedBy = new Map(imports.map(({ from }) => [from, []]));
  for (const one of imports) importedBy.get(one.from).push(one);
  const isFace = (file) => file.endsWith('/index.ts');
  const seenFrom = (file) =>
    (importedBy.get(file) ?? []).flatMap(({ to }) =>
      isFace(to) ? [to, ...(importedBy.get(to) ?? []).map((one) => one.to)] : [to],
    );
  const isTouched = (folder) =>
    [...importedBy.keys(), ...files].some(
      (file) =>
        file.startsWith(`src/${folder}/`) &&
        (changed.has(file) || seenFrom(file).some((to) => changed.has(to))),
    );
  const e2e = endToEndTests().filter(
    (test) => changed.has(test) || changed.has('e2e/browser.ts') || aboutOf(test).some(isTouched),
  );
  return { files, e2e };
}
