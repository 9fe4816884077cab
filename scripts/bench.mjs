/**
 * npm run bench: figures as ratios within one run. `-- --json` ends with one JSON object; `-- --kill`
 * measures only what is lost by pages that are killed, closed or left at work, `-- --only NAME` one group.
 */
import {
  build,
  ensureChromium,
  ensureModules,
  freePort,
  runTypeScript,
  startServer,
} from './lib.mjs';
import { TIMES } from './steps.mjs';

ensureModules();
ensureChromium();
const at = process.argv.indexOf('--only');
const only = at < 0 ? undefined : (process.argv[at + 1] ?? '');
if (!process.env.BUILT) build();
const { url, stop } = await startServer(await freePort());
process.env.VERSE_LOOM_URL = url;
process.env.CHECK_TIMES = TIMES;
try {
  const asked = ['--json', '--kill'].map((flag) => process.argv.includes(flag));
  const holds = await runTypeScript('bench/main.ts', ...asked, only);
  process.exitCode = holds ? 0 : 1;
} finally {
  stop();
}
