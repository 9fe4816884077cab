/** npm run demo: installs what is missing, builds, and serves the demo. */
import { build, ensureModules, startServer } from './lib.mjs';

ensureModules({ checks: false });
build();
const port = Number(process.env.PORT ?? 3000);
try {
  const { url, server } = await startServer(port, ['ignore', 'ignore', 'inherit']);
  const { HOST } = process.env;
  const who = HOST && HOST !== 'localhost' ? `, for whoever reaches this machine at ${HOST}` : '';
  console.log(`\nVerse Loom is at ${url}${who}\n`);
  for (const signal of ['SIGINT', 'SIGTERM']) process.on(signal, () => server.kill(signal));
  server.on('exit', (code) => process.exit(code ?? 0));
} catch (error) {
  console.error(error.message);
  process.exit(1);
}
