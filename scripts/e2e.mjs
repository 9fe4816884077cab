/**
 * npm run e2e: the real interface in headless Chromium. Builds first unless BUILT is set.
 * `-- --repeat N` runs it N times and stops at the first failure; what else follows goes to jest.
 */
import { build, ensureChromium, ensureModules, freePort, run, startServer } from './lib.mjs';

const args = process.argv.slice(2);
const at = args.indexOf('--repeat');
const rounds = at < 0 ? 1 : Number(args.splice(at, 2)[1]);
if (!(rounds >= 1)) {
  console.error('--repeat takes a number of rounds, 1 or more.');
  process.exit(2);
}

ensureModules();
ensureChromium();
if (!process.env.BUILT) build();
const { url, stop } = await startServer(await freePort());
let ok = true;
for (let round = 1; ok && round <= rounds; round++) {
  if (rounds > 1) console.log(`round ${round} of ${rounds}`);
  ok = run('node_modules/.bin/jest', ['--config', 'jest.e2e.config.js', ...args], {
    VERSE_LOOM_URL: url,
  });
}
stop();
process.exit(ok ? 0 : 1);
