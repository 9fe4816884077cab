/**
 * npm run e2e: the real interface in headless Chromium. Builds first unless BUILT is set.
 * `-- --repeat N` runs it N times and stops at the first failure; `-- --group quiet` runs the tests that
 * need a quiet machine (their line `@quiet`), one at a time, `-- --group side-by-side` the others, two at
 * once; what follows a further `--` names test files; what else follows goes to jest.
 */
import { readFileSync } from 'node:fs';
import { endToEndTests } from './changed.mjs';
import { build, ensureChromium, ensureModules, freePort, run, startServer } from './lib.mjs';

const args = process.argv.slice(2);
/** Takes a flag and its value out of the arguments. */
function taken(flag) {
  const at = args.indexOf(flag);
  return at < 0 ? undefined : args.splice(at, 2)[1];
}

const rounds = Number(taken('--repeat') ?? 1);
const asked = taken('--group');
const groups = asked ? [asked] : ['side-by-side', 'quiet'];
if (!(rounds >= 1)) {
  console.error('--repeat takes a number of rounds, 1 or more.');
  process.exit(2);
}
const isFile = (arg) => arg.endsWith('.test.ts');
const named = args.filter(isFile);
const rest = args.filter((arg) => !isFile(arg) && arg !== '--');

const needsQuiet = (test) => readFileSync(test, 'utf8').includes('@quiet');
const testsOf = (group) =>
  endToEndTests().filter(
    (test) =>
      needsQuiet(test) === (group === 'quiet') && (named.length === 0 || named.includes(test)),
  );

ensureModules();
ensureChromium();
if (!process.env.BUILT) build();
const { url, stop } = await startServer(await freePort());
let ok = true;
for (let round = 1; ok && round <= rounds; round++) {
  if (rounds > 1) console.log(`round ${round} of ${rounds}`);
  for (const group of groups) {
    const tests = testsOf(group);
    if (tests.length === 0) continue;
    const workers = group === 'quiet' ? '1' : '2';
    const jest = ['--config', 'jest.e2e.config.js', '--maxWorkers', workers, ...rest];
    ok =
      run('node_modules/.bin/jest', [...jest, '--runTestsByPath', ...tests], {
        VERSE_LOOM_URL: url,
      }) && ok;
  }
}
stop();
process.exit(ok ? 0 : 1);
