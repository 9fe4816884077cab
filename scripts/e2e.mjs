/** npm run e2e: the real interface in headless Chromium. Builds first unless BUILT is set. */
import { build, ensureChromium, ensureModules, freePort, run, startServer } from './lib.mjs';

ensureModules();
ensureChromium();
if (!process.env.BUILT) build();
const { url, stop } = await startServer(await freePort());
const args = ['--config', 'jest.e2e.config.js', ...process.argv.slice(2)];
const ok = run('node_modules/.bin/jest', args, { VERSE_LOOM_URL: url });
stop();
process.exit(ok ? 0 : 1);
