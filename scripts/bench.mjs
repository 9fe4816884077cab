/** npm run bench: figures as ratios within one run. `-- --json` ends with one JSON object. */
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
  const holds = await runTypeScript('bench/main.ts', process.argv.includes('--json'));
  process.exitCode = holds ? 0 : 1;
} finally {
  stop();
}
