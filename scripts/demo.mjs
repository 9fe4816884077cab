/** npm run demo: installs what is missing, builds, and serves the demo. */
import { build, ensureModules, startServer } from './lib.mjs';

ensureModules({ checks: false });
build();
const port = Number(process.env.PORT ?? 3000);
try {
  const { url, server } = await startServer(port, ['ignore', 'ignore', 'inherit']);
  const { HOST = 'localhost' } = process.env;
  const open =
    HOST === 'localhost' ? '' : ', and open to whoever reaches this machine by its network';
  console.log(`\nVerse Loom is at ${url}${open}\n`);
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
  server.on('exit', (code) => process.exit(code ?? 0));
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
