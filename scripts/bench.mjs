/**
 * npm run bench: figures as ratios within one run. `-- --json` ends with one JSON object; `-- --kill`
 * measures only what is lost by pages that are killed, closed or left at work.
 */
import {
  build,
  ensureChromium,
  ensureModules,
  freePort,
  runTypeScript,
  startServer,
} from './lib.mjs';

ensureModules();
ensureChromium();
if (!process.env.BUILT) build();
const { url, stop } = await startServer(await freePort());
process.env.VERSE_LOOM_URL = url;
try {
  const asked = ['--json', '--kill'].map((flag) => process.argv.includes(flag));
  const holds = await runTypeScript('bench/main.ts', ...asked);
  process.exitCode = holds ? 0 : 1;
} finally {
  stop();
}
