/**
 * npm test: formatter, lint, types and unit tests beside the build, then the end-to-end tests. The last
 * line is the sum of all runners; a check without a runner of its own counts as one.
 * `-- --changed [COMMIT]` checks what changed since a commit (HEAD when none is named): see changed.mjs.
 */
import { changedSince } from './changed.mjs';
import { ensureChromium, ensureModules } from './lib.mjs';
import { Checks, sideBySide } from './steps.mjs';

const BIN = 'node_modules/.bin';
const at = process.argv.indexOf('--changed');
ensureModules();
ensureChromium();
const began = Date.now();
const changed = at < 0 ? undefined : await changedSince(process.argv[at + 1] ?? 'HEAD');
const checks = new Checks();
let built = true;

const lintable = changed?.files.filter((file) => /\.(tsx?|m?js)$/.test(file));
const unit = ['--config', 'jest.unit.config.js'];
const steps = [
  (changed === undefined || changed.e2e.length > 0) &&
    (async () => (built = await checks.step('build', 'npm', ['run', '--silent', 'build']))),
  () =>
    checks.jest(
      'unit tests',
      `${BIN}/jest`,
      changed ? [...unit, '--findRelatedTests', ...changed.files] : unit,
    ),
  () => checks.step('types', 'npm', ['run', '--silent', 'types']),
  lintable?.length !== 0 &&
    (() =>
      checks.step('lint', `${BIN}/eslint`, [
        ...['--cache', '--cache-strategy', 'content', '--cache-location', '.tmp/eslint'],
        ...['--max-warnings', '0', ...(lintable ?? ['.'])],
      ])),
  () =>
    checks.step('formatter', `${BIN}/prettier`, [
      ...['--check', '--log-level', 'warn', '--ignore-unknown'],
      ...['--cache', '--cache-strategy', 'content', '--cache-location', '.tmp/prettier'],
      ...(changed?.files ?? ['.']),
    ]),
];
await sideBySide(
  steps.filter((step) => step),
  2,
);
if (built && changed?.e2e.length !== 0) {
  const env = { BUILT: '1' };
  const some = changed ? ['--', ...changed.e2e] : [];
  const e2e = (group) => ['scripts/e2e.mjs', '--group', group, ...some];
  await checks.jest('end-to-end tests', 'node', e2e('side-by-side'), env);
  await checks.jest('end-to-end tests that need quiet', 'node', e2e('quiet'), env);
}
checks.seconds.all = (Date.now() - began) / 1000;
process.exit(checks.report({ keep: !changed }) ? 0 : 1);
