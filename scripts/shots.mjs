/** npm run shots: retakes docs/screenshots/ from the demo data at 1280 by 800. */
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
  await runTypeScript('e2e/shots.ts');
} finally {
  stop();
}
