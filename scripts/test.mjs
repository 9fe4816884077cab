/**
 * npm test: formatter, lint, types, unit tests, build, end-to-end tests. The last line is the sum of
 * all runners; a check without a runner of its own counts as one.
 */
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { ensureChromium, ensureModules, run } from './lib.mjs';

ensureModules();
ensureChromium();
mkdirSync('.tmp', { recursive: true });

let passed = 0;
let failed = 0;

function check(name, command, args) {
  console.log(`\n${name}`);
  const ok = run(command, args, { NEXT_TELEMETRY_DISABLED: '1' });
  if (ok) passed++;
  else failed++;
  console.log(`${name}: ${ok ? 'passed' : 'FAILED'}`);
  return ok;
}

/** Runs jest and adds its own count; a runner that died counts as one failure. */
function jest(name, command, args, env = {}) {
  console.log(`\n${name}`);
  const file = `.tmp/${name.replaceAll(' ', '-')}.json`;
  rmSync(file, { force: true });
  const ok = run(command, [...args, '--json', `--outputFile=${file}`, '--forceExit'], env);
  let counted = 0;
  try {
    const result = JSON.parse(readFileSync(file, 'utf8'));
    passed += result.numPassedTests;
    counted = result.numFailedTests + result.numRuntimeErrorTestSuites;
  } catch {
    counted = 0;
  }
  failed += ok ? counted : Math.max(1, counted);
}

check('formatter', 'node_modules/.bin/prettier', ['--check', '--log-level', 'warn', '.']);
check('lint', 'node_modules/.bin/eslint', ['.']);
check('types', 'node_modules/.bin/tsc', ['--noEmit']);
jest('unit tests', 'node_modules/.bin/jest', ['--config', 'jest.unit.config.js']);
if (check('build', 'npm', ['run', '--silent', 'build'])) {
  jest('end-to-end tests', 'node', ['scripts/e2e.mjs'], { BUILT: '1' });
}
console.log(`\n${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
